//! Clocks that follow temperature: life, age, state of a mixed pot.

use crate::sheets::Sheet;
use crate::sheets::times::Curve;
use crate::worded::Worded;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Pot life at a temperature from one sheet value.
///
/// **Formula:** halves for every 10 °C hotter, `t = t₀·2^((T₀−T)/10)`; hotter shortens without limit,
/// colder lengthens to at most twice the sheet value. **Units:** seconds, °C.
/// **Source:** common practice in the trade. **Check:** 4 h at 21.1 °C → 1.85 h at 32.2 °C.
///
/// ```
/// let t = level_keel_core::pot_life::life_s(4.0 * 3600.0, 20.0, 30.0);
/// assert_eq!(t, 2.0 * 3600.0);
/// ```
pub fn life_s(sheet_life_s: f64, sheet_at_c: f64, temp_c: f64) -> f64 {
    Curve::through([(sheet_at_c, sheet_life_s)]).map_or(0.0, |c| c.life_s(temp_c))
}

/// Induction at a temperature from one sheet value: longer when colder (to twice), never shorter than the sheet.
///
/// **Source:** common practice in the trade; the safe side of the rule for life.
/// **Rule:** [`Curve::induction_s`] through one value. **Units:** s, °C.
///
/// ```
/// use level_keel_core::pot_life::induction_s;
/// assert_eq!(induction_s(1200.0, 20.0, 20.0), 1200.0);
/// assert_eq!(induction_s(1200.0, 20.0, 30.0), 1200.0);
/// assert_eq!(induction_s(1200.0, 20.0, -10.0), 2400.0);
/// ```
pub fn induction_s(sheet_induction_s: f64, sheet_at_c: f64, temp_c: f64) -> f64 {
    Curve::through([(sheet_at_c, sheet_induction_s)]).map_or(0.0, |c| c.induction_s(temp_c))
}

/// A temperature held from an instant on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct HeldTemperature {
    /// From when.
    pub from: Timestamp,
    /// The temperature.
    pub temp_c: f64,
}

/// A pot's own reading is believed for this long; from memory.
pub const POT_READING_FRESH_S: f64 = 15.0 * 60.0;
/// A reading of the material at its can is believed for this long; from memory.
pub const CAN_READING_FRESH_S: f64 = 60.0 * 60.0;

/// Which of two temperatures counts where the nearer reading is stale.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SafeSide {
    /// What ages a pot.
    Hotter,
    /// What induction and cure wait for.
    Colder,
}

/// Readings of one place in time order, and how long each is believed.
#[derive(Debug, Clone, Copy)]
pub struct Place<'a> {
    /// What was read there.
    pub readings: &'a [HeldTemperature],
    /// How long one is believed.
    pub fresh_s: f64,
}

/// The temperatures that count, of readings from the nearest place to the farthest.
///
/// **Rule:** the nearest reading that is fresh stands alone. Where the nearer is stale, the hotter of it and of what stands
/// behind it ages the pot, and the colder counts for induction. A reading further off never overrules a nearer fresh one.
/// **Units:** °C held from instants on. **Source:** common practice in the trade; how long one is fresh, from memory.
pub fn nearest(places: &[Place<'_>], side: SafeSide) -> Vec<HeldTemperature> {
    let mut edges: Vec<Timestamp> =
        places.iter().flat_map(|p| p.readings.iter().flat_map(|h| [h.from, after(h.from, p.fresh_s)])).collect();
    edges.sort();
    edges.dedup();
    edges.into_iter().filter_map(|from| at_instant(places, side, from).map(|temp_c| HeldTemperature { from, temp_c })).collect()
}

fn at_instant(places: &[Place<'_>], side: SafeSide, at: Timestamp) -> Option<f64> {
    let (place, further) = places.split_first()?;
    let Some(read) = place.readings.iter().rev().find(|h| h.from <= at) else { return at_instant(further, side, at) };
    if at.duration_since(read.from).as_secs_f64() < place.fresh_s {
        return Some(read.temp_c);
    }
    let behind = at_instant(further, side, at).unwrap_or(read.temp_c);
    Some(match side {
        SafeSide::Hotter => read.temp_c.max(behind),
        SafeSide::Colder => read.temp_c.min(behind),
    })
}

/// The temperature that held at `at`: the last one entered before, else the first after, else none.
///
/// **Rule:** as said. **Units:** °C. **Source:** ours: a temperature holds until another is read.
pub fn temperature_at(history: &[HeldTemperature], at: Timestamp) -> Option<f64> {
    history.iter().rev().find(|h| h.from <= at).or(history.first()).map(|h| h.temp_c)
}

/// Age of a pot between two instants as a fraction of its life: spent at 1.
///
/// **Formula:** `∫ dt / PL(T)`, the temperature held between entries. Where none is known `usual_c`,
/// the sheet's own temperature, stands in. **Check:** 1 h at 20 °C + 1 h at 30 °C on a 4 h sheet at 20 °C → 0.75.
/// **Units:** °C, instants; a part of the life. **Source:** the sum of parts of a life, as kinetics add.
pub fn age(life: &Curve, usual_c: f64, history: &[HeldTemperature], from: Timestamp, to: Timestamp) -> f64 {
    if to <= from {
        return 0.0;
    }
    let mut edges: Vec<Timestamp> = history.iter().map(|h| h.from).filter(|t| *t > from && *t < to).collect();
    edges.sort();
    edges.insert(0, from);
    edges.push(to);
    edges
        .windows(2)
        .map(|w| {
            let temp = temperature_at(history, w[0]).unwrap_or(usual_c);
            w[1].duration_since(w[0]).as_secs_f64() / life.life_s(temp)
        })
        .sum()
}

/// The state of a pot.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum PotState {
    /// No B yet: nothing ages.
    #[strum(serialize = "Filling")]
    Filling,
    /// B is in, not yet stirred.
    #[strum(serialize = "Stir it")]
    Mixing,
    /// Stirred, induction running.
    #[strum(serialize = "Inducting")]
    Inducting,
    /// May be sprayed.
    #[strum(serialize = "Ready")]
    Ready,
    /// Last quarter of its life.
    #[strum(serialize = "Watch")]
    Watch,
    /// Last tenth.
    #[strum(serialize = "Last call")]
    LastCall,
    /// Life used up.
    #[strum(serialize = "Spent")]
    Spent,
    /// No second component: does not age.
    #[strum(serialize = "Open")]
    Open,
}

impl Worded for PotState {}

/// The last quarter of a life is watched. Common practice in the trade.
pub const WATCH_FROM: f64 = 0.75;
/// The last tenth is the last call.
pub const LAST_CALL_FROM: f64 = 0.90;

/// What a clock says of a pot at an instant.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Clocked {
    /// Its state.
    pub state: PotState,
    /// Age, spent at 1.
    pub age: f64,
    /// Age gained in a second at the present temperature.
    pub age_per_s: f64,
    /// When it will be spent at the present temperature.
    pub spent_at: Timestamp,
    /// When induction ends, if it was stirred.
    pub induction_ends: Option<Timestamp>,
}

/// When an induction that began at `stirred` is over.
///
/// **Formula:** `∫ dt / I(T) = 1`, the temperature held between readings, the last one from then on. **Units:** °C, instants.
/// **Source:** derived from the rule of [`induction_s`]; stirred warm and then cooled takes longer, never shorter than the
/// sheet. `usual_c` stands in where no temperature is known.
pub fn induction_ends(induction: &Curve, usual_c: f64, history: &[HeldTemperature], stirred: Timestamp) -> Timestamp {
    let mut edges: Vec<Timestamp> = history.iter().map(|h| h.from).filter(|t| *t > stirred).collect();
    edges.sort();
    let (mut from, mut done) = (stirred, 0.0);
    for edge in edges {
        let wait_s = induction.induction_s(temperature_at(history, from).unwrap_or(usual_c));
        let part = edge.duration_since(from).as_secs_f64() / wait_s;
        if done + part >= 1.0 {
            break;
        }
        (from, done) = (edge, done + part);
    }
    after(from, (1.0 - done) * induction.induction_s(temperature_at(history, from).unwrap_or(usual_c)))
}

/// The temperatures a pot's clocks follow.
#[derive(Debug, Clone, Copy)]
pub struct Temperatures<'a> {
    /// What ages it.
    pub hotter: &'a [HeldTemperature],
    /// What its induction waits for.
    pub colder: &'a [HeldTemperature],
}

impl<'a> Temperatures<'a> {
    /// One history for both.
    pub fn same(history: &'a [HeldTemperature]) -> Temperatures<'a> {
        Temperatures { hotter: history, colder: history }
    }
}

/// Reads the clocks of a mixed pot. `None` when the sheet gives no life.
pub fn clock(
    sheet: &Sheet,
    held: Temperatures<'_>,
    combined: Timestamp,
    stirred: Option<Timestamp>,
    now: Timestamp,
) -> Option<Clocked> {
    let (life, at_c) = (sheet.life_curve()?, sheet.pot_life_at_c?);
    let aged = age(&life, at_c, held.hotter, combined, now);
    let temp_now = temperature_at(held.hotter, now).unwrap_or(at_c);
    let rate = 1.0 / life.life_s(temp_now);
    let spent_at = after(now, (1.0 - aged) / rate);
    let induction_ends = stirred.map(|s| sheet.induction_curve().map_or(s, |curve| induction_ends(&curve, at_c, held.colder, s)));
    let state = match induction_ends {
        _ if aged >= 1.0 => PotState::Spent,
        None => PotState::Mixing,
        Some(end) if now < end => PotState::Inducting,
        Some(_) if aged >= LAST_CALL_FROM => PotState::LastCall,
        Some(_) if aged >= WATCH_FROM => PotState::Watch,
        Some(_) => PotState::Ready,
    };
    Some(Clocked { state, age: aged, age_per_s: rate, spent_at, induction_ends })
}

/// An instant some seconds later (or earlier), held inside what a timestamp can say.
pub fn after(at: Timestamp, seconds: f64) -> Timestamp {
    let held = seconds.clamp(-4e9, 4e9);
    at.checked_add(SignedDuration::from_secs_f64(held)).unwrap_or(at)
}
