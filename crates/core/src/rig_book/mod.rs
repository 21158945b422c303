//! The book of a rig: inspected, cleaned, its tip changed.

mod book;
mod paper;
mod payload;
mod wear;

pub use book::{RigBeside, RigBook};
pub use paper::{LimitsRenewed, PaperProof};
use payload::IN_THE_STREAM;
pub use payload::*;
pub use wear::{Sprayed, TipFlow, WearPoint, WearView, sprayed_kg, tip_wear, wear_over_new_pct, wear_points, worn_watch_pct};

use crate::atomizing::tips::{TipRow, decode};
use crate::book::{Carries, LedgerKind, Strike, kinds};
use crate::care::{self, RigState};
use crate::limits::{self, check_text};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::rigs::may_press;
use crate::worded::Worded;
use serde_json::Value;

kinds! {
    /// Kinds of entry in the book of a rig.
    enum RigEntryKind;
    /// What an entry in the book of a rig says, decoded.
    enum RigEntry;

    /// Looked over: hoses without kinks, no leaks, relief and gauge sound.
    Inspected: Inspected,
    /// Flushed and cleaned.
    Cleaned: Remark,
    /// Another nozzle or tip fitted.
    Fitted: Fitted,
    /// Hose, pump, filter or packing exchanged for another alike.
    Exchanged: Exchanged,
    /// Its figures put down or changed: plate, relief, hoses, gun. The server writes it.
    Changed: Changed,
    /// What its tip lets through, caught.
    TipFlow: TipFlow,
    /// A step of a shut-down.
    ShutStep: ShutStep,
    /// An item of the care lists.
    Cared: Cared,
    /// A proof of the ratio from an old paper card.
    PaperProof: PaperProof,
    /// Control limits taken anew.
    LimitsRenewed: LimitsRenewed,
    /// A note.
    Note: Remark,
    /// An entry is struck.
    Strike: Strike,
}

impl LedgerKind for RigEntryKind {
    const STRIKE: RigEntryKind = RigEntryKind::Strike;

    fn carries(self) -> Carries {
        self.carried()
    }

    fn written_inside(self) -> Option<&'static str> {
        (self == RigEntryKind::Changed).then_some("The figures of a rig are changed on its page.")
    }
}

impl RigEntry {
    /// Reads an entry and checks it by today's limits: what is new is judged, what was written is only read.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn new(kind: RigEntryKind, value: &Value, prefs: Prefs) -> Result<RigEntry, Refusal> {
        let entry = RigEntry::decode(kind, kind.version(), value)?;
        entry.check(prefs)?;
        Ok(entry)
    }

    /// Every figure inside the limits of sense, every text readable.
    fn check(&self, prefs: Prefs) -> Result<(), Refusal> {
        let text = |t: &Option<String>| t.as_deref().map(|t| check_text("text", t, limits::TEXT_CHARS)).transpose();
        match self {
            RigEntry::Inspected(i) if !i.sound => {
                check_text("text", i.text.as_deref().unwrap_or(""), limits::TEXT_CHARS)?;
            }
            RigEntry::Inspected(i) => drop(text(&i.text.clone().filter(|t| !t.trim().is_empty()))?),
            RigEntry::Cleaned(s) => drop(text(&s.text.clone().filter(|t| !t.trim().is_empty()))?),
            RigEntry::Note(s) => {
                check_text("text", s.text.as_deref().unwrap_or(""), limits::TEXT_CHARS)?;
            }
            RigEntry::Fitted(f) => {
                limits::NOZZLE.check_optional("nozzle_mm", f.nozzle_mm, prefs)?;
                if f.nozzle_mm.is_none() && f.tip_code.as_deref().is_none_or(|c| c.trim().is_empty()) {
                    return Err(Refusal::bad_input("missing", "nozzle_mm", "Which nozzle or tip?"));
                }
            }
            RigEntry::TipFlow(f) => f.check(prefs)?,
            RigEntry::ShutStep(s) => {
                check_text("step", &s.step, limits::LABEL_CHARS)?;
                limits::GAUGE.check_optional("gauge_kpa", s.gauge_kpa, prefs)?;
            }
            RigEntry::Cared(c) => drop(check_text("item", &c.item, limits::LABEL_CHARS)?),
            RigEntry::Exchanged(e) => drop(text(&e.text.clone().filter(|t| !t.trim().is_empty()))?),
            RigEntry::PaperProof(p) => p.check(prefs)?,
            RigEntry::LimitsRenewed(r) => drop(check_text("reason", &r.reason, limits::TEXT_CHARS)?),
            // Its figures are checked with the shop's tips before it is made.
            RigEntry::Changed(_) => {}
            RigEntry::Strike(s) => s.has_a_reason()?,
        }
        Ok(())
    }

    /// What was exchanged in the way of the paint, in words that end a sentence; a proof of the ratio does not outlive it.
    pub fn exchanged(&self) -> Option<String> {
        match self {
            RigEntry::Fitted(_) => Some("another nozzle or tip is fitted".into()),
            RigEntry::Exchanged(e) => Some(format!("the {} was exchanged", e.piece.word())),
            RigEntry::Changed(c) if c.before.is_some() => {
                let moved = c.figures().into_iter().any(|(field, ..)| IN_THE_STREAM.contains(&field.as_str()));
                moved.then(|| "hose, nozzle, tip or gun of the rig were changed".into())
            }
            RigEntry::Changed(_)
            | RigEntry::Inspected(_)
            | RigEntry::Cleaned(_)
            | RigEntry::TipFlow(_)
            | RigEntry::ShutStep(_)
            | RigEntry::Cared(_)
            | RigEntry::PaperProof(_)
            | RigEntry::LimitsRenewed(_)
            | RigEntry::Note(_)
            | RigEntry::Strike(_) => None,
        }
    }

    /// Solvent went through it.
    fn flushes(&self) -> bool {
        match self {
            RigEntry::Cleaned(_) => true,
            RigEntry::ShutStep(s) => s.step == "flush",
            RigEntry::Cared(c) => c.item == "flushed_new",
            RigEntry::Inspected(_)
            | RigEntry::Fitted(_)
            | RigEntry::Exchanged(_)
            | RigEntry::Changed(_)
            | RigEntry::TipFlow(_)
            | RigEntry::PaperProof(_)
            | RigEntry::LimitsRenewed(_)
            | RigEntry::Note(_)
            | RigEntry::Strike(_) => false,
        }
    }

    /// Whether it may be written of a rig that stands so.
    ///
    /// **Errors:** a stop for what opens it under pressure; a refusal naming the field.
    pub fn may(&self, state: &RigState, tips: &[TipRow], prefs: Prefs) -> Result<(), Refusal> {
        match self {
            RigEntry::Fitted(f) => {
                if let Some(code) = f.tip_code.as_deref().filter(|c| !c.trim().is_empty()) {
                    decode(code, tips)?;
                }
                state.may_open(prefs)
            }
            RigEntry::TipFlow(_) if !state.rig.kind.is_tipped() => {
                let text = format!("A {} has no airless tip: its nozzle is measured.", state.rig.kind.word());
                Err(Refusal::bad_input("no-such-place", "pot_kpa", text))
            }
            RigEntry::TipFlow(f) => may_press(state.rig, "pot_kpa", f.pot_kpa, prefs),
            RigEntry::ShutStep(s) => state.may_step(&s.step, s.gauge_kpa, prefs),
            RigEntry::Cared(c) => state.may_care(&c.item, prefs),
            RigEntry::Exchanged(e) if e.piece != ExchangedPiece::Filter => state.may_open(prefs),
            // Its figures were judged with the shop's tips before it was made.
            RigEntry::Changed(_)
            | RigEntry::Exchanged(_)
            | RigEntry::Inspected(_)
            | RigEntry::Cleaned(_)
            | RigEntry::PaperProof(_)
            | RigEntry::LimitsRenewed(_)
            | RigEntry::Note(_)
            | RigEntry::Strike(_) => Ok(()),
        }
    }

    /// With what only the server knows: what it exchanges, the words of a step, what the transmitter reads.
    #[must_use]
    pub fn filled(mut self, state: &RigState) -> RigEntry {
        let (rig, was_new) = (state.rig, state.rig.unflushed && self.flushes());
        match &mut self {
            RigEntry::Fitted(f) => {
                f.before = Some(FittedBefore { nozzle_mm: rig.nozzle_mm, tip_code: rig.tip_code.clone() });
            }
            RigEntry::Cleaned(s) => s.was_new = was_new,
            RigEntry::ShutStep(s) => {
                s.live_kpa = state.live_kpa;
                s.word = care::step(rig, &s.step).map_or(String::new(), |x| x.word.into());
                s.was_new = was_new;
            }
            RigEntry::Cared(c) => {
                c.word = care::item(rig, &c.item).map_or(String::new(), |x| x.word.into());
                c.was_new = was_new;
            }
            RigEntry::Inspected(_)
            | RigEntry::Exchanged(_)
            | RigEntry::Changed(_)
            | RigEntry::TipFlow(_)
            | RigEntry::PaperProof(_)
            | RigEntry::LimitsRenewed(_)
            | RigEntry::Note(_)
            | RigEntry::Strike(_) => {}
        }
        self
    }

    /// As it is stored.
    ///
    /// **Errors:** none that a checked entry can cause.
    pub fn payload(&self) -> Result<Value, serde_json::Error> {
        match self {
            RigEntry::Inspected(x) => serde_json::to_value(x),
            RigEntry::Cleaned(x) | RigEntry::Note(x) => serde_json::to_value(x),
            RigEntry::Fitted(x) => serde_json::to_value(x),
            RigEntry::Exchanged(x) => serde_json::to_value(x),
            RigEntry::Changed(x) => serde_json::to_value(x),
            RigEntry::TipFlow(x) => serde_json::to_value(x),
            RigEntry::ShutStep(x) => serde_json::to_value(x),
            RigEntry::Cared(x) => serde_json::to_value(x),
            RigEntry::PaperProof(x) => serde_json::to_value(x),
            RigEntry::LimitsRenewed(x) => serde_json::to_value(x),
            RigEntry::Strike(x) => serde_json::to_value(x),
        }
    }

    /// In words.
    pub fn words(&self, prefs: Prefs) -> String {
        let with = |t: &Option<String>| t.as_deref().filter(|t| !t.trim().is_empty()).map_or(String::new(), |t| format!(": {t}"));
        match self {
            RigEntry::Inspected(i) if i.sound => format!("Inspected, sound{}", with(&i.text)),
            RigEntry::Inspected(i) => format!("Inspected, not sound{}", with(&i.text)),
            RigEntry::Cleaned(s) => format!("Cleaned{}", with(&s.text)),
            RigEntry::Fitted(f) => {
                let nozzle = f.nozzle_mm.map(|mm| format!("nozzle {}", show(mm, QuantityKind::Nozzle, prefs).text));
                let tip = f.tip_code.as_deref().filter(|c| !c.trim().is_empty()).map(|c| format!("tip {c}"));
                format!("Fitted {}", [nozzle, tip].into_iter().flatten().collect::<Vec<_>>().join(", "))
            }
            RigEntry::Exchanged(e) => format!("The {} exchanged{}", e.piece.word(), with(&e.text)),
            RigEntry::Changed(c) if c.before.is_none() => format!("Written down as {}", c.rig.name),
            RigEntry::Changed(c) => {
                let figures = c.figures();
                let said: Vec<String> = figures.iter().map(|(field, had, is)| changed_words(field, had, is, prefs)).collect();
                let retired = if c.retired { "; not used any more" } else { "" };
                format!("Changed: {}{retired}", if said.is_empty() { "nothing of its figures".into() } else { said.join("; ") })
            }
            RigEntry::TipFlow(f) => format!(
                "The tip let through {} at {}",
                show(f.flow_ml_min(), QuantityKind::Flow, prefs).text,
                show(f.pot_kpa, QuantityKind::Pressure, prefs).text
            ),
            RigEntry::ShutStep(s) => {
                let gauge =
                    s.gauge_kpa.map_or(String::new(), |kpa| format!(" ({})", show(kpa, QuantityKind::Pressure, prefs).text));
                format!("{}{gauge}", s.word)
            }
            RigEntry::Cared(c) => c.word.clone(),
            RigEntry::PaperProof(p) => format!(
                "From a card: A {} to B {}",
                show(p.a_g, QuantityKind::Mass, prefs).text,
                show(p.b_g, QuantityKind::Mass, prefs).text
            ),
            RigEntry::LimitsRenewed(r) => format!("Control limits taken anew: {}", r.reason),
            RigEntry::Note(s) => s.text.clone().unwrap_or_default(),
            RigEntry::Strike(s) => format!("Struck: {}", s.reason),
        }
    }
}

/// A changed field: what was, what is, in the reader's units.
fn changed_words(field: &str, had: &Value, is: &Value, prefs: Prefs) -> String {
    let say = |v: &Value| match (v, QuantityKind::of_field(field)) {
        (Value::Null, _) => "none".to_string(),
        (Value::Bool(b), _) => if *b { "yes" } else { "no" }.to_string(),
        (Value::Number(n), Some(kind)) => n.as_f64().map_or_else(|| n.to_string(), |x| show(x, kind, prefs).text),
        (Value::String(text), _) => text.clone(),
        (Value::Array(all), Some(kind)) => {
            all.iter().filter_map(Value::as_f64).map(|x| show(x, kind, prefs).text).collect::<Vec<_>>().join(", ")
        }
        (other, _) => other.to_string(),
    };
    let name = QuantityKind::of_field(field).and_then(|_| field.rsplit_once('_')).map_or(field, |(name, _)| name);
    if field == "pieces" {
        return "pieces".into();
    }
    format!("{} {} to {}", name.replace('_', " "), say(had), say(is))
}
