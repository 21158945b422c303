//! The book of a batch in the database: its row, the small tables that hang on it, and what a writer is answered.

use super::cache::Cache;
use super::defect_rows as defects;
use super::kept::{Columns, Kept};
use super::ledger_rows as ledger;
use super::waste_rows as waste;
use super::weighed_rows as weighed;
use super::{Made, NewEntry, Writing, enrich};
use crate::instruments::viewer;
use crate::parts::beside;
use crate::parts::weather::weather;
use crate::problem::Problem;
use crate::rigs;
use crate::state::State;
use crate::stores;
use jiff::Timestamp;
use level_keel_core::batch::beside::{self as neighbours, Beside, Neighbour};
use level_keel_core::batch::card::card;
use level_keel_core::batch::lot_uses::{LotUse, uses};
use level_keel_core::batch::proofs::proofs;
use level_keel_core::batch::view::BatchView;
use level_keel_core::batch::weighed_on::weighed_on;
use level_keel_core::batch::{Case, EntryKind, Record};
use level_keel_core::quantity::Shown;
use level_keel_core::refusal::Refusal;
use level_keel_core::worded::{VariantArray, Worded};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::PgConnection;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// What came of an entry in the book of a batch.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Written {
    /// Stored; false for a dry run.
    pub stored: bool,
    /// It was stored before, by the same id and content.
    pub repeated: bool,
    /// Sequence in the book.
    pub seq: i64,
    /// Every quantity as understood, by field.
    pub understood: BTreeMap<String, Shown>,
    /// What is wrong with it (dry run only; else an error).
    pub refusals: Vec<Refusal>,
    /// The batch as it is, or as it would be.
    pub view: Option<BatchView>,
}

impl Kept for Record {
    const TABLE: &'static str = "batch";
    const BEGINS_ITSELF: bool = true;

    fn cache(state: &State) -> &Cache<Record> {
        &state.books.batches
    }

    async fn lock(_tx: &mut PgConnection, _book: Uuid) -> Result<(), Problem> {
        Ok(())
    }

    async fn prepare(
        &self,
        w: &Writing<'_>,
        tx: &mut PgConnection,
        book: Uuid,
        kind: EntryKind,
        payload: &mut Value,
    ) -> Result<Beside, Problem> {
        enrich::enrich(w, tx, (book, self), kind, payload).await?;
        // Its neighbours matter to what is shown, and to the acts that are judged by them.
        let shown = if w.view { Neighbour::of_view(w.station) } else { &[] };
        let needs: Vec<Neighbour> = [shown, kind.needs()].concat();
        if needs.is_empty() { Ok(Beside::default()) } else { around(w.state, tx, book, self, &needs).await }
    }

    fn columns(&self) -> Result<Option<Columns>, Problem> {
        let Some(begin) = &self.begin else { return Ok(None) };
        let aim = &begin.it;
        let state = match (&self.signature, &self.acceptance) {
            _ if self.left_out.is_some() => "left_out",
            (_, Some(_)) => "accepted",
            (Some(_), None) => "signed",
            (None, None) => "open",
        };
        let signed = self.signature.as_ref();
        // The row of an open batch is not written anew for each entry: what is in work is not found by its last hour.
        let last = signed.and_then(|_| self.log.iter().map(|l| l.at).max()).unwrap_or(begin.at);
        let window = neighbours::window_of(self);
        let surface = neighbours::surface_since(self);
        let came_to = signed.map(|_| self.came_to()).unwrap_or_default();
        let columns = json!({
            "number": aim.number, "sheet_version_id": aim.sheet_version, "part_id": aim.part, "coat_id": aim.coat,
            "label": format!("{} · {}", aim.part_name, aim.coat_name), "product": aim.sheet.name, "state": state, "begun": begin.at,
            "last_happened": last, "ended": neighbours::ended(self),
            "recoat_earliest": window.as_ref().and_then(|w| w.earliest), "recoat_latest": window.as_ref().and_then(|w| w.latest),
            "surface_min_c": surface.map(|s| s.coldest_c), "surface_max_c": surface.map(|s| s.hottest_c),
            "method": aim.method.map(|m| m.word()), "substrate": aim.substrate.map(|s| s.word()), "reckoned_ml": self.need_ml(),
            // What the work really took, and what was good of its set-up, is known once it is signed.
            "used_ml": signed.map(|_| self.used_in_all_ml()).filter(|ml| *ml > 0.0),
            "rig_id": self.rig.as_ref().map(|r| r.it.rig),
            "good_set_up": signed.and_then(|_| self.good_set_up()).map(|(_, good)| good),
            "repairs_batch": aim.repairs.as_ref().map(|r| r.batch), "repairs_defect": aim.repairs.as_ref().map(|r| r.defect),
            "job_id": aim.job.map(|j| j.job), "job_coat": aim.job.map(|j| j.coat),
            // What it came to, for the trends over many.
            "film_pct": came_to.film_pct, "ratio_off_pct": came_to.ratio_off_pct, "use_pct": came_to.use_pct,
            "work_s": came_to.work_s, "first_time": came_to.first_time,
            // What eye and gun call a bend, once a flow was caught.
            "seen_bend": self.seen_bend(),
        });
        Ok(columns.as_object().cloned())
    }

    async fn derive(&self, tx: &mut PgConnection, book: Uuid, before: Option<&Record>) -> Result<(), Problem> {
        let Some(begin) = &self.begin else { return Ok(()) };
        let used = lots_used(self);
        if before.is_none_or(|b| lots_used(b) != used) {
            lots(tx, book, &used).await?;
        }
        let taken = uses(self);
        if before.map(uses).as_ref() != Some(&taken) {
            stores::give_and_take(tx, book, &taken).await?;
        }
        if let (Some(chosen), Some(at)) = (&self.rig, self.pressed_at())
            && before.is_none_or(|b| b.pressed_at() != Some(at))
        {
            rigs::pressed(tx, chosen.it.rig, begin.it.number, at).await?;
        }
        in_ledger(tx, book, self, before).await?;
        let seen = defects::rows(self);
        if before.map(defects::rows).as_ref() != Some(&seen) {
            defects::keep(tx, book, &seen).await?;
        }
        let scales = weighed_on(self);
        if before.map(weighed_on).as_ref() != Some(&scales) {
            weighed::keep(tx, book, &scales).await?;
        }
        let thrown = self.wasted();
        if before.map(Record::wasted).as_ref() != Some(&thrown) {
            waste::keep(tx, book, &thrown).await?;
        }
        if before.is_none_or(|b| b.begin.is_none() || b.workers != self.workers) {
            people(tx, book, self).await?;
        }
        Ok(())
    }

    async fn underived(&self, db: &mut PgConnection, book: Uuid) -> Result<Vec<String>, Problem> {
        let row = sqlx::query!(
            r#"select (select coalesce(array_agg(lot_id), '{}') from lot_use where batch_id = $1) as "lots!",
                 (select coalesce(array_agg(person_id), '{}') from batch_person where batch_id = $1) as "people!""#,
            book
        )
        .fetch_one(&mut *db)
        .await?;
        let mut faults = Vec::new();
        if row.lots.into_iter().collect::<BTreeSet<Uuid>>() != lots_used(self).into_iter().collect() {
            faults.push("its lots are not those of its log".into());
        }
        if row.people.into_iter().collect::<BTreeSet<Uuid>>() != self.workers {
            faults.push("its people are not those of its log".into());
        }
        let poured = sqlx::query!(
            r#"select entry_id, lot_id, used_g, at as "at: jiff_sqlx::Timestamp" from lot_pour where batch_id = $1"#,
            book
        );
        let rows = poured.fetch_all(&mut *db).await?.into_iter();
        let mut kept: Vec<LotUse> =
            rows.map(|r| LotUse { entry: r.entry_id, lot: r.lot_id, used_g: r.used_g, at: r.at.to_jiff() }).collect();
        let mut told = uses(self);
        let mut proofs = ledger::of_batch(&mut *db, self).await?;
        proofs.sort_by_key(ledger::KeptProof::order);
        if ledger::kept(&mut *db, book).await? != proofs {
            faults.push("its proofs of the ratio are not those of its log".into());
        }
        if ledger::kept_sprayed(&mut *db, book).await? != ledger::sprayed(self) {
            faults.push("what it sprayed is not what its log says".into());
        }
        if weighed::kept(&mut *db, book).await? != weighed_on(self) {
            faults.push("the scales it was weighed on are not those of its log".into());
        }
        if !defects::is_kept(&mut *db, book, self).await? {
            faults.push("its defects are not those of its log".into());
        }
        let mut thrown = self.wasted();
        thrown.sort_by_key(|w| w.entry);
        if waste::kept(&mut *db, book).await? != thrown {
            faults.push("what it threw away is not what its log says".into());
        }
        kept.sort_by_key(|u| (u.entry, u.lot));
        told.sort_by_key(|u| (u.entry, u.lot));
        if kept != told {
            faults.push("what it took of its lots is not what its log says".into());
        }
        Ok(faults)
    }
}

/// The rows of a batch in the ledger of its rig.
async fn in_ledger(tx: &mut PgConnection, book: Uuid, record: &Record, before: Option<&Record>) -> Result<(), Problem> {
    if before.is_none() {
        ledger::forget(tx, book).await?;
    }
    if before.map(proofs) != Some(proofs(record)) {
        let was = match before {
            Some(before) => ledger::of_batch(tx, before).await?,
            None => Vec::new(),
        };
        let is = ledger::of_batch(tx, record).await?;
        ledger::keep(tx, book, &is, &was).await?;
    }
    if before.map(ledger::sprayed) != Some(ledger::sprayed(record)) {
        ledger::keep_sprayed(tx, book, record).await?;
    }
    Ok(())
}

/// What stands beside a batch now, as far as it is needed.
pub(crate) async fn around(
    state: &State,
    db: &mut PgConnection,
    book: Uuid,
    record: &Record,
    needs: &[Neighbour],
) -> Result<Beside, Problem> {
    let found = beside(db, &state.shop.now(), Some(&[book]), needs).await?.pop();
    let beside = found.map(|opened| opened.beside).unwrap_or_default().remembering(record);
    Ok(if needs.contains(&Neighbour::Weather) {
        Beside { weather: weather(db, state.probes.weather_sources(), state.clock.now()).await?, ..beside }
    } else {
        beside
    })
}

impl Writing<'_> {
    /// Appends to the book of a batch that exists.
    pub async fn append(&self, book: Uuid, new: NewEntry) -> Result<Written, Problem> {
        let mut tx = self.state.db.begin().await?;
        let answered = Box::pin(self.answered(&mut tx, book, new)).await;
        self.close(tx, book, answered).await
    }

    /// Commits what was newly stored, and answers; in a dry run with what is wrong.
    pub(super) async fn close(
        &self,
        tx: sqlx::Transaction<'_, sqlx::Postgres>,
        book: Uuid,
        answered: Result<(Made<Record>, Option<BatchView>), Problem>,
    ) -> Result<Written, Problem> {
        let (made, view) = match answered {
            Ok((made, view)) => (self.end(tx, book, Ok(made)).await?, view),
            Err(problem) => {
                tx.rollback().await?;
                let refusals = self.refusals(problem)?;
                let understood = BTreeMap::new();
                return Ok(Written { stored: false, repeated: false, seq: 0, understood, refusals, view: None });
            }
        };
        let (stored, repeated) = (made.new || made.repeated, made.repeated);
        Ok(Written { stored, repeated, seq: made.seq, understood: made.understood, refusals: Vec::new(), view })
    }

    /// Writes one entry of a batch inside a transaction, and looks at the batch as it is then.
    pub(super) async fn answered(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        new: NewEntry,
    ) -> Result<(Made<Record>, Option<BatchView>), Problem> {
        let kind = new.kind.parse().ok();
        let mut made = self.write::<Record>(tx, book, new).await?;
        if made.new && matches!(kind, Some(EntryKind::Sign | EntryKind::Accept | EntryKind::Reopen)) {
            self.keep_card(tx, book, &made.book).await?;
        }
        if !self.view {
            return Ok((made, None));
        }
        // What stands beside it goes by its row: by its rig, its lots, its end. The answer shows what the next read shows.
        if made.repeated || (made.new && made.before.columns()? != made.book.columns()?) {
            made.beside = around(self.state, tx, book, &made.book, Neighbour::of_view(self.station)).await?;
        }
        let view = self.seen(book, &made.book, &made.beside);
        Ok((made, view))
    }

    fn seen(&self, book: Uuid, record: &Arc<Record>, beside: &Beside) -> Option<BatchView> {
        let viewer = viewer(self.person, &beside.measures);
        level_keel_core::batch::view(book, &Case::new(record, beside), &viewer, self.now, self.station)
    }

    /// Keeps the card as it was signed or accepted, with all that stood beside it then, whatever station was asked for; one that is
    /// reopened has none.
    pub async fn keep_card(&self, tx: &mut PgConnection, book: Uuid, record: &Record) -> Result<(), Problem> {
        let mut kept = None;
        if record.signature.is_some() {
            let beside = around(self.state, tx, book, record, Neighbour::VARIANTS).await?;
            let (case, viewer) = (Case::new(record, &beside), viewer(self.person, &beside.measures));
            let view = level_keel_core::batch::whole(book, &case, &viewer, self.now);
            kept = view.map(|v| serde_json::to_value(card(&case, v, self.person.prefs))).transpose()?;
        }
        sqlx::query!("update batch set signed_card = $2 where id = $1", book, kept).execute(tx).await?;
        Ok(())
    }
}

fn lots_used(record: &Record) -> Vec<Uuid> {
    record.lots_at(Timestamp::MAX).into_iter().map(|l| l.lot.id).collect()
}

/// People by the log: everyone who wrote of the work.
async fn people(tx: &mut PgConnection, book: Uuid, record: &Record) -> Result<(), Problem> {
    let worked: Vec<Uuid> = record.workers.iter().copied().collect();
    sqlx::query!("delete from batch_person where batch_id = $1 and person_id <> all($2)", book, &worked)
        .execute(&mut *tx)
        .await?;
    sqlx::query!(
        "insert into batch_person (batch_id, person_id) select $1, unnest($2::uuid[]) on conflict do nothing",
        book,
        &worked
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// Lots by the log: a struck pour gives its lot back.
async fn lots(tx: &mut PgConnection, book: Uuid, used: &[Uuid]) -> Result<(), Problem> {
    sqlx::query!("delete from lot_use where batch_id = $1 and lot_id <> all($2)", book, used).execute(&mut *tx).await?;
    sqlx::query!("insert into lot_use (batch_id, lot_id) select $1, unnest($2::uuid[]) on conflict do nothing", book, used)
        .execute(tx)
        .await?;
    Ok(())
}
