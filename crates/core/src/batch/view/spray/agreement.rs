//! The comb beside the film by use: do they agree, or which of area, transfer and comb is suspect.

use crate::batch::case::Case;
use crate::batch::film_zones::ZoneState;
use crate::quantity::Prefs;
use crate::ratio_check::Account;
use crate::verdict::Measured;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Whether comb and use agree.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FilmAgreement {
    pub agrees: bool,
    /// In words; where they do not agree what each would have to be, and which is suspect.
    pub text: String,
}

/// An area nobody gave an interval is off by so much of itself; from memory.
const AREA_OFF: f64 = 0.05;

/// Comb and use, once every pot is closed and every zone that was reached was read.
///
/// **Rule:** they agree where their intervals meet. Else the one is suspect whose own interval is the widest part of itself: it needs
/// the least of its width to make the rest agree. **Formula:** [`Account`]; the film is the mean of the zones by their areas.
/// **Units:** mL, m², µm, per cent. **Source:** interval arithmetic; the width of a plain area from memory.
pub fn film_agreement(case: &Case<'_>, films: &[ZoneState], prefs: Prefs) -> Option<FilmAgreement> {
    let reached: Vec<&ZoneState> = films.iter().filter(|z| z.passes > 0).collect();
    if !case.is_sprayed() || reached.iter().any(|z| z.open_ended) {
        return None;
    }
    let zones = case.zone_passes();
    let area = |of: &ZoneState| zones.iter().find(|z| z.id == of.id).map_or(0.0, |z| z.area_m2);
    let whole: f64 = reached.iter().map(|z| area(z)).sum();
    let nothing = Measured::pm(0.0, 0.0);
    let film = |z: &ZoneState| z.last.iter().map(|r| r.total_um).reduce(Measured::hull).unwrap_or(nothing);
    let wet_um = reached.iter().fold(nothing, |sum, z| {
        let share = area(z) / whole;
        let um = film(z);
        Measured { lo: sum.lo + um.lo * share, value: sum.value + um.value * share, hi: sum.hi + um.hi * share }
    });
    let stated = case.reached_m2(prefs)?;
    let area_m2 = if stated.hi > stated.lo { stated } else { Measured::pm(stated.value, AREA_OFF * stated.value) };
    let account = Account { went_ml: case.went_ml()?, area_m2, wet_um, transfer_pct: case.transfer_in_use_pct()? };
    if account.agrees() {
        return Some(FilmAgreement { agrees: true, text: format!("Comb and use agree: {}", account.words(None, prefs)) });
    }
    let wide = |m: Measured| (m.hi - m.lo) / m.value.max(f64::MIN_POSITIVE);
    let each =
        [("the transfer", wide(account.transfer_pct)), ("the area", wide(account.area_m2)), ("the comb", wide(account.wet_um))];
    let suspect = each.into_iter().max_by(|a, b| a.1.total_cmp(&b.1)).map_or("", |(name, _)| name);
    Some(FilmAgreement {
        agrees: false,
        text: format!("Comb and use do not agree. Look at {suspect} first. {}", account.words(None, prefs)),
    })
}
