//! Storing what a table said: rows of lots, and the books of each, some thousands at a time.

use super::{Import, Ready};
use crate::books::chain::request_hash;
use crate::live::CHANNEL;
use crate::problem::Problem;
use crate::stores::{column, left};
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::book::canonical::{cut, seal_entry};
use level_keel_core::book::{Entry, LedgerKind};
use level_keel_core::stores::LotKind;
use serde_json::json;
use sqlx::PgConnection;
use std::collections::HashMap;
use std::sync::Arc;
use uuid::Uuid;

/// Rows stored at a time.
const CHUNK: usize = 5_000;

impl Import<'_> {
    pub(super) async fn store(&self, tx: &mut PgConnection, ready: Vec<Ready>) -> Result<(), Problem> {
        let now = cut(self.state.clock.now());
        // The word indexes take their new words in one go and not with every few hundred rows.
        sqlx::query("set local gin_pending_list_limit = '64MB'").execute(&mut *tx).await?;
        let lots: Vec<Uuid> = ready.iter().map(|r| r.lot).collect();
        let heads = Arc::new(heads(tx, &lots).await?);
        let ready = Arc::new(ready);
        let (importing, who) = (self.id, self.person.id);
        // The next rows are chained while the database takes these.
        let forge = |from: usize| {
            let (ready, heads) = (ready.clone(), heads.clone());
            tokio::task::spawn_blocking(move || chained(importing, who, now, &ready, from, &heads))
        };
        let mut next = forge(0);
        for from in (0..ready.len()).step_by(CHUNK) {
            let forged = next.await.map_err(|e| Problem::Fault(e.to_string()))??;
            next = forge(from + CHUNK);
            let chunk = &ready[from..ready.len().min(from + CHUNK)];
            self.rows(tx, chunk, now).await?;
            self.entries(tx, forged, &heads, now).await?;
            // Told at once and not with the commit: it is how far the work is, not what is stored.
            let _ = self.state.live.told.send(format!("import:{}:{}:{}", self.id, from + chunk.len(), ready.len()));
        }
        // Lots that were typed at a pour before they came in: what was poured of them counts.
        let used =
            sqlx::query_scalar!("select distinct lot_id from lot_pour where lot_id = any($1)", &lots).fetch_all(&mut *tx).await?;
        left::settle(tx, &used).await?;
        sqlx::query!("select pg_notify($1, $2)", CHANNEL, self.id.to_string()).execute(&mut *tx).await?;
        // Many rows at once: until the planner has seen them it reads every one for a page of a hundred.
        sqlx::query("analyze lot").execute(&mut *tx).await?;
        sqlx::query("analyze book").execute(&mut *tx).await?;
        Ok(())
    }

    async fn rows(&self, tx: &mut PgConnection, chunk: &[Ready], now: Timestamp) -> Result<(), Problem> {
        let of = |f: &dyn Fn(&Ready) -> Option<String>| chunk.iter().map(f).collect::<Vec<Option<String>>>();
        let ids: Vec<Uuid> = chunk.iter().map(|r| r.lot).collect();
        let sheets: Vec<Uuid> = chunk.iter().map(|r| r.row.lot.sheet).collect();
        let codes: Vec<String> = chunk.iter().map(|r| r.row.lot.code.clone()).collect();
        let components: Vec<String> = chunk.iter().map(|r| column(r.row.lot.component)).collect();
        let classes: Vec<String> = chunk.iter().map(|r| r.class.name().into()).collect();
        let date =
            |f: fn(&Ready) -> Option<jiff::civil::Date>| chunk.iter().map(|r| f(r).map(|d| d.to_string())).collect::<Vec<_>>();
        let container: Vec<f64> = chunk.iter().map(|r| r.row.lot.container_g).collect();
        let containers: Vec<f64> = chunk.iter().map(|r| r.row.lot.containers_count).collect();
        let counted: Vec<Option<f64>> = chunk.iter().map(|r| r.row.left_g).collect();
        let left: Vec<f64> = chunk.iter().map(|r| r.row.left_g.unwrap_or_else(|| r.row.lot.total_g())).collect();
        let places: Vec<Option<Uuid>> = chunk.iter().map(|r| r.place.as_ref().map(|p| p.id)).collect();
        sqlx::query!(
            "insert into lot (id, code, sheet_id, component, created, makers_lot, colour, received, made, expires, container_g, containers,
               counted_g, counted_at, left_g, place_id, class)
             select u.id, u.code, u.sheet, u.component, $1::timestamptz, u.makers, u.colour, u.received::date, u.made::date, u.expires::date, u.container,
               u.containers, u.counted, case when u.counted is null then null else $1::timestamptz end, u.leftover, u.place, u.class
             from unnest($2::uuid[], $3::text[], $4::uuid[], $5::text[], $6::text[], $7::text[], $8::text[], $9::text[], $10::text[],
               $11::float8[], $12::float8[], $13::float8[], $14::float8[], $15::uuid[], $16::text[])
               as u(id, code, sheet, component, makers, colour, received, made, expires, container, containers, counted, leftover, place, class)
             on conflict (id) do update set makers_lot = excluded.makers_lot, colour = excluded.colour, received = excluded.received,
               made = excluded.made, expires = excluded.expires, container_g = excluded.container_g, containers = excluded.containers,
               counted_g = excluded.counted_g, counted_at = excluded.counted_at, left_g = excluded.left_g, place_id = excluded.place_id,
               class = excluded.class",
            now.to_sqlx() as _,
            &ids,
            &codes,
            &sheets,
            &components,
            &of(&|r| r.row.lot.makers_lot.clone()) as &[Option<String>],
            &of(&|r| r.row.lot.colour.clone()) as &[Option<String>],
            &date(|r| Some(r.row.lot.received)) as &[Option<String>],
            &date(|r| r.row.lot.made) as &[Option<String>],
            &date(|r| r.row.lot.expires_on()) as &[Option<String>],
            &container,
            &containers,
            &counted as &[Option<f64>],
            &left,
            &places as &[Option<Uuid>],
            &classes,
        )
        .execute(&mut *tx)
        .await?;
        // A new book begins with its head where its entries will end; one that stood before is moved with them.
        let heads: Vec<i64> = chunk.iter().map(|r| if r.row.left_g.is_some() { 2 } else { 1 }).collect();
        sqlx::query!(
            "insert into book (id, kind, created, head_seq) select u.id, 'lot', $2::timestamptz, u.head
             from unnest($1::uuid[], $3::int8[]) as u(id, head) on conflict (id) do nothing",
            &ids,
            now.to_sqlx() as _,
            &heads,
        )
        .execute(&mut *tx)
        .await?;
        Ok(())
    }

    /// The entries of a chunk, and the heads of books that stood before it.
    async fn entries(&self, tx: &mut PgConnection, out: Columned, heads: &Heads, now: Timestamp) -> Result<(), Problem> {
        sqlx::query!(
            "insert into entry (book_id, seq, id, kind, version, payload, who, happened, arrived, request_sha256, previous_hash, hash)
             select u.book, u.seq, u.id, u.kind, 1, u.payload, $1::uuid, $2::timestamptz, $2::timestamptz, u.request, u.previous, u.hash
             from unnest($3::uuid[], $4::int8[], $5::uuid[], $6::text[], $7::text[], $8::text[], $9::text[], $10::text[])
               as u(book, seq, id, kind, payload, request, previous, hash)",
            self.person.id,
            now.to_sqlx() as _,
            &out.books,
            &out.seqs,
            &out.ids,
            &out.kinds,
            &out.texts,
            &out.requests,
            &out.previous,
            &out.hashes,
        )
        .execute(&mut *tx)
        .await?;
        if heads.is_empty() {
            return Ok(());
        }
        let standing: Vec<Uuid> = heads.keys().copied().collect();
        sqlx::query!(
            "update book b set head_seq = u.seq from (select book, max(seq) as seq from unnest($1::uuid[], $2::int8[]) as u(book, seq) group by book) u
             where b.id = u.book and b.id = any($3)",
            &out.books,
            &out.seqs,
            &standing,
        )
        .execute(&mut *tx)
        .await?;
        Ok(())
    }
}

/// Where the book of a lot stands: sequence and hash of its last entry.
type Heads = HashMap<Uuid, (i64, String)>;

async fn heads(tx: &mut PgConnection, lots: &[Uuid]) -> Result<Heads, Problem> {
    let rows = sqlx::query!(
        "select b.id, b.head_seq, e.hash from book b join entry e on e.book_id = b.id and e.seq = b.head_seq where b.id = any($1)",
        lots
    )
    .fetch_all(tx)
    .await?;
    Ok(rows.into_iter().map(|r| (r.id, (r.head_seq, r.hash))).collect())
}

/// The id of an entry follows from the import and the row, so that an import sent again is known.
pub(super) fn entry_id(importing: Uuid, no: usize, kind: &str) -> Uuid {
    Uuid::new_v5(&importing, format!("{kind} {no}").as_bytes())
}

/// The books of one chunk: received, and counted where the table said what is left. Each is a chain of its own.
fn chained(importing: Uuid, who: Uuid, now: Timestamp, ready: &[Ready], from: usize, heads: &Heads) -> Result<Columned, Problem> {
    let mut out = Columned::default();
    for (no, ready) in (from + 1..).zip(ready.iter().skip(from).take(CHUNK)) {
        let (mut seq, mut previous) = heads.get(&ready.lot).cloned().unwrap_or_default();
        let mut lot = ready.row.lot.clone();
        lot.place.clone_from(&ready.place);
        let mut said = vec![(LotKind::Received, serde_json::to_value(&lot)?)];
        said.extend(ready.row.left_g.map(|g| (LotKind::Counted, json!({ "left_g": g }))));
        for (kind, payload) in said {
            seq += 1;
            let mut entry = Entry {
                id: entry_id(importing, no, kind.name()),
                seq,
                kind,
                version: kind.version(),
                payload,
                who,
                by: String::new(),
                happened: now,
                arrived: now,
                hash: String::new(),
            };
            let (text, hash) = seal_entry(ready.lot, &entry, &previous);
            entry.hash = hash;
            out.books.push(ready.lot);
            out.seqs.push(seq);
            out.ids.push(entry.id);
            out.kinds.push(kind.name().into());
            out.texts.push(text);
            out.requests.push(request_hash(kind.name(), &entry.payload));
            out.previous.push(previous);
            out.hashes.push(entry.hash.clone());
            previous = entry.hash;
        }
    }
    Ok(out)
}

/// Entries as the columns of one insert.
#[derive(Default)]
struct Columned {
    books: Vec<Uuid>,
    seqs: Vec<i64>,
    ids: Vec<Uuid>,
    kinds: Vec<String>,
    texts: Vec<String>,
    requests: Vec<String>,
    previous: Vec<String>,
    hashes: Vec<String>,
}
