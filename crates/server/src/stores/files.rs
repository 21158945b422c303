//! Papers and photos: kept once by their hash, known by what they are and not by what they say, sent as downloads.

use crate::auth::Person;
use crate::photos::anew;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::http::StatusCode;
use actix_web::http::header::{ContentDisposition, DispositionParam, DispositionType};
use actix_web::{HttpResponse, get, put, web};
use futures_util::StreamExt;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::limits::check_name;
use level_keel_core::pot_life::after;
use level_keel_core::refusal::Refusal;
use level_keel_core::stores::Attached;
use serde::Deserialize;
use sha2::{Digest, Sha256};
use sqlx::{PgConnection, PgPool};
use utoipa::IntoParams;
use uuid::Uuid;

/// Largest file.
const MOST_BYTES: usize = 10 * 1024 * 1024;
/// What a certificate may be.
pub const PAPERS: [&str; 2] = ["application/pdf", "image/png"];
/// What a photo may be.
pub const PHOTOS: [&str; 2] = ["image/png", "image/jpeg"];

/// Name of the file on its way in.
#[derive(Debug, Deserialize, IntoParams)]
pub struct Named {
    /// Its name, for people.
    pub name: String,
}

/// What a file is, by its first bytes; a name or a header may say anything.
fn media(bytes: &[u8]) -> Result<&'static str, Refusal> {
    let kind = infer::get(bytes).map(|k| k.mime_type());
    let refused = |text: &str| Err(Refusal::bad_input("wrong-file", "file", text));
    match kind {
        Some("image/heif" | "image/heic" | "image/avif") => {
            refused("This is a HEIC photo, which not every reader can open. Set the camera to JPEG, or send it as JPEG.")
        }
        Some("image/webp") => Ok("image/webp"),
        kind => match PAPERS.into_iter().chain(PHOTOS).find(|m| Some(*m) == kind) {
            Some(media) => Ok(media),
            None => refused("This is no PDF, PNG, JPEG or WebP, whatever its name says."),
        },
    }
}

/// Keeps a file of at most 10 MB: PDF, or a photo (JPEG, PNG, WebP), which is written anew without what a camera adds. The same
/// file twice is kept once.
#[utoipa::path(operation_id = "files_keep", tag = "stores", params(Named), request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses((status = 200, body = Attached), (status = 413), (status = 422)))]
#[put("/files")]
pub async fn keep(state: web::Data<State>, person: Person, named: web::Query<Named>, mut body: web::Payload) -> Answer<Attached> {
    let name = check_name("name", &named.name)?;
    has_room(&state, person.id).await?;
    let mut bytes = Vec::new();
    while let Some(chunk) = body.next().await {
        let chunk = chunk.map_err(|e| Problem::Request(StatusCode::BAD_REQUEST, format!("The file broke off: {e}.")))?;
        if bytes.len() + chunk.len() > MOST_BYTES {
            return Err(Problem::Request(StatusCode::PAYLOAD_TOO_LARGE, "A file may have at most 10 MB.".into()));
        }
        bytes.extend_from_slice(&chunk);
    }
    Ok(web::Json(put(&state.db, person.id, state.clock.now(), bytes, name).await?))
}

/// One person fills no disk: so much in a day, and then the owner is asked.
async fn has_room(state: &State, person: Uuid) -> Result<(), Problem> {
    let day_ago = after(state.clock.now(), -86_400.0);
    let kept = sqlx::query_scalar!(
        r#"select coalesce(sum(octet_length(bytes)), 0)::bigint as "kept!" from attachment where person_id = $1 and created > $2"#,
        person,
        day_ago.to_sqlx() as _
    )
    .fetch_one(&state.db)
    .await?;
    let most_mb = state.settings.files_a_day_mb;
    if u64::try_from(kept).unwrap_or(0) >= most_mb * 1024 * 1024 {
        let text = format!(
            "You kept {most_mb} MB of files within a day, which is the most for one person. Go on tomorrow, or ask the owner."
        );
        return Err(Refusal::conflict("files-full", text).into());
    }
    Ok(())
}

/// Keeps a file, whoever brings it.
pub async fn put(db: &PgPool, person: Uuid, now: Timestamp, bytes: Vec<u8>, name: String) -> Result<Attached, Problem> {
    let (media, bytes, small) = match media(&bytes)? {
        "application/pdf" => ("application/pdf", bytes, None),
        _ => {
            let photo = web::block(move || anew(&bytes)).await.map_err(|e| Problem::Fault(e.to_string()))??;
            (photo.media, photo.bytes, Some(photo.small))
        }
    };
    let sha256: String = Sha256::digest(&bytes).iter().map(|b| format!("{b:02x}")).collect();
    sqlx::query!(
        "insert into attachment (sha256, media, bytes, person_id, created, small) values ($1, $2, $3, $4, $5, $6) on conflict (sha256) do nothing",
        sha256,
        media,
        bytes,
        person,
        now.to_sqlx() as _,
        small,
    )
    .execute(db)
    .await?;
    Ok(Attached { sha256, name })
}

/// A file, to keep and not to run: always a download.
#[utoipa::path(operation_id = "files_get", tag = "stores", params(("sha256" = String, Path)), responses((status = 200), (status = 404)))]
#[get("/files/{sha256}")]
pub async fn get(state: web::Data<State>, _person: Person, sha256: web::Path<String>) -> Result<HttpResponse, Problem> {
    let row = sqlx::query!("select media, bytes from attachment where sha256 = $1", *sha256)
        .fetch_optional(&state.db)
        .await?
        .ok_or(Problem::NotFound("file"))?;
    let ending = row.media.rsplit('/').next().unwrap_or("bin");
    let name = format!("level-keel-{}.{ending}", &sha256[..12.min(sha256.len())]);
    let disposition =
        ContentDisposition { disposition: DispositionType::Attachment, parameters: vec![DispositionParam::Filename(name)] };
    Ok(HttpResponse::Ok()
        .content_type(row.media)
        .insert_header(disposition)
        .insert_header(("Content-Security-Policy", "sandbox"))
        .body(row.bytes))
}

/// The small picture of a kept photo with its kind; `None`: no photo of this hash is here.
pub async fn small(db: &PgPool, sha256: &str) -> Result<Option<(String, Vec<u8>)>, Problem> {
    let row = sqlx::query!(
        "select media, small, case when small is null then bytes end as bytes from attachment where sha256 = $1 and media like 'image/%'",
        sha256
    )
    .fetch_optional(db)
    .await?;
    Ok(row.and_then(|row| match (row.small, row.bytes) {
        (Some(small), _) => Some(("image/jpeg".into(), small)),
        (None, bytes) => bytes.map(|bytes| (row.media, bytes)),
    }))
}

/// A kept photo, shown small; one that was kept before there were small pictures is shown as it is.
#[utoipa::path(operation_id = "photo_small", tag = "stores", params(("sha256" = String, Path)), responses((status = 200), (status = 404)))]
#[get("/photos/{sha256}/small")]
pub async fn shown_small(state: web::Data<State>, _person: Person, sha256: web::Path<String>) -> Result<HttpResponse, Problem> {
    let (media, bytes) = small(&state.db, &sha256).await?.ok_or(Problem::NotFound("photo"))?;
    // Its name is its hash: it may be kept for ever, by this browser alone.
    Ok(HttpResponse::Ok()
        .content_type(media)
        .insert_header(("Cache-Control", "private, max-age=31536000, immutable"))
        .insert_header(("Content-Security-Policy", "sandbox"))
        .body(bytes))
}

/// A file named in an entry must be here, and be of a kind that fits.
pub async fn must_be_here(tx: &mut PgConnection, sha256: &str, kinds: &[&str]) -> Result<(), Problem> {
    let media = sqlx::query_scalar!("select media from attachment where sha256 = $1", sha256).fetch_optional(tx).await?;
    match media {
        None => Err(Refusal::bad_input("unknown-file", "file", "This file is not here. Send it first.").into()),
        Some(media) if kinds.contains(&media.as_str()) => Ok(()),
        Some(media) => Err(Refusal::bad_input("wrong-file", "file", format!("A file of kind {media} does not fit here.")).into()),
    }
}
