//! The fluid line over the wire: what a pressure gives, what a flow or a stream takes, and through what else.

use crate::auth::Person;
use crate::books::http::looked;
use crate::problem::Answer;
use crate::state::State;
use actix_web::{post, web};
use level_keel_core::batch::StationName;
use level_keel_core::batch::view::{AskLine, LineAsked, ask};
use level_keel_core::quantity::resolve;
use level_keel_core::wire::read;
use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A question to the line, as typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedLine {
    /// As [`AskLine`]; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::AskLineTyped)]
    pub line: Value,
}

/// The line of a batch's rig asked both ways: one of pressure, flow and stream; through another nozzle or hose, with another
/// paint.
#[utoipa::path(operation_id = "delivery_line", tag = "delivery", params(("id" = Uuid, Path)), request_body = TypedLine,
    responses((status = 200, body = LineAsked), (status = 404), (status = 409), (status = 422)))]
#[post("/compute/delivery/line/{id}")]
pub async fn line(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<TypedLine>) -> Answer<LineAsked> {
    let mut typed = body.into_inner().line;
    resolve(&mut typed, person.prefs)?;
    let asked: AskLine = read(typed)?;
    let looked = looked(&state, *id, StationName::Set).await?;
    let case = looked.case();
    let bend_mm = case.bend_mm(person.id);
    Ok(web::Json(ask(&case, &asked, bend_mm, state.clock.now(), person.prefs)?))
}
