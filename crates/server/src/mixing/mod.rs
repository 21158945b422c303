//! What-ifs of mixing, that store nothing: two ways beside each other, the marks of a cup, a strip to print.

use crate::auth::Person;
use crate::books::http::looked;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, post, web};
use level_keel_core::batch::StationName;
use level_keel_core::batch::view::{CupLines, WayToMix, WhatIf, cup_lines, what_if};
use level_keel_core::mixing::{Cup, Mark, PrintedCup, marks, off_g};
use level_keel_core::quantity::{Prefs, QuantityKind, Shown, resolve, show};
use level_keel_core::refusal::Refusal;
use level_keel_core::takeoff::{self, TakeOffShape};
use level_keel_core::wire::read;
use level_keel_core::working::Working;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::fmt::Write;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// One way as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedWay {
    /// `plan` (as of a `plan_mix`) and `temp_c`; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::WayToMixTyped)]
    pub way: Value,
}

/// A batch's coat done another way.
#[utoipa::path(operation_id = "mixing_what_if", tag = "mixing", params(("id" = Uuid, Path)), request_body = TypedWay,
    responses((status = 200, body = WhatIf), (status = 404), (status = 422)))]
#[post("/compute/mixing/what-if/{id}")]
pub async fn try_way(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<TypedWay>) -> Answer<WhatIf> {
    let mut way = body.into_inner().way;
    resolve(&mut way, person.prefs)?;
    let way: WayToMix = read(way)?;
    let looked = looked(&state, *id, StationName::Mix).await?;
    Ok(web::Json(what_if(&looked.case(), &way, person.prefs)?))
}

/// Shapes as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedTakeOff {
    /// A list of pieces; quantities as numbers or texts.
    #[schema(value_type = Vec<crate::openapi::TakeOffShapeTyped>)]
    pub takeoff: Value,
}

/// The area of some shapes.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TakenOff {
    pub area: Shown,
    pub from: Shown,
    pub to: Shown,
    pub working: Working,
}

/// The area of a take-off.
#[utoipa::path(operation_id = "mixing_takeoff", tag = "mixing", request_body = TypedTakeOff, responses((status = 200, body = TakenOff), (status = 422)))]
#[post("/compute/mixing/takeoff")]
pub async fn take_off(person: Person, body: web::Json<TypedTakeOff>) -> Answer<TakenOff> {
    let mut typed = serde_json::json!({ "takeoff": body.into_inner().takeoff });
    resolve(&mut typed, person.prefs)?;
    let pieces: Vec<TakeOffShape> = read(typed["takeoff"].take())?;
    let (m2, working) = takeoff::area(&pieces, person.prefs)?;
    let say = |v| show(v, QuantityKind::Area, person.prefs);
    Ok(web::Json(TakenOff { area: say(m2.value), from: say(m2.lo), to: say(m2.hi), working }))
}

/// A cup as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedCup {
    /// `floor_mm`, `rim_mm`, `height_mm`; as numbers or texts.
    #[schema(value_type = crate::openapi::CupTyped)]
    pub cup: Value,
}

/// A mark, for people.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MarkView {
    pub name: String,
    pub level: Shown,
    pub level_mm: f64,
    /// How wide the cup is there.
    pub width_mm: f64,
    /// What the mark may be off, beside what the scale may be.
    pub off: Shown,
}

/// What a pour on a scale may be off.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ScaleOff {
    pub apart: Shown,
    pub running: Shown,
}

/// The marks of a pot's plan on a cup.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Marked {
    pub cup: Cup,
    /// What a pour on the shop's finest scale may be off instead: weighed apart, and as a running total.
    pub scale_off: Option<ScaleOff>,
    pub marks: Vec<MarkView>,
}

fn marked(
    record: &level_keel_core::batch::Record,
    charge: Uuid,
    cup: &Cup,
    prefs: Prefs,
) -> Result<Vec<(String, Mark)>, Problem> {
    let sheet = &record.aim().ok_or(Problem::NotFound("batch"))?.sheet;
    let pot = record.charge(charge).ok_or(Problem::NotFound("pot"))?;
    Ok(marks(cup, &record.plan(pot), prefs)?.into_iter().map(|m| (sheet.component_name(m.pour.component), m)).collect())
}

/// Level marks of a pot on a cup.
#[utoipa::path(operation_id = "mixing_marks", tag = "mixing", params(("id" = Uuid, Path), ("charge" = Uuid, Path)), request_body = TypedCup,
    responses((status = 200, body = Marked), (status = 404), (status = 422)))]
#[post("/compute/mixing/marks/{id}/{charge}")]
pub async fn mark(
    state: web::Data<State>,
    person: Person,
    path: web::Path<(Uuid, Uuid)>,
    body: web::Json<TypedCup>,
) -> Answer<Marked> {
    let (book, charge) = path.into_inner();
    let mut typed = serde_json::json!({ "cup": body.into_inner().cup });
    resolve(&mut typed, person.prefs)?;
    let cup: Cup = read(typed["cup"].take())?;
    let looked = looked(&state, book, StationName::Mix).await?;
    // A mark is set with a ruler: to the millimetre, whatever the reader's inches round to.
    let view = |(name, m): (String, Mark)| MarkView {
        name,
        level: show(m.level_mm, QuantityKind::Length, Prefs::METRIC),
        level_mm: m.level_mm,
        width_mm: cup.width_mm(m.level_mm),
        off: show(m.off_g, QuantityKind::Mass, person.prefs),
    };
    let marks = marked(&looked.case(), charge, &cup, person.prefs)?.into_iter().map(view).collect();
    let finest = sqlx::query_scalar!("select min(resolution) from instrument where kind = 'scale'").fetch_one(&state.db).await?;
    let say = |g| show(g, QuantityKind::Mass, person.prefs);
    let scale_off = finest.map(|d| ScaleOff { apart: say(off_g(d, true)), running: say(off_g(d, false)) });
    Ok(web::Json(Marked { cup, scale_off, marks }))
}

/// A printed cup as typed, or as it is kept.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedLines {
    /// The cup; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::PrintedCupTyped)]
    pub cup: Value,
}

/// The lines of a printed cup that a pot is filled to, and what they can prove.
#[utoipa::path(operation_id = "mixing_lines", tag = "mixing", params(("id" = Uuid, Path), ("charge" = Uuid, Path)), request_body = TypedLines,
    responses((status = 200, body = CupLines), (status = 404), (status = 422)))]
#[post("/compute/mixing/lines/{id}/{charge}")]
pub async fn lines(
    state: web::Data<State>,
    person: Person,
    path: web::Path<(Uuid, Uuid)>,
    body: web::Json<TypedLines>,
) -> Answer<CupLines> {
    let (book, charge) = path.into_inner();
    let mut typed = serde_json::json!({ "cup": body.into_inner().cup });
    resolve(&mut typed, person.prefs)?;
    let cup: PrintedCup = read(typed["cup"].take())?;
    let looked = looked(&state, book, StationName::Mix).await?;
    let at_cup = |r: Refusal| match r.field.clone() {
        Some(field) if field != "charge" => r.at(&format!("cup.{field}")),
        _ => r,
    };
    Ok(web::Json(cup_lines(&looked.case(), charge, cup, person.prefs).map_err(at_cup)?))
}

/// Margins of the strip, and its width.
const MARGIN_MM: f64 = 8.0;
const WIDE_MM: f64 = 60.0;

/// A strip of the marks in true size, to print without scaling and stand in or beside the cup. On a tapered cup it is
/// held against the wall: heights are along the slope.
#[utoipa::path(operation_id = "mixing_strip", tag = "mixing", params(("id" = Uuid, Path), ("charge" = Uuid, Path), CupAsked),
    responses((status = 200, content_type = "image/svg+xml"), (status = 404), (status = 422)))]
#[get("/batches/{id}/charges/{charge}/strip.svg")]
pub async fn strip(
    state: web::Data<State>,
    person: Person,
    path: web::Path<(Uuid, Uuid)>,
    cup: web::Query<CupAsked>,
) -> Result<HttpResponse, Problem> {
    let (book, charge) = path.into_inner();
    let cup = cup.into_inner().cup();
    let looked = looked(&state, book, StationName::Mix).await?;
    let marks = marked(&looked.case(), charge, &cup, person.prefs)?;
    let no = looked.case().charge(charge).map_or(0, |c| c.no);
    Ok(HttpResponse::Ok().content_type("image/svg+xml").body(drawn(&cup, &marks, no)?))
}

/// The cup in a query.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct CupAsked {
    floor_mm: f64,
    rim_mm: f64,
    height_mm: f64,
}

impl CupAsked {
    fn cup(&self) -> Cup {
        Cup { floor_mm: self.floor_mm, rim_mm: self.rim_mm, height_mm: self.height_mm }
    }
}

fn drawn(cup: &Cup, marks: &[(String, Mark)], no: i64) -> Result<String, Problem> {
    let fault = |e: std::fmt::Error| Problem::Fault(e.to_string());
    let tall = cup.along_wall_mm(cup.height_mm);
    let (long, wide) = (tall + 2.0 * MARGIN_MM, WIDE_MM);
    let y = |level_mm: f64| MARGIN_MM + tall - cup.along_wall_mm(level_mm);
    let mut svg = String::new();
    write!(
        svg,
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{wide}mm\" height=\"{long:.2}mm\" viewBox=\"0 0 {wide} {long:.2}\" \
         font-family=\"sans-serif\" font-size=\"3.4\"><rect x=\"0.2\" y=\"{MARGIN_MM}\" width=\"{:.1}\" height=\"{:.2}\" fill=\"none\" \
         stroke=\"black\" stroke-width=\"0.3\"/><text x=\"2\" y=\"5\">Pot {no}: print at 100 %, foot on the floor of the cup</text>",
        wide - 0.4,
        tall
    )
    .map_err(fault)?;
    for (name, here) in marks {
        let at = y(here.level_mm);
        let level = show(here.level_mm, QuantityKind::Length, Prefs::METRIC).text;
        write!(
            svg,
            "<line x1=\"0.2\" x2=\"{:.1}\" y1=\"{at:.2}\" y2=\"{at:.2}\" stroke=\"black\" stroke-width=\"0.5\"/>\
             <text x=\"2\" y=\"{:.2}\">{} to here, {level}</text>",
            wide - 0.4,
            at - 1.0,
            escape(name)
        )
        .map_err(fault)?;
    }
    svg.push_str("</svg>");
    Ok(svg)
}

/// Names are typed by people: nothing of them is markup.
fn escape(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;")
}
