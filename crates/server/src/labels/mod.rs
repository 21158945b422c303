//! Labels to print: what stands on them by core, and the code that opens the thing.

use crate::auth::Person;
use crate::books::http::looked;
use crate::problem::{Answer, Problem};
use crate::rigs::pinned;
use crate::state::State;
use crate::stores::list::name_of;
use actix_web::{HttpRequest, get, web};
use level_keel_core::batch::StationName;
use level_keel_core::labels::{Label, LabelPaper, LotFacts, MOST_LABELS, PaperSize, of_card, of_lot, of_part, of_pot, of_rig};
use level_keel_core::refusal::Refusal;
use level_keel_core::scan::{ThingKind, path};
use qrcode::{Color, EcLevel, QrCode};
use serde::{Deserialize, Serialize};
use std::fmt::Write as _;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Dots of quiet margin on each side of a code, by ISO/IEC 18004.
const MARGIN: usize = 4;

/// What labels are asked of.
#[derive(Debug, Deserialize, IntoParams)]
pub struct Things {
    /// Things apart by commas: `lot:ID`, `part:ID`, `rig:ID`, `card:BATCH`, `pot:BATCH:CHARGE`.
    #[serde(default)]
    of: String,
}

/// A code as a drawing: dark dots of one unit on a square of `dots` by `dots`, margin included.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CodeDrawn {
    pub dots: usize,
    /// An SVG path.
    pub path: String,
}

/// A label with its code.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PrintedLabel {
    pub label: Label,
    /// What the code holds.
    pub address: String,
    pub code: CodeDrawn,
}

/// Labels to print, and the papers they fit.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LabelSheet {
    pub labels: Vec<PrintedLabel>,
    pub papers: Vec<PaperSize>,
}

/// Labels of lots, pots, parts, rigs and cards.
#[utoipa::path(operation_id = "labels", tag = "find", params(Things), responses((status = 200, body = LabelSheet), (status = 404), (status = 422)))]
#[get("/labels")]
pub async fn labels(
    state: web::Data<State>,
    person: Person,
    request: HttpRequest,
    asked: web::Query<Things>,
) -> Answer<LabelSheet> {
    let named: Vec<&str> = asked.of.split(',').map(str::trim).filter(|t| !t.is_empty()).collect();
    if named.len() > MOST_LABELS {
        let text = format!("At most {MOST_LABELS} labels are printed at once.");
        return Err(Refusal::bad_input("too-many", "of", text).into());
    }
    let mut all = Vec::with_capacity(named.len());
    for thing in named {
        let (is, of, pot) = thing_named(thing)?;
        let label = label(&state, &person, (is, of, pot)).await?;
        let path = path(is, of, pot).ok_or(Problem::NotFound("label"))?;
        let address = address_of(&state, &request, &path);
        all.push(PrintedLabel { label, code: drawn(&address)?, address });
    }
    Ok(web::Json(LabelSheet { labels: all, papers: LabelPaper::sizes() }))
}

/// The address a code holds: of this server, as the browser reached it.
pub fn address_of(state: &State, request: &HttpRequest, path: &str) -> String {
    let scheme = if state.settings.behind_tls { "https" } else { "http" };
    let host = request.headers().get("host").and_then(|h| h.to_str().ok()).unwrap_or("localhost");
    format!("{scheme}://{host}{path}")
}

/// `lot:ID`, `part:ID`, `rig:ID`, `card:BATCH` or `pot:BATCH:CHARGE`.
fn thing_named(text: &str) -> Result<(ThingKind, Uuid, Option<Uuid>), Problem> {
    let parts: Vec<&str> = text.split(':').collect();
    let named = match parts[..] {
        ["lot", id] => Some((ThingKind::Lot, id, None)),
        ["part", id] => Some((ThingKind::Part, id, None)),
        ["rig", id] => Some((ThingKind::Rig, id, None)),
        ["card", batch] => Some((ThingKind::Card, batch, None)),
        ["pot", batch, pot] => Some((ThingKind::Pot, batch, Some(pot))),
        _ => None,
    };
    let read =
        |(is, of, pot): (ThingKind, &str, Option<&str>)| Ok((is, Uuid::parse_str(of)?, pot.map(Uuid::parse_str).transpose()?));
    let read = named.map(read).and_then(Result::<_, uuid::Error>::ok);
    read.ok_or_else(|| {
        Refusal::bad_input("unknown-label", "of", "Labels are printed of lots, pots, parts, rigs and cards.").into()
    })
}

async fn label(state: &State, person: &Person, (is, of, pot): (ThingKind, Uuid, Option<Uuid>)) -> Result<Label, Problem> {
    match (is, pot) {
        (ThingKind::Lot, _) => lot(state, of).await,
        (ThingKind::Part, _) => part(state, of).await,
        (ThingKind::Rig, _) => {
            let rig = pinned(&mut *state.db.acquire().await?, of).await?;
            Ok(of_rig(&rig, person.prefs))
        }
        (ThingKind::Card, _) => {
            let looked = looked(state, of, StationName::Close).await?;
            of_card(&looked.case()).ok_or(Problem::NotFound("card"))
        }
        (_, Some(pot)) => {
            let looked = looked(state, of, StationName::Mix).await?;
            of_pot(&looked.case(), pot, state.clock.now()).ok_or(Problem::NotFound("pot"))
        }
        (_, None) => Err(Problem::NotFound("label")),
    }
}

async fn lot(state: &State, id: Uuid) -> Result<Label, Problem> {
    let row = sqlx::query!(
        r#"select l.code, l.component, l.colour, l.makers_lot, l.expires as "expires: jiff_sqlx::Date", v.name, v.body ->> 'additives' as additives
           from lot l join lateral (select name, body from sheet_version where sheet_id = l.sheet_id order by edition desc limit 1) v on true
           where l.id = $1"#,
        id
    )
    .fetch_optional(&state.db)
    .await?
    .ok_or(Problem::NotFound("lot"))?;
    let of = crate::stores::component(&row.component)?;
    Ok(of_lot(&LotFacts {
        code: row.code,
        product: row.name,
        component: name_of(of, row.additives.as_deref()),
        colour: row.colour,
        makers_lot: row.makers_lot,
        expires: row.expires.map(|d| d.to_jiff()),
    }))
}

async fn part(state: &State, id: Uuid) -> Result<Label, Problem> {
    let row = sqlx::query!(
        r#"select p.name, p.label,
             coalesce((select array_agg(c.name order by c.place) from coat c where c.part_id = p.id and not c.retired), '{}') as "coats!"
           from part p where p.id = $1"#,
        id
    )
    .fetch_optional(&state.db)
    .await?
    .ok_or(Problem::NotFound("part"))?;
    Ok(of_part(&row.name, &row.label, &row.coats))
}

/// A label gets scratched: a quarter of its code may be lost.
pub fn drawn(address: &str) -> Result<CodeDrawn, Problem> {
    let code = QrCode::with_error_correction_level(address, EcLevel::Q).map_err(|e| Problem::Fault(e.to_string()))?;
    let mut path = String::new();
    for (y, row) in code.to_colors().chunks(code.width()).enumerate() {
        let mut x = 0;
        for run in row.chunk_by(|a, b| a == b) {
            if run.first() == Some(&Color::Dark) {
                let (x, y, wide) = (x + MARGIN, y + MARGIN, run.len());
                write!(path, "M{x} {y}h{wide}v1h-{wide}z").map_err(|e| Problem::Fault(e.to_string()))?;
            }
            x += run.len();
        }
    }
    Ok(CodeDrawn { dots: code.width() + 2 * MARGIN, path })
}
