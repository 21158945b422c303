//! Film over the wire: laps laid side by side, gun speed solved.

use crate::auth::Person;
use crate::problem::Answer;
use actix_web::{post, web};
use level_keel_core::film::laps::{
    FanProfile, even_of_fade_pct, even_section, even_section_of_fade, from_above, from_above_of_fade, ripple_of_fade_pct,
    ripple_pct, spread_of_fade_pct, spread_pct,
};
use level_keel_core::film::pace::{PaceAsked, click_s, measured_m_s};
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
    let lap = read::<Lap>(lap)?;
    let fade = lap.fade()?;
    let (solved, working) = solve(&lap, person.prefs)?;
    let over = solved.overlap_pct;
    let above = |crossed| match fade {
        Some(fade) => from_above_of_fade(fade, over, crossed, PLACES),
        None => from_above(profile, over, crossed, PLACES),
    };
    let spread = |crossed| match fade {
        Some(fade) => spread_of_fade_pct(fade, over, crossed),
        None => spread_pct(profile, over, crossed),
    };
    let say = |v, k| show(v, k, person.prefs);
    Ok(web::Json(LapView {
        flow: say(solved.flow_ml_min, QuantityKind::Flow),
        fan: say(solved.fan_mm, QuantityKind::Length),
        overlap: say(solved.overlap_pct, QuantityKind::Percent),
        gun_speed: say(solved.gun_speed_m_s, QuantityKind::Speed),
        wet: say(solved.wet_um, QuantityKind::Film),
        time: area_m2.filter(|m2| *m2 > 0.0).map(|m2| show_duration(solved.time_s(m2))),
        section: match fade {
            Some(fade) => even_section_of_fade(fade, over, SECTION_POINTS),
            None => even_section(profile, over, SECTION_POINTS),
        },
        spacing_of_fan: 1.0 - solved.overlap_pct / 100.0,
        one_coat: above(false),
        cross_coat: above(true),
        ripple: say(fade.map_or_else(|| ripple_pct(profile, over), |fade| ripple_of_fade_pct(fade, over)), QuantityKind::Percent),
        spread: say(spread(false), QuantityKind::Percent),
        spread_crossed: say(spread(true), QuantityKind::Percent),
        even_at: say(fade.map_or_else(|| profile.even_at_pct(), even_of_fade_pct), QuantityKind::Percent),
        words: match fade {
            Some(fade) => format!(
                "By the card {} of the fan fades on each side: its laps lie even where they overlap by that.",
                say(100.0 * fade, QuantityKind::Percent).text
            ),
            None => profile.reason().into(),
        },
        working,
    }))
}

/// The pace of the gun by ear.
#[derive(Debug, Serialize, ToSchema)]
pub struct PaceView {
    /// Seconds from one click to the next, each at the end of a stroke.
    pub click_s: Option<f64>,
    /// The same in words.
    pub click: Option<String>,
    /// The speed the strokes had, with its interval.
    pub measured: Option<Shown>,
    /// From where to where it may be.
    pub between: Option<String>,
}

/// Clicks at the end of each stroke for a speed wanted; the speed that strokes of a known width had.
#[utoipa::path(operation_id = "film_pace", tag = "film", request_body = crate::openapi::PaceAskedTyped, responses((status = 200, body = PaceView), (status = 422)))]
#[post("/compute/film/pace")]
pub async fn pace(person: Person, body: web::Json<Value>) -> Answer<PaceView> {
    let mut asked = body.into_inner();
    resolve(&mut asked, person.prefs)?;
    let asked: PaceAsked = read(asked)?;
    let say = |v| show(v, QuantityKind::Speed, person.prefs).text;
    let click = asked.gun_speed_m_s.map(|v| click_s(asked.width_mm, v, person.prefs)).transpose()?;
    let strokes = asked.stroke_count.zip(asked.stroked_watch_s);
    let measured = strokes.map(|(n, s)| measured_m_s(n, asked.width_mm, s, person.prefs)).transpose()?;
    Ok(web::Json(PaceView {
        click_s: click,
        click: click.map(|s| show(s, QuantityKind::Stopwatch, person.prefs).text),
        measured: measured.map(|v| show(v.value, QuantityKind::Speed, person.prefs)),
        between: measured.map(|v| format!("{} to {}", say(v.lo), say(v.hi))),
    }))
}

/// Points of the drawn section, one spacing.
const SECTION_POINTS: usize = 60;
/// Places along a side of the film seen from above.
const PLACES: usize = 24;
