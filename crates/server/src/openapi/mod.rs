//! The description of the wire: what every request takes and every answer gives, made from the code that reads and writes it.
//!
//! What an entry carries is described kind by kind from the registries of core, as a browser sends it: quantities as numbers in
//! the unit of their field's name or as typed, and nothing of what the server or core fills in.

mod bodies;
mod entries;
mod typed;

pub use bodies::*;
pub use entries::*;

use crate::problem::ProblemBody;
use actix_web::http::StatusCode;
use serde_json::{Value, json};
use utoipa::OpenApi;
use utoipa_actix_web::{AppExt, service_config::ServiceConfig};

// What only parameters name is not found by itself.
#[derive(OpenApi)]
#[openapi(
    info(
        title = "Level Keel",
        description = "Request fields whose names end in a unit take a number in that unit or a text as typed; answers give `shown` texts in the reader's units."
    ),
    components(schemas(level_keel_core::batch::StationName, ProblemBody))
)]
struct Doc;

/// The OpenAPI document of a route table.
pub fn describe(api: fn(&mut ServiceConfig)) -> Value {
    let (_, mut doc) = actix_web::App::new().into_utoipa_app().openapi(Doc::openapi()).configure(api).split_for_parts();
    doc.info.title = "Level Keel".into();
    doc.info.license = None;
    doc.info.version = env!("CARGO_PKG_VERSION").into();
    let mut doc = serde_json::to_value(doc).unwrap_or_default();
    for operation in operations(&mut doc) {
        let Some(responses) = operation["responses"].as_object_mut() else { continue };
        responses.insert("default".into(), json!({ "description": "It was refused, or broke; the problem says why." }));
        for (status, response) in responses {
            if !status.starts_with('2') {
                response["content"] =
                    json!({ "application/problem+json": { "schema": { "$ref": "#/components/schemas/ProblemBody" } } });
            }
            if response["description"].as_str().is_none_or(str::is_empty) {
                response["description"] = meaning(status).into();
            }
        }
    }
    doc
}

fn operations(doc: &mut Value) -> impl Iterator<Item = &mut Value> {
    let paths = doc["paths"].as_object_mut().into_iter().flat_map(|paths| paths.values_mut());
    paths.flat_map(|path| path.as_object_mut().into_iter().flat_map(|methods| methods.values_mut()))
}

/// What a status says here.
fn meaning(status: &str) -> &'static str {
    match status {
        "200" => "The answer.",
        "204" => "Done; nothing to say.",
        "401" => "Nobody is signed in.",
        "403" => "Not in this role.",
        "404" => "There is no such thing.",
        "409" => "It does not go with what stands there now.",
        "413" => "Too large.",
        "422" => "A field cannot be read, or a rule refuses it; the problem names both.",
        "429" => "Too many tries; wait.",
        other => other.parse().ok().and_then(|s: StatusCode| s.canonical_reason()).unwrap_or("Another answer."),
    }
}
