//! The ledger of the ratio over HTTP: read at the rig and at Prove, out as CSV and JSON, in as CSV.

mod cards;
pub mod store;

pub use cards::{CardsRead, read_cards};

use crate::auth::Person;
use crate::export::{Table, download, schema};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use jiff::Timestamp;
use level_keel_core::quantity::Prefs;
use level_keel_core::ratio_check::{Ledger, LedgerPage, LedgerProof, moved};
use level_keel_core::worded::Worded;
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Which part of a ledger is asked for.
#[derive(Debug, Default, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Part {
    /// The product, by its sheet; missing: the one proved last.
    #[serde(default)]
    pub sheet: Option<Uuid>,
    /// So many of the newest proofs are left out: the `next` of the page before.
    #[serde(default)]
    pub skip: usize,
    /// The chart shows every proof, and not only the newest.
    #[serde(default)]
    pub all: bool,
}

/// A product a rig has proofs of.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ProvedProduct {
    pub sheet: Uuid,
    pub name: String,
    pub count: i64,
}

/// The ledger of a rig and product.
#[derive(Debug, Serialize, ToSchema)]
pub struct LedgerView {
    /// The rig; none where a batch has none yet.
    pub rig: Option<Uuid>,
    /// The product.
    pub sheet: Option<Uuid>,
    /// Every product the rig has proofs of, the newest first.
    pub products: Vec<ProvedProduct>,
    /// What is asked for.
    pub page: LedgerPage,
}

async fn seen(state: &State, prefs: Prefs, rig: Option<Uuid>, sheet: Option<Uuid>, part: &Part) -> Result<LedgerView, Problem> {
    let mut db = state.db.acquire().await?;
    let products = match rig {
        Some(rig) => store::products(&mut db, rig).await?,
        None => Vec::new(),
    };
    let sheet = sheet.or(part.sheet).or(products.first().map(|(sheet, ..)| *sheet));
    let ledger = match rig.zip(sheet) {
        Some((rig, sheet)) => store::ledger(&mut db, state, rig, sheet).await?,
        None => Ledger::default(),
    };
    let products = products.into_iter().map(|(sheet, name, count)| ProvedProduct { sheet, name, count }).collect();
    Ok(LedgerView { rig, sheet, products, page: ledger.page(state.clock.now(), part.skip, part.all, prefs) })
}

/// The ledger of a rig, product by product.
#[utoipa::path(operation_id = "ledger_of_rig", tag = "ratio check", params(("id" = Uuid, Path), Part), responses((status = 200, body = LedgerView), (status = 404)))]
#[get("/rigs/{id}/ledger")]
pub async fn of_rig(state: web::Data<State>, person: Person, id: web::Path<Uuid>, part: web::Query<Part>) -> Answer<LedgerView> {
    must_be(&state, *id).await?;
    Ok(web::Json(seen(&state, person.prefs, Some(*id), None, &part).await?))
}

/// The ledger of the rig and the product of a batch.
#[utoipa::path(operation_id = "ledger_of_batch", tag = "ratio check", params(("id" = Uuid, Path), Part), responses((status = 200, body = LedgerView), (status = 404)))]
#[get("/batches/{id}/ledger")]
pub async fn of_batch(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    part: web::Query<Part>,
) -> Answer<LedgerView> {
    let mut db = state.db.acquire().await?;
    let (rig, sheet) = store::of(&mut db, *id).await?;
    drop(db);
    Ok(web::Json(seen(&state, person.prefs, rig, Some(sheet), &part).await?))
}

async fn must_be(state: &State, rig: Uuid) -> Result<(), Problem> {
    let known = sqlx::query_scalar!(r#"select exists(select 1 from rig where id = $1) as "known!""#, rig);
    if known.fetch_one(&state.db).await? { Ok(()) } else { Err(Problem::NotFound("rig")) }
}

/// A ledger as an open document.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct LedgerDocument {
    /// What this is.
    pub format: String,
    /// Its version; a new field may be added in one, none changes its meaning.
    pub version: u32,
    /// The rig.
    pub rig: String,
    /// The product.
    pub product: String,
    /// When it was written.
    pub written: Timestamp,
    /// Every proof, oldest first; quantities in the unit their field's name ends in.
    pub proofs: Vec<LedgerDocumentProof>,
}

/// A proof in the document.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct LedgerDocumentProof {
    /// The proof.
    #[serde(flatten)]
    pub proof: LedgerProof,
    /// What was moved after it.
    pub moved: Vec<String>,
}

const FORMAT: &str = "level-keel-ratio-ledger";

async fn document(db: &mut PgConnection, state: &State, rig: Uuid, part: &Part) -> Result<LedgerDocument, Problem> {
    let name = sqlx::query_scalar!("select name from rig where id = $1", rig).fetch_optional(&mut *db).await?;
    let rig_name = name.ok_or(Problem::NotFound("rig"))?;
    let products = store::products(db, rig).await?;
    let asked = products.iter().find(|(sheet, ..)| part.sheet.is_none_or(|asked| asked == *sheet));
    // A rig nothing was proved with has an empty ledger.
    let (product, ledger) = match asked {
        Some((sheet, product, _)) => (product.clone(), store::ledger(db, state, rig, *sheet).await?),
        None => (String::new(), Ledger::default()),
    };
    let after = |i: usize, proof: &LedgerProof| {
        ledger.proofs.get(i + 1).map(|after| moved(proof, after, &ledger.exchanged, Prefs::METRIC)).unwrap_or_default()
    };
    let proofs = ledger.proofs.iter().enumerate();
    let proofs = proofs.map(|(i, p)| LedgerDocumentProof { moved: after(i, p), proof: p.clone() }).collect();
    let (format, written) = (FORMAT.into(), state.clock.now());
    Ok(LedgerDocument { format, version: 1, rig: rig_name, product, written, proofs })
}

/// The ledger of a rig and product as an open document; its schema is at `/schemas/ledger.json`.
#[utoipa::path(operation_id = "ledger_json", tag = "ratio check", params(("id" = Uuid, Path), Part), responses((status = 200, body = LedgerDocument), (status = 404)))]
#[get("/rigs/{id}/ledger.json")]
pub async fn json(
    state: web::Data<State>,
    _person: Person,
    id: web::Path<Uuid>,
    part: web::Query<Part>,
) -> Result<HttpResponse, Problem> {
    let document = document(&mut *state.db.acquire().await?, &state, *id, &part).await?;
    let name = format!("level-keel-ledger-{}.json", state.shop_day());
    Ok(download("application/json", &name, serde_json::to_string_pretty(&document)?))
}

/// Heads of the table; those a card is typed in with come first.
pub const HEADS: [&str; 21] = [
    "at",
    "by",
    "a_g",
    "b_g",
    "resolution_g",
    "a_kpa",
    "b_kpa",
    "setting_count",
    "temp_c",
    "caught_watch_s",
    "lot_a",
    "lot_b",
    "kind",
    "batch",
    "ratio_least",
    "ratio",
    "ratio_most",
    "tolerance_least",
    "tolerance_most",
    "verdict",
    "moved_after",
];

/// The same as a table. The one that comes out can be filled with old cards and sent in again.
#[utoipa::path(operation_id = "ledger_csv", tag = "ratio check", params(("id" = Uuid, Path), Part), responses((status = 200, content_type = "text/csv"), (status = 404)))]
#[get("/rigs/{id}/ledger.csv")]
pub async fn csv(
    state: web::Data<State>,
    _person: Person,
    id: web::Path<Uuid>,
    part: web::Query<Part>,
) -> Result<HttpResponse, Problem> {
    let document = document(&mut *state.db.acquire().await?, &state, *id, &part).await?;
    let mut table = Table::new(&HEADS)?;
    let figure = |v: Option<f64>| v.map_or(String::new(), |v| v.to_string());
    for LedgerDocumentProof { proof: p, moved } in document.proofs {
        let f = p.figure;
        table.row([
            p.at.to_string(),
            p.by,
            figure(p.a_g),
            figure(p.b_g),
            figure(p.resolution_g),
            figure(p.a_kpa),
            figure(p.b_kpa),
            figure(p.setting_count),
            figure(p.temp_c),
            figure(p.caught_watch_s),
            p.lot_a.unwrap_or_default(),
            p.lot_b.unwrap_or_default(),
            p.kind.word().into(),
            p.number.map_or(String::new(), |n| n.to_string()),
            figure(f.map(|f| f.lo)),
            figure(f.map(|f| f.value)),
            figure(f.map(|f| f.hi)),
            figure(f.map(|f| f.least)),
            figure(f.map(|f| f.most)),
            p.verdict.word().into(),
            moved.join("; "),
        ])?;
    }
    table.download(&format!("level-keel-ledger-{}.csv", state.shop_day()))
}

/// JSON Schema of the open ledger.
#[utoipa::path(operation_id = "ledger_schema", tag = "ratio check", responses((status = 200)))]
#[get("/schemas/ledger.json")]
pub async fn ledger_schema(_person: Person) -> Result<HttpResponse, Problem> {
    Ok(HttpResponse::Ok().content_type("application/schema+json").body(schema::<LedgerDocument>()?))
}
