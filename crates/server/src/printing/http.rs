//! The card and a trace as PDF.

use super::print;
use crate::auth::Person;
use crate::books::http::{card_told, open_card};
use crate::checkpoints::http::said;
use crate::export::download_bytes;
use crate::labels::{address_of, drawn};
use crate::problem::Problem;
use crate::state::State;
use crate::stores::files::small;
use crate::trace::http::{Asked, as_table, told};
use crate::trace::store::{IN_A_TABLE, ON_PAPER};
use actix_web::{HttpRequest, HttpResponse, get, web};
use base64::Engine;
use base64::prelude::BASE64_STANDARD;
use level_keel_core::scan::{ThingKind, path};
use level_keel_core::trace::TraceOf;
use serde_json::{Map, Value, json};
use std::collections::BTreeSet;
use uuid::Uuid;

/// Photos of one card at most: a page holds no more that can be looked at.
const MOST_PHOTOS: usize = 12;

/// The hashes of all photos that a card's looks show, in their order.
fn photos_of(looks: &Value, into: &mut Vec<String>) {
    match looks {
        Value::Object(map) => {
            into.extend(map.get("sha256").and_then(Value::as_str).map(String::from));
            map.values().for_each(|one| photos_of(one, into));
        }
        Value::Array(all) => all.iter().for_each(|one| photos_of(one, into)),
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => {}
    }
}

/// The card on one or two pages, as PDF/A with the card attached as data.
#[utoipa::path(operation_id = "card_pdf", tag = "batch", params(("id" = Uuid, Path)), responses((status = 200, content_type = "application/pdf"), (status = 404), (status = 503)))]
#[get("/batches/{id}/card.pdf")]
pub async fn card(
    state: web::Data<State>,
    person: Person,
    request: HttpRequest,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, Problem> {
    let card = card_told(&state, &person, *id).await?;
    let open = open_card(&state, *id).await?;
    let way = path(ThingKind::Card, *id, None).ok_or(Problem::NotFound("card"))?;
    let code = drawn(&address_of(&state, &request, &way))?;
    let mut shown = Vec::new();
    photos_of(&card["view"]["close"]["accept"]["look"], &mut shown);
    let mut photos = Map::new();
    for sha256 in shown.into_iter().collect::<BTreeSet<_>>().into_iter().take(MOST_PHOTOS) {
        if let Some((_, bytes)) = small(&state.db, &sha256).await? {
            photos.insert(sha256, BASE64_STANDARD.encode(bytes).into());
        }
    }
    // A signed card is the same file whenever it is printed.
    let signed = [&card["accepted"]["at"], &card["signed"]["at"]].into_iter().find_map(Value::as_str).map(String::from);
    let name = format!("level-keel-card-{:04}", open.number);
    let job = json!({
        "what": "card", "document": card, "zone": state.shop.zone_name(), "paper": state.settings.print_paper,
        "made": signed.unwrap_or_else(|| state.clock.now().to_string()),
        "checkpoint": said(&state, *id).await?, "code": { "dots": code.dots, "path": code.path }, "photos": photos,
        "attached": { "name": format!("{name}.json"), "mime": "application/json", "text": serde_json::to_string_pretty(&open)? },
    });
    Ok(download_bytes("application/pdf", &format!("{name}.pdf"), print(&state.settings, &job).await?))
}

/// A recall list as PDF/A, with the same list attached as a table.
#[utoipa::path(operation_id = "trace_pdf", tag = "records", params(Asked), responses((status = 200, content_type = "application/pdf"), (status = 403), (status = 404), (status = 422), (status = 503)))]
#[get("/trace.pdf")]
pub async fn trace(state: web::Data<State>, person: Person, asked: web::Query<Asked>) -> Result<HttpResponse, Problem> {
    let all = as_table(&told(&state, &person, &asked, IN_A_TABLE).await?)?.text()?;
    let told = told(&state, &person, &asked, ON_PAPER).await?;
    let name = format!("level-keel-trace-{}", <&str>::from(told.of as TraceOf));
    let job = json!({
        "what": "trace", "document": told, "zone": state.shop.zone_name(), "paper": state.settings.print_paper,
        "made": state.clock.now().to_string(),
        "attached": { "name": format!("{name}.csv"), "mime": "text/csv", "text": all },
    });
    Ok(download_bytes("application/pdf", &format!("{name}.pdf"), print(&state.settings, &job).await?))
}
