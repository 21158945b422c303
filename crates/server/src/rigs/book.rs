//! The book of a rig: its row, what an entry in it is judged with, and its lines.

use super::RigView;
use crate::atomizing::table;
use crate::auth::Person;
use crate::books::kept::{Columns, Kept};
use crate::books::ledger_rows as ledger;
use crate::books::{Cache, NewEntry, Writing};
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{post, web};
use jiff::Timestamp;
use level_keel_core::book::Ledger;
use level_keel_core::quantity::Prefs;
use level_keel_core::refusal::Refusal;
use level_keel_core::rig_book::{Changed, PaperProof, RigBeside, RigBook, RigEntry, RigEntryKind};
use level_keel_core::sheets::Sheet;
use level_keel_core::wire::read;
use serde::Serialize;
use serde_json::{Value, json};
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

/// Lines of a book that are shown.
const LINES: usize = 200;

/// A line of a rig's book.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RigLogLine {
    pub entry: Uuid,
    pub at: Timestamp,
    pub by: String,
    pub text: String,
    pub struck: bool,
    /// Whether a strike may void it; else no more is to be done with it.
    pub may_strike: bool,
}

/// The book of a rig, newest first.
pub fn lines(book: &RigBook, prefs: Prefs) -> Vec<RigLogLine> {
    let lines = book.log.iter().rev().take(LINES);
    lines
        .map(|l| RigLogLine {
            entry: l.entry,
            at: l.at,
            by: l.by.clone(),
            text: l.said.as_deref().map_or_else(|| "An entry this version cannot read".into(), |said| book.words(said, prefs)),
            struck: l.struck.is_some(),
            may_strike: l.struck.is_none() && RigBook::may_strike(l).is_ok(),
        })
        .collect()
}

impl Kept for RigBook {
    const TABLE: &'static str = "rig";

    fn cache(state: &State) -> &Cache<RigBook> {
        &state.books.rigs
    }

    async fn lock(tx: &mut PgConnection, book: Uuid) -> Result<(), Problem> {
        let row = sqlx::query!("select id from rig where id = $1 for update", book).fetch_optional(tx).await?;
        row.map(drop).ok_or(Problem::NotFound("rig"))
    }

    async fn prepare(
        &self,
        w: &Writing<'_>,
        tx: &mut PgConnection,
        book: Uuid,
        kind: RigEntryKind,
        payload: &mut Value,
    ) -> Result<RigBeside, Problem> {
        if kind == RigEntryKind::PaperProof {
            fill_card(self, w, tx, payload).await?;
        }
        // Figures are put down with the row, and judged before.
        if kind == RigEntryKind::Changed {
            return Ok(RigBeside::default());
        }
        let live_kpa = self.rig.as_ref().and_then(|rig| w.state.gauges(&rig.name, w.state.clock.now()).pot_kpa);
        Ok(RigBeside { tips: table(&mut *tx).await?, pressed_at: pressed_at(tx, book).await?, live_kpa })
    }

    fn columns(&self) -> Result<Option<Columns>, Problem> {
        let Some(rig) = &self.rig else { return Ok(None) };
        Ok(json!({ "name": rig.name, "body": rig, "retired": self.retired }).as_object().cloned())
    }

    async fn derive(&self, tx: &mut PgConnection, book: Uuid, before: Option<&RigBook>) -> Result<(), Problem> {
        if before.is_none() {
            ledger::forget(tx, book).await?;
        }
        let was = before.map(|b| ledger::of_rig(book, b)).unwrap_or_default();
        ledger::keep(tx, book, &ledger::of_rig(book, self), &was).await
    }

    async fn underived(&self, db: &mut PgConnection, book: Uuid) -> Result<Vec<String>, Problem> {
        let mut told = ledger::of_rig(book, self);
        told.sort_by_key(ledger::KeptProof::order);
        let same = ledger::kept(db, book).await? == told;
        Ok(if same { Vec::new() } else { vec!["its proofs of the ratio are not those of its log".into()] })
    }
}

/// A card from before with what only the server knows: its ratio by the sheet of today. It is not of tomorrow and not older than
/// the rig.
async fn fill_card(book: &RigBook, w: &Writing<'_>, tx: &mut PgConnection, payload: &mut Value) -> Result<(), Problem> {
    let card: PaperProof = read(payload.clone())?;
    card.check(w.person.prefs)?;
    let first = book.log.iter().map(|l| l.at).min().unwrap_or(w.now);
    card.dated(book.rig.as_ref().and_then(|rig| rig.since), first, w.now, &w.state.shop.zone())?;
    let today =
        sqlx::query_scalar!("select body from sheet_version where sheet_id = $1 order by edition desc limit 1", card.sheet);
    let sheet: Sheet = serde_json::from_value(today.fetch_optional(tx).await?.ok_or(Problem::NotFound("product"))?)?;
    if !sheet.has_hardener {
        let text = format!("{} has no second component: there is no ratio to prove.", sheet.name);
        return Err(Refusal::bad_input("no-ratio", "sheet", text).into());
    }
    *payload = serde_json::to_value(card.by(&sheet))?;
    Ok(())
}

/// When a batch put the rig under pressure last.
pub async fn pressed_at(db: &mut PgConnection, rig: Uuid) -> Result<Option<Timestamp>, Problem> {
    let at = sqlx::query_scalar!(r#"select pressed_at as "at: jiff_sqlx::Timestamp" from rig where id = $1"#, rig);
    Ok(at.fetch_optional(db).await?.flatten().map(|t| t.to_jiff()))
}

/// Writes in the book of a rig: inspected, cleaned, fitted, a tip's flow, a step of its shut-down, an item of care, note, strike.
#[utoipa::path(operation_id = "rigs_append", tag = "rigs", params(("id" = Uuid, Path)), request_body = crate::openapi::NewRigEntry, responses((status = 200, body = RigView), (status = 404), (status = 409), (status = 422)))]
#[post("/rigs/{id}/entries")]
pub async fn append(state: web::Data<State>, person: Person, id: web::Path<Uuid>, body: web::Json<NewEntry>) -> Answer<RigView> {
    Writing::of(&state, &person, state.clock.now()).one::<RigBook>(*id, body.into_inner()).await?;
    super::one_view(&state, &person, *id).await.map(web::Json)
}

/// Writes down what the figures of a rig are from now on: who put them so stands in its book.
pub async fn changed(w: &Writing<'_>, tx: &mut PgConnection, id: Uuid, what: Changed) -> Result<(), Problem> {
    let entry = NewEntry::now(Uuid::now_v7(), RigEntryKind::Changed, RigEntry::Changed(what).payload()?);
    w.write::<RigBook>(tx, id, entry).await.map(drop)
}
