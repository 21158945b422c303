//! Into how many pots: none outlives its life, overfills its vessel or passes the sheet's mass, none is a silly rest.

use crate::limits;
use crate::pot_life::LAST_CALL_FROM;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What limits a pot.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PotLimits {
    /// Sprayed in a minute, as planned.
    pub rate_ml_min: f64,
    /// Life at the temperature it will have; missing: it does not age.
    pub life_s: Option<f64>,
    /// Induction there.
    pub induction_s: f64,
    /// What the vessel may be filled to.
    pub fill_ml: Option<f64>,
    /// Mass the sheet's pot life was measured on.
    pub life_mass_g: Option<f64>,
    /// Density of the finished mix.
    pub density_kg_l: f64,
    /// Stirring, straining and pouring in, between the first hardener and the gun.
    pub handling_s: f64,
}

/// Why a pot is no larger.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum Because {
    /// The job needs no more.
    #[strum(serialize = "the job needs no more")]
    Need,
    /// It would not be sprayed out before its last call.
    #[strum(serialize = "a larger pot would reach its last call before it is sprayed out")]
    Life,
    /// The vessel holds no more.
    #[strum(serialize = "the vessel holds no more")]
    Fill,
    /// Its life was measured on this mass.
    #[strum(serialize = "the sheet's pot life was measured on this mass")]
    Mass,
}

impl Worded for Because {}

/// One pot of the split; seconds from the start of spraying, before it is negative.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlannedPot {
    /// Finished paint in it.
    pub ml: f64,
    /// Hardener goes in no later than this, or the gun waits.
    pub mix_by_s: f64,
    /// It is sprayed from.
    pub from_s: f64,
    /// It is empty.
    pub to_s: f64,
    /// Its last call.
    pub last_call_s: Option<f64>,
}

/// Most pots of one job.
pub const MOST_POTS: usize = 60;
/// Rounding of a division is no reason for one pot more.
const SLACK: f64 = 1e-9;

/// Splits a need into equal pots and counts their mix-by times back by induction.
///
/// **Formula:** the largest pot is the least of need, fill limit, `mass/ρ`, and `rate × (0.9·life − induction −
/// handling)`; as many equal pots as that needs. **Units:** mL, seconds. **Source:** common practice in the trade (the
/// last tenth of a life is not planned with); arithmetic.
/// **Errors:** a refusal, when induction and handling leave no time to spray, or the pots are too many.
///
/// ```
/// use level_keel_core::mixing::{PotLimits, split};
/// let limits = PotLimits { rate_ml_min: 100.0, life_s: Some(4.0 * 3600.0), induction_s: 900.0, fill_ml: Some(2000.0),
///     life_mass_g: None, density_kg_l: 1.3, handling_s: 0.0 };
/// let (pots, _) = split(5000.0, &limits, Default::default()).unwrap();
/// assert_eq!(pots.len(), 3);
/// assert!((pots.iter().map(|p| p.ml).sum::<f64>() - 5000.0).abs() < 1e-6);
/// assert_eq!(pots[1].mix_by_s, pots[0].to_s - 900.0);
/// ```
pub fn split(need_ml: f64, by: &PotLimits, prefs: Prefs) -> Result<(Vec<PlannedPot>, Because), Refusal> {
    limits::AMOUNT.check("need_ml", need_ml, prefs)?;
    limits::SPRAY_RATE.check("rate_ml_min", by.rate_ml_min, prefs)?;
    limits::AMOUNT.check_optional("fill_ml", by.fill_ml, prefs)?;
    let rate = by.rate_ml_min / 60.0;
    let ahead = by.induction_s + by.handling_s;
    let mut most = (need_ml, Because::Need);
    let mut at_most = |ml: f64, why| {
        if ml < most.0 * (1.0 - SLACK) {
            most = (ml, why);
        }
    };
    if let Some(fill) = by.fill_ml {
        at_most(fill, Because::Fill);
    }
    if let Some(g) = by.life_mass_g {
        at_most(g / by.density_kg_l, Because::Mass);
    }
    if let Some(life) = by.life_s {
        let spraying = LAST_CALL_FROM * life - ahead;
        if spraying <= 0.0 {
            return Err(Refusal::bad_input(
                "no-time-to-spray",
                "temp_c",
                "Induction and handling use the life up: at this temperature no pot can be sprayed. Cool the material.",
            ));
        }
        at_most(spraying * rate, Because::Life);
    }
    let count = (need_ml / most.0 - SLACK).ceil().max(1.0);
    if count > MOST_POTS as f64 {
        return Err(Refusal::bad_input(
            "too-many-pots",
            "rate_ml_min",
            format!("That would be {count:.0} pots, since {}. Look at rate, vessel and temperature.", most.1.word()),
        ));
    }
    let ml = need_ml / count;
    let each_s = ml / rate;
    let pots = (0..count as usize).map(|i| {
        let from_s = i as f64 * each_s;
        let mix_by_s = from_s - ahead;
        PlannedPot { ml, mix_by_s, from_s, to_s: from_s + each_s, last_call_s: by.life_s.map(|l| mix_by_s + LAST_CALL_FROM * l) }
    });
    Ok((pots.collect(), most.1))
}
