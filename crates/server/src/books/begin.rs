//! Beginning a batch: the book and its first entry in one transaction.

use super::chain::in_hand;
use super::enrich::BATCH_NUMBERS;
use super::{Made, NewEntry, Writing, Written};
use crate::lists;
use crate::parts::ensure;
use crate::problem::Problem;
use crate::sheets::newest;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::begin::{
    RepairWanted, Wanted, area_m2, by_method, check, zone_areas, zones as zones_of, zones_of_shapes,
};
use level_keel_core::batch::entries::{Repairs, Zone};
use level_keel_core::batch::job::{JobCoat, coats_wanted, pieces_wanted};
use level_keel_core::batch::view::BatchView;
use level_keel_core::batch::{EntryKind, RULES, Record};
use level_keel_core::book::without_typed;
use level_keel_core::film::FilmIs;
use level_keel_core::lists::Choosing;
use level_keel_core::quantity::{Prefs, resolve};
use level_keel_core::refusal::Refusal;
use level_keel_core::{batch::entries::Begin, wire::read};
use serde::Deserialize;
use serde_json::Value;
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

/// A batch as a browser asks for it.
#[derive(Debug, Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewBatch {
    /// Made by the browser; the book and the batch have it, so a double tap is one batch.
    pub id: Uuid,
    /// Sheet, part, coat, zones, area, film, transfer efficiency, thinner; quantities as numbers or texts.
    #[schema(value_type = crate::openapi::WantedTyped)]
    pub wanted: Value,
}

/// The zones with what they are drawn as, where the take-off says it.
fn with_shapes(zones: Vec<Zone>, wanted: &Wanted) -> Vec<Zone> {
    let shapes = zones_of_shapes(wanted);
    let shape = |zone: &Zone| shapes.iter().find(|(name, ..)| name.eq_ignore_ascii_case(&zone.name)).map(|(.., shape)| *shape);
    zones.into_iter().map(|zone| Zone { shape: shape(&zone), ..zone }).collect()
}

impl Writing<'_> {
    /// Begins a batch.
    pub async fn begin(&self, new: NewBatch) -> Result<Written, Problem> {
        let book = new.id;
        let mut tx = self.state.db.begin().await?;
        let answered = self.begin_in(&mut tx, new).await;
        self.close(tx, book, answered).await
    }

    async fn begin_in(&self, tx: &mut PgConnection, new: NewBatch) -> Result<(Made<Record>, Option<BatchView>), Problem> {
        // One person's double tap must not race itself into two numbers.
        sqlx::query!("select pg_advisory_xact_lock($1)", BATCH_NUMBERS).execute(&mut *tx).await?;
        // The first entry's id follows from the book's, so a repeat finds it.
        let entry = Uuid::new_v5(&new.id, b"begin");
        let mut wanted = new.wanted;
        let typed = resolve(&mut wanted, self.person.prefs)?;
        let wanted: Wanted = read(wanted)?;
        let existing = sqlx::query_scalar!("select payload from entry where book_id = $1 and seq = 1", new.id)
            .fetch_optional(&mut *tx)
            .await?;
        // The server pins what the batch is begun with: this kind is not taken from outside.
        let inside = Writing { inside: true, ..*self };
        let payload = match existing {
            Some(stored) => same(&wanted, &serde_json::from_str(&stored)?)?,
            None => {
                let payload = self.first_entry(tx, new.id, &wanted, typed).await?;
                Box::pin(inside.further_coats(tx, new.id, &payload)).await?;
                payload
            }
        };
        Box::pin(inside.answered(tx, new.id, NewEntry::now(entry, EntryKind::Begin, payload))).await
    }

    /// The coats of a job after its first: batches of their own, begun in the same transaction with the same figures.
    async fn further_coats(&self, tx: &mut PgConnection, first: Uuid, payload: &Value) -> Result<(), Problem> {
        let begin: Begin = read(without_typed(payload).unwrap_or_else(|| payload.clone()))?;
        let Some(job) = begin.job else { return Ok(()) };
        for coat in 2..=job.of {
            let book = JobCoat::batch_of(first, coat);
            self.book_of_a_batch(tx, book).await?;
            let number = begin.number + i64::from(coat) - 1;
            let payload = serde_json::to_value(Begin { number, job: Some(JobCoat { coat, ..job }), ..begin.clone() })?;
            let entry = NewEntry::now(Uuid::new_v5(&book, b"begin"), EntryKind::Begin, payload);
            self.write::<Record>(tx, book, entry).await?;
        }
        Ok(())
    }

    async fn book_of_a_batch(&self, tx: &mut PgConnection, book: Uuid) -> Result<(), Problem> {
        sqlx::query!("insert into book (id, kind, created) values ($1, 'batch', $2)", book, self.now.to_sqlx() as _)
            .execute(&mut *tx)
            .await?;
        Ok(())
    }

    /// The defect it repairs, as the book of its batch has it.
    async fn repaired(&self, tx: &mut PgConnection, wanted: &Wanted) -> Result<Option<Repairs>, Problem> {
        let Some(RepairWanted { batch, defect }) = wanted.repairs else { return Ok(None) };
        let unknown = || Refusal::bad_input("unknown-defect", "repairs", "No such defect was seen there.");
        let head = sqlx::query_scalar!("select head_seq from book where id = $1 and kind = 'batch'", batch)
            .fetch_optional(&mut *tx)
            .await?
            .ok_or_else(unknown)?;
        let record = in_hand::<Record>(tx, self.state, batch, head).await?;
        let seen = record.defects.iter().find(|d| d.entry == defect).ok_or_else(unknown)?;
        let number = record.aim().map_or(0, |aim| aim.number);
        Ok(Some(Repairs { batch, number, defect, symptom: seen.it.symptom }))
    }

    async fn first_entry(
        &self,
        tx: &mut PgConnection,
        book: Uuid,
        wanted: &Wanted,
        typed: std::collections::BTreeMap<String, String>,
    ) -> Result<Value, Problem> {
        let (sheet_version, sheet_edition, sheet) = newest(tx, wanted.sheet).await?;
        let sheet = by_method(sheet, wanted.method)?;
        let film = check(wanted, &sheet, self.person.prefs)?;
        let area_m2 = area_m2(wanted, self.person.prefs)?;
        let (_, lists) = lists::newest(tx).await?;
        let thinner_pct = wanted.thinner_pct.unwrap_or(0.0);
        let alone = self.state.shop.now().works_alone;
        let choosing = Choosing {
            sheet: &sheet,
            substrate: wanted.substrate,
            method: wanted.method,
            area_m2,
            thinner_pct,
            alone,
            repair: wanted.repairs.is_some(),
        };
        let items = choosing.choose(&lists.items);
        let coats = coats_wanted(wanted.coat_count, sheet.coats_most_count, self.person.prefs)?;
        let asked = zones_of(wanted);
        let areas = zone_areas(&asked, area_m2, self.person.prefs)?;
        let zones: Vec<(&str, f64, bool)> =
            asked.iter().zip(areas).map(|(zone, (m2, assumed))| (zone.name(), m2, assumed)).collect();
        let rows = ensure(tx, &wanted.part, &wanted.coat, &zones, self.now).await?;
        self.book_of_a_batch(tx, book).await?;
        let number =
            sqlx::query_scalar!("select coalesce(max(number), 0) + 1 from batch").fetch_one(&mut *tx).await?.unwrap_or(1);
        let begin = Begin {
            number,
            sheet_version,
            sheet_edition,
            sheet,
            part: rows.part,
            part_name: wanted.part.trim().into(),
            part_label: rows.label,
            zones: with_shapes(rows.zones, wanted),
            coat: rows.coat,
            coat_name: wanted.coat.trim().into(),
            area_m2,
            takeoff: wanted.takeoff.clone(),
            wet_um: film.wet_um,
            dry_um: film.dry_um,
            transfer_pct: wanted.transfer_pct,
            thinner_pct,
            substrate: wanted.substrate,
            method: wanted.method,
            items,
            rules: RULES,
            alone,
            job: (coats > 1).then_some(JobCoat { job: book, coat: 1, of: coats }),
            pieces: pieces_wanted(wanted.piece_count, wanted.side_count, self.person.prefs)?,
            zone: Some(self.state.shop.zone_name()),
            repairs: self.repaired(tx, wanted).await?,
        };
        let mut payload = serde_json::to_value(begin)?;
        if let (Value::Object(map), false) = (&mut payload, typed.is_empty()) {
            map.insert("typed".into(), serde_json::to_value(typed)?);
        }
        Ok(payload)
    }
}

/// A repeat must ask for the same batch; then the stored entry is sent again.
fn same(wanted: &Wanted, stored: &Value) -> Result<Value, Problem> {
    let field = |name: &str| stored.get(name).cloned().unwrap_or_default();
    let film = if wanted.film_is == FilmIs::Dry { field("dry_um") } else { field("wet_um") };
    let stored_coats = stored.get("job").and_then(|j| j.get("of")).and_then(Value::as_f64).unwrap_or(1.0);
    let zones: Vec<String> =
        field("zones").as_array().into_iter().flatten().filter_map(|z| Some(z.get("name")?.as_str()?.to_lowercase())).collect();
    let alike = field("part_name") == wanted.part.trim()
        && field("coat_name") == wanted.coat.trim()
        && area_m2(wanted, Prefs::METRIC).is_ok_and(|m2| field("area_m2") == m2)
        && field("pieces") == serde_json::to_value(pieces_wanted(wanted.piece_count, wanted.side_count, Prefs::METRIC)?)?
        && stored_coats == wanted.coat_count.unwrap_or(1.0)
        && field("transfer_pct") == wanted.transfer_pct
        && film == wanted.film_um
        && field("thinner_pct") == wanted.thinner_pct.unwrap_or(0.0)
        && zones == zones_of(wanted).iter().map(|z| z.name().to_lowercase()).collect::<Vec<_>>();
    if alike {
        Ok(stored.clone())
    } else {
        Err(Refusal::conflict("id-taken", "This batch was begun with other figures. Begin afresh.").into())
    }
}
