//! A live remainder goes to another batch of the same sheet: an entry in both books, one transaction.

use super::chain::in_hand;
use super::{NewEntry, Writing, Written};
use crate::auth::Person;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{post, web};
use level_keel_core::batch::entries::{HandOver, take};
use level_keel_core::batch::{EntryKind, Record};
use serde::Deserialize;
use sqlx::PgConnection;
use std::sync::Arc;
use utoipa::ToSchema;
use uuid::Uuid;

/// What goes where.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HandingOver {
    /// Made by the browser: a double tap is one hand-over.
    pub id: Uuid,
    /// The pot.
    pub charge: Uuid,
    /// The batch it goes to.
    pub to_batch: Uuid,
}

/// Hands a live remainder over. It keeps its age, its ratio and its number.
#[utoipa::path(operation_id = "hand_over", tag = "batch", params(("id" = Uuid, Path)), request_body = HandingOver,
    responses((status = 200, body = Written), (status = 404), (status = 409), (status = 422)))]
#[post("/books/{id}/hand-over")]
pub async fn hand_over(
    state: web::Data<State>,
    person: Person,
    id: web::Path<Uuid>,
    body: web::Json<HandingOver>,
) -> Answer<Written> {
    let writing = Writing { view: true, inside: true, ..Writing::of(&state, &person, state.clock.now()) };
    Ok(web::Json(writing.hand_over(*id, body.into_inner()).await?))
}

impl Writing<'_> {
    async fn hand_over(&self, from: Uuid, wanted: HandingOver) -> Result<Written, Problem> {
        let mut tx = self.state.db.begin().await?;
        // Both books are locked in one order, whoever asks.
        let mut both = [from, wanted.to_batch];
        both.sort();
        for book in both {
            sqlx::query!("select id from book where id = $1 for update", book)
                .fetch_optional(&mut *tx)
                .await?
                .ok_or(Problem::NotFound("batch"))?;
        }
        let source = self.at_rest(&mut tx, from).await?;
        let target = self.at_rest(&mut tx, wanted.to_batch).await?;
        let out = HandOver { charge: wanted.charge, to_batch: wanted.to_batch, to_number: number(&target) };
        let mut there = None;
        // A repeat finds the pot closed by itself; then only the stored answer is asked for.
        if source.log.line(wanted.id).is_none() {
            let taken = take(&source, &target, &out, from, Uuid::new_v5(&wanted.id, b"pot"))?;
            let entry = NewEntry::now(Uuid::new_v5(&wanted.id, b"there"), EntryKind::TakeOver, serde_json::to_value(taken)?);
            there = Some(Box::pin(self.write::<Record>(&mut tx, wanted.to_batch, entry)).await?);
        }
        let entry = NewEntry::now(wanted.id, EntryKind::HandOver, serde_json::to_value(out)?);
        let answered = Box::pin(self.answered(&mut tx, from, entry)).await;
        let written = self.close(tx, from, answered).await?;
        // Both books are committed at once, and only then may either be kept.
        if let Some(made) = there.filter(|made| made.new && written.stored && !written.repeated) {
            self.state.books.batches.put(wanted.to_batch, made.book);
        }
        Ok(written)
    }

    async fn at_rest(&self, tx: &mut PgConnection, book: Uuid) -> Result<Arc<Record>, Problem> {
        let head = sqlx::query_scalar!("select head_seq from book where id = $1 and kind = 'batch'", book)
            .fetch_optional(&mut *tx)
            .await?
            .ok_or(Problem::NotFound("batch"))?;
        let record = in_hand::<Record>(tx, self.state, book, head).await?;
        if record.begin.is_none() {
            return Err(Problem::NotFound("batch"));
        }
        Ok(record)
    }
}

fn number(record: &Record) -> i64 {
    record.aim().map_or(0, |b| b.number)
}
