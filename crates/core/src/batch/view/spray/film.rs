//! The film as Spray shows it: of the last reading, of every zone, by use, and whether they agree.

use crate::batch::case::Case;
use crate::batch::film_zones::{ZoneRead, ZoneState};
use crate::film::{dry_of_wet_um, less};
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::sheets::FilmProof;
use crate::verdict::{Level, Measured, Tolerance, Verdict};
use crate::worded::Worded;
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The film of a zone so far.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ZoneFilm {
    pub id: Option<Uuid>,
    pub name: String,
    pub wet: Option<Shown>,
    pub word: String,
    /// Readings of its last pass, of those that prove it: `2 of 3`; missing where another proof is asked.
    pub readings: Option<String>,
}

/// One pass, judged by itself.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct JudgedPass {
    pub(super) band: Tolerance,
    pub(super) verdict: Verdict,
    pub(super) text: String,
}

/// The pass of a reading against the band of the first or of a later one; `None` where the sheet states none, or one between was not read.
///
/// **Rule:** judged at once. Over: wait longer, and the next ones lighter; under, with film still wanted: one more light pass.
/// **Units:** µm. **Source:** the sheet; common practice in the trade.
pub(super) fn judged_pass(case: &Case<'_>, read: &ZoneRead, prefs: Prefs) -> Option<JudgedPass> {
    let first = read.after_pass == 1;
    let band = case.pass_band(first).filter(|_| read.of_passes == 1)?;
    let verdict = band.judge(read.pass_um);
    let say = |um: f64| show(um, QuantityKind::Film, prefs).text;
    let which = if first { "first pass" } else { "this pass" };
    let text = match verdict {
        Verdict::In => format!("{which} in"),
        Verdict::High => {
            let most = band.hi.map_or(String::new(), say);
            format!("{which} too heavy, {most} at the most: wait until it looks ready, go lighter and faster")
        }
        Verdict::Low => format!("{which} thin: slower, or one more light pass"),
        Verdict::CannotTell => format!("{which} near its limit: hold this pace, look again"),
    };
    Some(JudgedPass { band, verdict, text })
}

pub(super) fn advice(total: Measured, min: f64, max: f64, prefs: Prefs) -> String {
    match Tolerance::between(min, max).judge(total) {
        Verdict::In => "in: let it flash, then look again".into(),
        Verdict::High => "too heavy: stop, let it level, do not add".into(),
        Verdict::Low | Verdict::CannotTell if total.lo < min => {
            let wants = less(Measured::between(min, min), total);
            let say = |um: f64| show(um, QuantityKind::Film, prefs);
            format!("one more pass of {} or so", say(wants.hi.max(1.0)).text)
        }
        Verdict::Low | Verdict::CannotTell => "near its most: no more on this place".into(),
    }
}

type Levels = (Option<Level>, Option<Level>, Option<Level>, Option<Working>);

pub(in crate::batch::view) fn levels(case: &Case<'_>, prefs: Prefs) -> Levels {
    let (Some(aim), Some(read)) = (case.aim(), case.newest_read()) else { return (None, None, None, None) };
    let sheet = &aim.sheet;
    let vs = case.finished_solids_pct();
    let draw = |label: &str, m: Measured, tol: Tolerance| {
        Level::draw(label, m, tol, case.wet_aim_um(), QuantityKind::Film, prefs).as_interval(m, QuantityKind::Film, prefs)
    };
    let band = Tolerance::between(sheet.wet_min_um, sheet.wet_max_um);
    let drawn = draw("Total wet so far", read.total_um, band);
    // With a pass between that nobody measured the total is at least this: over it may be told, in it may not.
    let open = read.open_ended && band.judge(Measured::pm(read.total_um.lo, 0.0)) != Verdict::High;
    let total = if open { drawn.ruled_by(Verdict::CannotTell) } else { drawn };
    let judged = judged_pass(case, &read, prefs);
    let pass_band = judged.as_ref().map_or(Tolerance::at_most(sheet.wet_max_um), |j| j.band);
    let first = if read.after_pass == 1 { "First pass" } else { "This pass" };
    let pass = draw(first, read.pass_um, pass_band);
    let pass = judged.into_iter().fold(pass, |pass, j| pass.ruled_by(j.verdict).advise(j.text));
    let dry_um = read.total_um.map(|um| dry_of_wet_um(um, vs));
    let dry_tol = Tolerance::between(dry_of_wet_um(sheet.wet_min_um, vs), dry_of_wet_um(sheet.wet_max_um, vs));
    let dry = draw("Dry, predicted", dry_um, dry_tol);
    let mut w = Working::new("Film", "ASTM D4414 comb: above the last wetted tooth, below the next. Dry = wet × volume solids");
    let solids = show(vs, QuantityKind::Percent, prefs).text;
    w.line("Wet, at the least", "last wetted tooth", read.total_um.lo, QuantityKind::Film, prefs);
    w.line("Wet, at the most", "next tooth", read.total_um.hi, QuantityKind::Film, prefs);
    w.line(
        "Dry, middle",
        format!("{} × {solids} finished solids", show(read.total_um.value, QuantityKind::Film, prefs).text),
        dry_um.value,
        QuantityKind::Film,
        prefs,
    );
    (Some(pass), Some(total), Some(dry), Some(w))
}

pub(super) fn interval(m: Measured, prefs: Prefs) -> Shown {
    Level::draw("", m, Tolerance { lo: None, hi: None }, 1.0, QuantityKind::Film, prefs)
        .as_interval(m, QuantityKind::Film, prefs)
        .shown
}

pub(super) fn zones(case: &Case<'_>, prefs: Prefs) -> Vec<ZoneFilm> {
    let Some(aim) = case.aim() else { return Vec::new() };
    let band = Tolerance::between(aim.sheet.wet_min_um, aim.sheet.wet_max_um);
    let by_comb = case.film_proof() == FilmProof::Comb;
    let one = |zone: ZoneState| {
        let newest = zone.reads.last();
        let word = match newest {
            None => String::new(),
            Some(_) if zone.open_ended && band.judge(Measured::pm(zone.at_least_um(), 0.0)) != Verdict::High => {
                "not proved".into()
            }
            Some(r) => band.judge(r.total_um).word().into(),
        };
        let readings = (by_comb && zone.passes > 0).then(|| format!("{} of {}", zone.last.len().min(zone.asked), zone.asked));
        ZoneFilm { id: zone.id, name: zone.name, wet: newest.map(|r| interval(r.total_um, prefs)), word, readings }
    };
    case.film_by_zone(None).into_iter().map(one).collect()
}
