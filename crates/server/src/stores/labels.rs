//! QR codes that open a lot.

use crate::auth::Person;
use crate::problem::Problem;
use crate::state::State;
use actix_web::{HttpRequest, HttpResponse, get, web};
use qrcode::render::svg;
use qrcode::{EcLevel, QrCode};
use uuid::Uuid;

/// The QR code of a lot as a picture: the address of its page on this server.
#[utoipa::path(operation_id = "lots_qr", tag = "stores", params(("id" = Uuid, Path)), responses((status = 200, content_type = "image/svg+xml"), (status = 404)))]
#[get("/lots/{id}/qr.svg")]
pub async fn qr(
    state: web::Data<State>,
    _person: Person,
    request: HttpRequest,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, Problem> {
    sqlx::query!("select id from lot where id = $1", *id).fetch_optional(&state.db).await?.ok_or(Problem::NotFound("lot"))?;
    let scheme = if state.settings.behind_tls { "https" } else { "http" };
    let host = request.headers().get("host").and_then(|h| h.to_str().ok()).unwrap_or("localhost").to_string();
    let text = format!("{scheme}://{host}/stores/{}", *id);
    // A label gets scratched: a quarter of it may be lost.
    let code = QrCode::with_error_correction_level(text, EcLevel::Q).map_err(|e| Problem::Fault(e.to_string()))?;
    let picture = code.render::<svg::Color<'_>>().min_dimensions(240, 240).quiet_zone(true).build();
    Ok(HttpResponse::Ok().content_type("image/svg+xml").body(picture))
}
