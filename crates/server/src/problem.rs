//! The only place that maps an error to a status and an RFC 9457 body. Texts of our own faults stay in the log.

use crate::pulse::{AGAIN_S, is_away};
use actix_web::http::StatusCode;
use actix_web::http::header::{ContentType, RETRY_AFTER};
use actix_web::{HttpResponse, ResponseError};
use level_keel_core::refusal::{Refusal, Why};
use serde::{Deserialize, Serialize};
use std::fmt;
use utoipa::ToSchema;

/// The body of every error.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct ProblemBody {
    /// Short title.
    pub title: String,
    /// HTTP status.
    pub status: u16,
    /// Stable kebab-case code.
    pub code: String,
    /// Field, when it belongs to one.
    pub field: Option<String>,
    /// What, why, and what to do.
    pub detail: String,
    /// Every field at fault, when there are several.
    #[serde(default)]
    pub fields: Vec<Refusal>,
}

/// Everything that can go wrong at the edge.
#[derive(Debug)]
pub enum Problem {
    /// Core says no.
    Refused(Refusal),
    /// Core says no at several fields.
    Fields(Vec<Refusal>),
    /// Not signed in, or the session is over.
    SignIn,
    /// A change sent by another site's page.
    Elsewhere,
    /// Asked by a name that is not this server's.
    NotHere,
    /// A body that comes packed.
    Packed,
    /// Too many wrong PINs.
    Throttled(i64),
    /// No such thing.
    NotFound(&'static str),
    /// Broken JSON, wrong shape, too large.
    Request(StatusCode, String),
    /// The print program gives no document: with its code, and what happened.
    Printer(&'static str, String),
    /// The database does not answer.
    Away,
    /// Our fault.
    Fault(String),
}

impl fmt::Display for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}", self.body().detail)
    }
}

impl From<Refusal> for Problem {
    fn from(r: Refusal) -> Self {
        Problem::Refused(r)
    }
}

impl From<Vec<Refusal>> for Problem {
    fn from(r: Vec<Refusal>) -> Self {
        Problem::Fields(r)
    }
}

impl From<sqlx::Error> for Problem {
    /// A fault, but for the two that only a client can cause: an id or a name that is another's, and a text that no database
    /// keeps (a zero byte in an address); and but for a database that is away.
    fn from(e: sqlx::Error) -> Self {
        let database = e.as_database_error();
        if database.is_some_and(sqlx::error::DatabaseError::is_unique_violation) {
            let text = "Something else stands here under this id or name. Look again, then take another.";
            return Problem::Refused(Refusal::conflict("id-taken", text));
        }
        if database.and_then(sqlx::error::DatabaseError::code).is_some_and(|code| code == NO_TEXT) {
            return Problem::Refused(Refusal::bad_input("not-text", "text", "This holds characters that are no text."));
        }
        if is_away(&e) {
            tracing::warn!(error = %e, "the database is away");
            return Problem::Away;
        }
        Problem::Fault(e.to_string())
    }
}

/// PostgreSQL: a byte that is no character.
const NO_TEXT: &str = "22021";

impl From<serde_json::Error> for Problem {
    fn from(e: serde_json::Error) -> Self {
        Problem::Fault(e.to_string())
    }
}

impl Problem {
    fn body(&self) -> ProblemBody {
        let make = |status: u16, title: &str, code: &str, field: Option<String>, detail: String| ProblemBody {
            title: title.into(),
            status,
            code: code.into(),
            field,
            detail,
            fields: Vec::new(),
        };
        match self {
            Problem::Refused(r) => {
                let (status, title) = match r.why {
                    Why::BadInput => (422, "Not understood"),
                    Why::Forbidden => (403, "Not for this role"),
                    Why::Hold => (409, "On hold"),
                    Why::Stop => (409, "Stopped"),
                    Why::Conflict => (409, "Does not fit"),
                };
                let mut body = make(status, title, &r.code, r.field.clone(), r.text.clone());
                body.fields = vec![r.clone()];
                body
            }
            Problem::Fields(all) => {
                let first = all.first();
                let text = first.map_or(String::new(), |r| r.text.clone());
                let code = first.map_or("not-understood".into(), |r| r.code.clone());
                let mut body = make(422, "Not understood", &code, first.and_then(|r| r.field.clone()), text);
                body.fields.clone_from(all);
                body
            }
            Problem::SignIn => make(401, "Sign in", "sign-in", None, "Sign in to go on. What you typed is kept here.".into()),
            Problem::Elsewhere => {
                make(403, "From elsewhere", "from-elsewhere", None, "A change comes from the page of this server only.".into())
            }
            Problem::NotHere => {
                let text = "This server is not called so. Ask it by the name it was set up with (`host_names` in its settings).";
                make(421, "Not here", "unknown-host", None, text.into())
            }
            Problem::Packed => make(415, "Packed", "packed-body", None, "A request is sent as it is, not compressed.".into()),
            Problem::Throttled(s) => {
                make(429, "Wait", "too-many-tries", None, format!("Too many wrong tries. Wait {s} s, then try again."))
            }
            Problem::NotFound(what) => make(404, "Not here", "not-found", None, format!("There is no such {what}.")),
            Problem::Request(status, text) => {
                let code = if status.as_u16() == 413 { "too-large" } else { "not-understood" };
                make(status.as_u16(), "Not understood", code, None, text.clone())
            }
            Problem::Printer(code, text) => {
                let detail = format!("{text} The card is at hand all the same: on the page, as JSON and as CSV.");
                make(503, "No paper", code, None, detail)
            }
            Problem::Away => {
                let text = "The database does not answer just now. What stands here is as it was last read. Whether what was sent is \
                    stored is not known: sent again, it counts once.";
                make(503, "Away", "database-away", None, text.into())
            }
            Problem::Fault(_) => {
                let text =
                    "Something broke on the server. Whether what was sent is stored is not known: sent again, it counts once.";
                make(500, "Our fault", "fault", None, text.into())
            }
        }
    }
}

impl ResponseError for Problem {
    fn status_code(&self) -> StatusCode {
        StatusCode::from_u16(self.body().status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR)
    }

    fn error_response(&self) -> HttpResponse {
        if let Problem::Fault(text) = self {
            tracing::error!(%text, "fault");
        }
        let mut answer = HttpResponse::build(self.status_code());
        match self {
            Problem::Away | Problem::Printer(..) => drop(answer.insert_header((RETRY_AFTER, AGAIN_S))),
            Problem::Throttled(s) => drop(answer.insert_header((RETRY_AFTER, s.to_string()))),
            _ => {}
        }
        answer.insert_header(ContentType("application/problem+json".parse().unwrap_or(mime_json()))).json(self.body())
    }
}

fn mime_json() -> actix_web::mime::Mime {
    actix_web::mime::APPLICATION_JSON
}

/// What a handler returns.
pub type Answer<T> = Result<actix_web::web::Json<T>, Problem>;
