//! What a printed label says, and how large it is. Its code holds the address of the thing on this server.

use crate::batch::Case;
use crate::pot_life::PotState;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::rigs::Rig;
use crate::scan::ThingKind;
use crate::worded::{VariantArray, Worded};
use jiff::Timestamp;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Labels printed at once at most.
pub const MOST_LABELS: usize = 60;

/// Least edge of one dot of a printed code, in millimetres: finer ones are lost on a dusty can. Common practice, from memory.
pub const LEAST_DOT_MM: f64 = 0.4;

/// Paper that labels are printed on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum LabelPaper {
    /// Three by eight on a sheet.
    #[strum(serialize = "70 × 36 mm, 24 on an A4 sheet")]
    Sheet,
    /// One after the other.
    #[strum(serialize = "100 × 50 mm, off a roll")]
    Roll,
}

impl Worded for LabelPaper {}

/// A paper with its measures.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PaperSize {
    pub paper: LabelPaper,
    pub word: &'static str,
    pub width_mm: f64,
    pub height_mm: f64,
    /// Edge of the code with its quiet margin.
    pub code_mm: f64,
}

impl LabelPaper {
    /// Its measures, and those of the code on it. **Units:** mm. **Source:** papers as they are sold, common practice; the code ours.
    pub fn size(self) -> PaperSize {
        let (width_mm, height_mm, code_mm) = match self {
            LabelPaper::Sheet => (70.0, 36.0, 25.0),
            LabelPaper::Roll => (100.0, 50.0, 40.0),
        };
        PaperSize { paper: self, word: self.word(), width_mm, height_mm, code_mm }
    }

    /// All of them.
    pub fn sizes() -> Vec<PaperSize> {
        LabelPaper::VARIANTS.iter().map(|p| p.size()).collect()
    }
}

/// An instant on a label, read in the time of the shop.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct LabelTime {
    /// What happened or ends then.
    pub word: &'static str,
    /// When.
    pub at: Timestamp,
}

/// What stands on a label.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Label {
    /// Of what it is.
    pub is: ThingKind,
    /// Read from two steps away.
    pub heading: String,
    /// Under it, the most needed first.
    pub lines: Vec<String>,
    /// Instants, for a pot.
    pub times: Vec<LabelTime>,
    /// What endangers, in the words of the sheet.
    pub caution: Option<String>,
}

/// So much of a hash tells two heads apart by eye.
const HEAD_SIGNS: usize = 12;

impl Label {
    fn new(is: ThingKind, heading: impl Into<String>, lines: Vec<String>) -> Label {
        let lines = lines.into_iter().filter(|l| !l.trim().is_empty()).collect();
        Label { is, heading: heading.into(), lines, times: Vec::new(), caution: None }
    }
}

/// A lot, as its label names it.
#[derive(Debug, Clone, Default)]
#[allow(missing_docs)]
pub struct LotFacts {
    pub code: String,
    pub product: String,
    pub component: String,
    pub colour: Option<String>,
    pub makers_lot: Option<String>,
    pub expires: Option<Date>,
}

/// The label of a lot.
pub fn of_lot(lot: &LotFacts) -> Label {
    let colour = lot.colour.as_ref().map_or(String::new(), |c| format!(", {c}"));
    let lines = vec![
        lot.product.clone(),
        format!("{}{colour}", lot.component),
        lot.makers_lot.as_ref().map_or(String::new(), |m| format!("maker’s lot {m}")),
        lot.expires.map_or("no expiry known".into(), |d| format!("good until {d}")),
    ];
    Label::new(ThingKind::Lot, &lot.code, lines)
}

/// The label of a part: its short label large, its coats in order.
pub fn of_part(name: &str, label: &str, coats: &[String]) -> Label {
    let whole = if label == name { String::new() } else { name.into() };
    Label::new(ThingKind::Part, label, vec![whole, coats.join(", then ")])
}

/// The label of a rig: what it is, what it bears, its hose and gun. **Units:** those of the reader who prints it.
pub fn of_rig(rig: &Rig, prefs: Prefs) -> Label {
    let text = |value: f64, kind| show(value, kind, prefs).text;
    let rated = rig.rating_kpa.map_or(String::new(), |kpa| format!("rated {}", text(kpa, QuantityKind::Pressure)));
    let bore = rig.hose_bore_mm.map(|mm| text(mm, QuantityKind::Bore));
    let length = rig.hose_length_mm.map(|mm| text(mm, QuantityKind::Length));
    let hose = bore.into_iter().chain(length).collect::<Vec<_>>().join(", ");
    let hose = if hose.is_empty() { hose } else { format!("hose {hose}") };
    Label::new(ThingKind::Rig, &rig.name, vec![rig.kind.word().into(), rated, hose, rig.gun.clone()])
}

/// The label of a card: it opens the card, and says of which head of the log the paper beside it was made.
pub fn of_card(case: &Case<'_>) -> Option<Label> {
    let aim = case.aim()?;
    let head: String = case.log.head_hash.chars().take(HEAD_SIGNS).collect();
    let lines = vec![format!("batch {:04}", aim.number), format!("entry {}", case.log.head_seq), format!("head {head}")];
    Some(Label::new(ThingKind::Card, format!("{} · {}", aim.part_label, aim.coat_name), lines))
}

/// The label of a mixed pot, to be tied to it: what is in it, when it was mixed and when it dies as it stands now.
///
/// **Rule:** the end of its life is what the clock says at `now`. A warmer pot dies earlier, so the label says that the rack rules.
/// A pot that is still filled, not stirred, spent or closed has no times, and says so first. Nothing for a charge that is not there. **Source:** ours.
pub fn of_pot(case: &Case<'_>, charge: Uuid, now: Timestamp) -> Option<Label> {
    let aim = case.aim()?;
    let charge = case.charges.iter().find(|c| c.id == charge)?;
    let mut codes: Vec<&str> = Vec::new();
    for lot in charge.pours.iter().filter_map(|p| p.it.lot.as_ref()) {
        if !codes.contains(&lot.code.as_str()) {
            codes.push(&lot.code);
        }
    }
    let clock = case.clock(charge, now);
    let usable = clock.filter(|_| charge.closed.is_none());
    let (first, usable) = match (&charge.closed, clock.map(|c| c.state)) {
        (Some(_), _) => ("closed: not to be used", None),
        (None, Some(PotState::Filling) | None) if aim.sheet.has_hardener => ("not mixed yet", None),
        (None, Some(PotState::Mixing)) => ("not stirred yet: not to be used", None),
        (None, Some(PotState::Spent)) => ("spent: not to be used", None),
        (None, Some(PotState::Inducting | PotState::Ready | PotState::Watch | PotState::LastCall)) => ("", usable),
        (None, Some(PotState::Filling | PotState::Open) | None) => ("", None),
    };
    let lots = if codes.is_empty() { String::new() } else { format!("lots {}", codes.join(", ")) };
    let lines = vec![first.into(), format!("{} · {}", aim.part_label, aim.coat_name), aim.sheet.name.clone(), lots];
    let mut label = Label::new(ThingKind::Pot, format!("Pot {}", charge.no), lines);
    if let (Some(clock), Some(mixed)) = (usable, charge.combined()) {
        label.times.push(LabelTime { word: "mixed", at: mixed });
        label.times.extend(clock.induction_ends.map(|at| LabelTime { word: "not before", at }));
        label.times.push(LabelTime { word: "use by", at: clock.spent_at });
        label.lines.push("sooner if warm: see the rack".into());
    }
    let hazards: Vec<&str> = aim.sheet.hazards.iter().map(|h| h.word()).collect();
    label.caution = Some(hazards.join(", ")).filter(|h| !h.is_empty());
    Some(label)
}
