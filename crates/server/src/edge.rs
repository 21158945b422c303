//! The edge around every route: headers, and who may send a change from where.

use crate::auth::Person;
use crate::problem::Problem;
use crate::settings::Settings;
use crate::state::State;
use actix_web::body::{BodySize, MessageBody};
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::error::PayloadError;
use actix_web::http::header::{CACHE_CONTROL, CONTENT_ENCODING, CONTENT_LENGTH, CONTENT_TYPE, HOST, HeaderValue};
use actix_web::http::{Method, StatusCode};
use actix_web::middleware::{DefaultHeaders, Next};
use actix_web::web::Data;
use actix_web::{FromRequest, HttpMessage};
use futures_util::{StreamExt, stream};
use std::net::IpAddr;
use std::time::Duration;
use tokio::time::sleep;

/// Everything comes from here and nothing from elsewhere. The hash is that of the empty string: the style
/// library needs it to insert its rules, and it lets no inline style through.
const CSP: &str = "default-src 'none'; script-src 'self'; style-src 'self' 'sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU='; \
    img-src 'self' data:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// Headers of every answer.
pub fn headers(state: &State) -> DefaultHeaders {
    let headers = DefaultHeaders::new()
        .add(("Content-Security-Policy", CSP))
        .add(("X-Content-Type-Options", "nosniff"))
        .add(("X-Frame-Options", "DENY"))
        .add(("Referrer-Policy", "no-referrer"))
        .add(("Cross-Origin-Opener-Policy", "same-origin"))
        .add(("Cross-Origin-Resource-Policy", "same-origin"))
        .add(("Permissions-Policy", "camera=(self), geolocation=(), microphone=(), payment=(), usb=()"))
        // What a person may see is theirs alone; built assets say otherwise for themselves.
        .add(("Cache-Control", "no-store"))
        .add(("X-Level-Keel-Version", state.version.clone()));
    if state.settings.behind_tls { headers.add(("Strict-Transport-Security", "max-age=31536000")) } else { headers }
}

/// A change comes from our own page: the cookie is SameSite=Strict, and a browser that says where a request comes
/// from is believed too. Programs that say nothing are not browsers and carry no one's cookie by accident.
pub async fn same_origin(
    req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let reads = matches!(*req.method(), Method::GET | Method::HEAD | Method::OPTIONS);
    if !reads && comes_from_elsewhere(&req) {
        return Err(Problem::Elsewhere.into());
    }
    next.call(req).await
}

/// What answers without a session: the door, the names to sign in by, signing in, and a document that says nothing of a shop.
const OPEN: [(&str, &str); 5] = [
    ("GET", "/api/v1/door"),
    ("POST", "/api/v1/first-visit"),
    ("GET", "/api/v1/people"),
    ("POST", "/api/v1/session"),
    ("GET", "/api/v1/openapi.json"),
];

/// Whoever is not signed in learns nothing of the rest, not even how a request would have to be made: who asks is found before the
/// path and the body are read.
pub async fn signed_in(
    req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let open = OPEN.iter().any(|(method, path)| req.method() == *method && req.path() == *path);
    if req.path().starts_with("/api/") && !open {
        let person = Person::extract(req.request()).await?;
        req.extensions_mut().insert(person);
    }
    next.call(req).await
}

/// A body that comes packed is not unpacked: a few hundred bytes would become as many megabytes before any limit is asked.
pub async fn plain_bodies(
    req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let packed = req.headers().get_all(CONTENT_ENCODING).any(|v| !v.as_bytes().eq_ignore_ascii_case(b"identity"));
    if packed {
        return Err(Problem::Packed.into());
    }
    next.call(req).await
}

/// A request is for this server: it asks by a name of this machine, or by one the shop has set. A page of elsewhere whose name was
/// turned to point here asks by its own.
pub async fn known_host(
    req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let asked = req.headers().get(HOST).and_then(|h| h.to_str().ok()).or(req.uri().authority().map(|a| a.as_str()));
    let known = match (asked.map(name_of), req.app_data::<Data<State>>()) {
        (Some(name), Some(state)) => is_loopback(name) || is_ours(name, &state.settings),
        _ => false,
    };
    if !known {
        return Err(Problem::NotHere.into());
    }
    next.call(req).await
}

/// A host without its port.
pub fn name_of(host: &str) -> &str {
    let port = |p: &str| p.bytes().all(|b| b.is_ascii_digit());
    let name = host.rsplit_once(':').filter(|(_, p)| port(p)).map_or(host, |(name, _)| name);
    name.trim_matches(['[', ']'])
}

/// A name of the machine itself.
pub fn is_loopback(name: &str) -> bool {
    name.eq_ignore_ascii_case("localhost") || name.parse::<IpAddr>().is_ok_and(|ip| ip.to_canonical().is_loopback())
}

fn is_ours(name: &str, settings: &Settings) -> bool {
    std::iter::once(&settings.host).chain(&settings.host_names).any(|ours| name.eq_ignore_ascii_case(ours))
}

/// A body comes within ten seconds, and a large one at a hundred kilobytes a second or faster: whoever sends a byte now and then holds
/// nothing.
pub async fn bodies_in_time(
    mut req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    if matches!(*req.method(), Method::GET | Method::HEAD) {
        return next.call(req).await;
    }
    let announced = req.headers().get(CONTENT_LENGTH).and_then(|v| v.to_str().ok()?.parse::<u64>().ok());
    let within = BODY_IN + Duration::from_millis(announced.unwrap_or(0).min(MOST_ANNOUNCED) / BYTES_IN_A_MS);
    let late = Box::pin(sleep(within));
    let body = stream::unfold(Some((req.take_payload(), late)), |left| async move {
        let (mut payload, mut late) = left?;
        tokio::select! {
            piece = payload.next() => Some((piece?, Some((payload, late)))),
            () = &mut late => {
                let too_slow = std::io::Error::new(std::io::ErrorKind::TimedOut, "it came too slowly");
                Some((Err(PayloadError::Incomplete(Some(too_slow))), None))
            }
        }
    });
    req.set_payload(Payload::Stream { payload: Box::pin(body) });
    next.call(req).await
}

/// How long a body may take.
const BODY_IN: Duration = Duration::from_secs(10);
/// And how much longer a large one.
const BYTES_IN_A_MS: u64 = 100;
/// What is announced beyond this is refused anyway.
const MOST_ANNOUNCED: u64 = 16 * 1024 * 1024;

/// Built files carry a hash in their names and may be kept for ever; that one is not there may not.
pub async fn kept_for_ever(
    req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let mut answer = next.call(req).await?;
    if answer.status().is_success() || answer.status() == StatusCode::NOT_MODIFIED {
        answer.headers_mut().insert(CACHE_CONTROL, HeaderValue::from_static("public, max-age=31536000, immutable"));
    }
    Ok(answer)
}

/// Answers of under a kilobyte and streams stay as they are: packing makes the one no smaller and holds the other back.
pub async fn small_stay_plain(
    req: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let mut answer = next.call(req).await?;
    let plain = match answer.response().body().size() {
        BodySize::None => true,
        BodySize::Sized(bytes) => bytes < PACKED_FROM_BYTES,
        BodySize::Stream => answer.headers().get(CONTENT_TYPE).is_some_and(|v| v.as_bytes().starts_with(b"text/event-stream")),
    };
    if plain {
        answer.headers_mut().insert(CONTENT_ENCODING, HeaderValue::from_static("identity"));
    }
    Ok(answer)
}

/// Answers of this size and over are packed where the browser takes it.
const PACKED_FROM_BYTES: u64 = 1024;

fn comes_from_elsewhere(req: &ServiceRequest) -> bool {
    let header = |name: &str| req.headers().get(name).map(|v| v.to_str().unwrap_or("?").to_string());
    let site = header("sec-fetch-site").is_some_and(|s| s != "same-origin" && s != "none");
    let host = header("host").unwrap_or_default();
    let origin = header("origin").is_some_and(|o| o.split_once("://").is_none_or(|(_, authority)| authority != host));
    site || origin
}
