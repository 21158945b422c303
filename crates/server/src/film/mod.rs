//! Film over the wire: laps laid side by side, gun speed solved.

use crate::auth::Person;
use crate::problem::Answer;
use actix_web::{post, web};
use level_keel_core::film::laps::{FanProfile, even_section, from_above, ripple_pct, spread_pct};
use level_keel_core::film::speed::{Lap, solve};
use level_keel_core::quantity::{QuantityKind, Shown, resolve, show, show_duration};
use level_keel_core::wire::read;
use level_keel_core::working::Working;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

/// Laps as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedLap {
    /// `flow_ml_min`, `fan_mm`, `overlap_pct`, `gun_speed_m_s`, `wet_um`: one left out; `transfer_pct`; as numbers or texts.
    #[schema(value_type = crate::openapi::LapTyped)]
    pub lap: Value,
    /// How the fan lays its paint.
    #[serde(default)]
    pub profile: FanProfile,
    /// Area the time is asked for.
    #[serde(default)]
    pub area_m2: Option<f64>,
}

/// Gun speed and laps, solved.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LapView {
    pub flow: Shown,
    pub fan: Shown,
    pub overlap: Shown,
    pub gun_speed: Shown,
    pub wet: Shown,
    /// Trigger time for the area.
    pub time: Option<String>,
    /// Film across two spacings, of its mean.
    pub section: Vec<f64>,
    /// One lap alone, across the same width; the picture lays them side by side.
    pub spacing_of_fan: f64,
    pub ripple: Shown,
    /// The film from above, rows of places, of its mean: one coat, and a cross coat.
    pub one_coat: Vec<Vec<f64>>,
    pub cross_coat: Vec<Vec<f64>>,
    /// Unevenness of one coat and of a cross coat.
    pub spread: Shown,
    pub spread_crossed: Shown,
    /// The overlap that suits this fan.
    pub even_at: Shown,
    pub words: String,
    pub working: Working,
}

/// Solves gun speed and film for the one left out, and draws the laps.
#[utoipa::path(operation_id = "film_laps", tag = "film", request_body = TypedLap, responses((status = 200, body = LapView), (status = 422)))]
#[post("/compute/film/laps")]
pub async fn laps(person: Person, body: web::Json<TypedLap>) -> Answer<LapView> {
    let TypedLap { mut lap, profile, area_m2 } = body.into_inner();
    resolve(&mut lap, person.prefs)?;
    let (solved, working) = solve(&read::<Lap>(lap)?, person.prefs)?;
    let say = |v, k| show(v, k, person.prefs);
    Ok(web::Json(LapView {
        flow: say(solved.flow_ml_min, QuantityKind::Flow),
        fan: say(solved.fan_mm, QuantityKind::Length),
        overlap: say(solved.overlap_pct, QuantityKind::Percent),
        gun_speed: say(solved.gun_speed_m_s, QuantityKind::Speed),
        wet: say(solved.wet_um, QuantityKind::Film),
        time: area_m2.filter(|m2| *m2 > 0.0).map(|m2| show_duration(solved.time_s(m2))),
        section: even_section(profile, solved.overlap_pct, SECTION_POINTS),
        spacing_of_fan: 1.0 - solved.overlap_pct / 100.0,
        one_coat: from_above(profile, solved.overlap_pct, false, PLACES),
        cross_coat: from_above(profile, solved.overlap_pct, true, PLACES),
        ripple: say(ripple_pct(profile, solved.overlap_pct), QuantityKind::Percent),
        spread: say(spread_pct(profile, solved.overlap_pct, false), QuantityKind::Percent),
        spread_crossed: say(spread_pct(profile, solved.overlap_pct, true), QuantityKind::Percent),
        even_at: say(profile.even_at_pct(), QuantityKind::Percent),
        words: profile.reason().into(),
        working,
    }))
}

/// Points of the drawn section, one spacing.
const SECTION_POINTS: usize = 60;
/// Places along a side of the film seen from above.
const PLACES: usize = 24;
