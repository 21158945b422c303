//! Lots from a table: read whole, every fault by its row, all or nothing.

use super::list::name_of;
use super::{column, left};
use crate::auth::Person;
use crate::books::Writing;
use crate::books::chain::request_hash;
use crate::live::CHANNEL;
use crate::problem::{Answer, Problem};
use crate::sheets::DryRun;
use crate::state::State;
use actix_web::http::StatusCode;
use actix_web::{post, web};
use futures_util::StreamExt;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::book::canonical::{cut, seal_entry};
use level_keel_core::book::{Entry, LedgerKind};
use level_keel_core::quantity::{QuantityKind, Shown, show};
use level_keel_core::refusal::Refusal;
use level_keel_core::sheets::Sheet;
use level_keel_core::stores::import::{Columns, Row, RowFault};
use level_keel_core::stores::payload::PlaceRef;
use level_keel_core::stores::{LotKind, StoreClass};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::PgConnection;
use std::collections::{HashMap, HashSet};
use std::sync::Arc;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Rows of one table.
const MOST_ROWS: usize = 50_000;
/// Its bytes.
const MOST_BYTES: usize = 16 * 1024 * 1024;
/// Faults listed; all are counted.
const LISTED: usize = 200;
/// Rows shown before they are stored.
const PREVIEWED: usize = 50;
/// Rows stored at a time.
const CHUNK: usize = 5_000;

/// Which import it is.
#[derive(Debug, Deserialize, IntoParams)]
pub struct Importing {
    /// Made by the browser when the file is chosen: the same file sent twice is one import.
    pub id: Uuid,
}

/// One row as it would be stored.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Previewed {
    pub row: usize,
    pub code: String,
    pub product: String,
    pub component: String,
    pub received: jiff::civil::Date,
    pub expires: Option<jiff::civil::Date>,
    pub left: Shown,
    pub place: Option<String>,
}

/// What a table says, and what came of it.
#[derive(Debug, Serialize, ToSchema)]
pub struct Imported {
    /// Rows beneath the header.
    pub rows: usize,
    /// Faults in all; nothing is stored while there is one.
    pub fault_count: usize,
    /// The first of them.
    pub faults: Vec<RowFault>,
    /// The first rows, as they are understood.
    pub preview: Vec<Previewed>,
    /// Lots stored.
    pub stored: usize,
}

/// A row with what it names found.
struct Ready {
    row: Row,
    lot: Uuid,
    class: StoreClass,
    place: Option<PlaceRef>,
}

/// What rows may name.
struct Known {
    /// By lower-case name.
    sheets: HashMap<String, (Uuid, Sheet)>,
    places: HashMap<String, PlaceRef>,
    /// Lots by sheet, component and lower-case code: whether they are received.
    lots: HashMap<(Uuid, String, String), (Uuid, bool)>,
    /// Classes that stand in a place.
    standing: HashMap<Uuid, HashSet<&'static str>>,
}

/// Imports lots from a CSV table. With `dry_run` it reads and judges, and stores nothing.
#[utoipa::path(operation_id = "lots_import", tag = "stores", params(Importing, DryRun), request_body(content = String, content_type = "text/csv"), responses((status = 200, body = Imported), (status = 413), (status = 422)))]
#[post("/lots/import")]
pub async fn import(
    state: web::Data<State>,
    person: Person,
    which: web::Query<Importing>,
    dry: web::Query<DryRun>,
    mut body: web::Payload,
) -> Answer<Imported> {
    let mut bytes = Vec::new();
    while let Some(chunk) = body.next().await {
        let chunk = chunk.map_err(|e| Problem::Request(StatusCode::BAD_REQUEST, format!("The table broke off: {e}.")))?;
        if bytes.len() + chunk.len() > MOST_BYTES {
            return Err(Problem::Request(StatusCode::PAYLOAD_TOO_LARGE, "A table may have at most 16 MB.".into()));
        }
        bytes.extend_from_slice(&chunk);
    }
    let importing = Import { state: &state, person: &person, id: which.id };
    Ok(web::Json(importing.run(&bytes, dry.dry_run).await?))
}

struct Import<'a> {
    state: &'a State,
    person: &'a Person,
    id: Uuid,
}

impl Import<'_> {
    async fn run(&self, bytes: &[u8], dry_run: bool) -> Result<Imported, Problem> {
        let mut tx = self.state.db.begin().await?;
        // One import at a time: two with the same new names would each miss the other's.
        sqlx::query!("select pg_advisory_xact_lock($1)", 0x4b45_4c03_i64).execute(&mut *tx).await?;
        let repeated = sqlx::query_scalar!("select count(*) from entry where id = $1", self.entry(1, "received"))
            .fetch_one(&mut *tx)
            .await?;
        let records = table(bytes)?;
        let mut answer = Imported {
            rows: records.len().saturating_sub(1),
            fault_count: 0,
            faults: Vec::new(),
            preview: Vec::new(),
            stored: 0,
        };
        if repeated.unwrap_or(0) > 0 {
            // Sent again after a lost answer: it stands already.
            return Ok(Imported { stored: answer.rows, ..answer });
        }
        let known = known(&mut tx).await?;
        let (rows, faults) = self.read(&records, &known);
        if faults.is_empty() {
            // Names of places become rows at once; in a dry run the transaction ends without them.
            let ready = self.find(&mut tx, rows, known, &mut answer).await?;
            if let Some(ready) = ready {
                answer.preview = self.preview(&ready);
                if !dry_run {
                    answer.stored = ready.len();
                    self.store(&mut tx, ready).await?;
                    tx.commit().await?;
                }
            }
        } else {
            tally(&mut answer, faults);
        }
        Ok(answer)
    }

    /// Every row on its own.
    fn read(&self, records: &[csv::StringRecord], known: &Known) -> (Vec<(usize, Row)>, Vec<RowFault>) {
        let whole = |text: String| vec![RowFault { row: 1, column: None, text }];
        let Some((header, rest)) = records.split_first() else { return (Vec::new(), whole("The table is empty.".into())) };
        let columns = match Columns::read(&header.iter().collect::<Vec<_>>()) {
            Ok(columns) => columns,
            Err(faults) => return (Vec::new(), faults),
        };
        if rest.is_empty() {
            return (Vec::new(), whole("There is no row beneath the header.".into()));
        }
        if rest.len() > MOST_ROWS {
            return (Vec::new(), whole(format!("{} rows; at most {MOST_ROWS} at a time.", rest.len())));
        }
        let (today, prefs) = (self.state.shop_day(), self.person.prefs);
        let (mut rows, mut faults) = (Vec::new(), Vec::new());
        let mut seen: HashMap<(Uuid, String, String), usize> = HashMap::new();
        for (no, record) in (2..).zip(rest) {
            let cells: Vec<&str> = record.iter().collect();
            if cells.len() != header.len() {
                let text =
                    format!("{} cells where the header has {}. A cell with a comma wants quotes.", cells.len(), header.len());
                faults.push(RowFault { row: no, column: None, text });
                continue;
            }
            match columns.row(no, &cells, today, prefs) {
                Err(more) => faults.extend(more),
                Ok(mut row) => {
                    let fault = |column: &str, text: String| RowFault { row: no, column: Some(column.into()), text };
                    let Some((sheet, body)) = known.sheets.get(&row.product.to_lowercase()) else {
                        faults.push(fault("product", format!("There is no sheet named “{}”.", row.product)));
                        continue;
                    };
                    if row.lot.component == level_keel_core::mixing::Component::Hardener && !body.has_hardener {
                        faults.push(fault("component", "This product has no second component.".into()));
                        continue;
                    }
                    row.lot.sheet = *sheet;
                    row.lot.product.clone_from(&body.name);
                    row.lot.shelf_life_days = row.lot.shelf_life_days.or(body.shelf_life_days);
                    let key = (*sheet, column(row.lot.component), row.lot.code.to_lowercase());
                    if let Some(first) = seen.insert(key.clone(), no) {
                        faults.push(fault("code", format!("Lot {} stands in row {first} already.", row.lot.code)));
                    } else if known.lots.get(&key).is_some_and(|(_, received)| *received) {
                        faults.push(fault("code", format!("Lot {} is in the stores already.", row.lot.code)));
                    }
                    rows.push((no, row));
                }
            }
        }
        (rows, faults)
    }

    /// Finds places and lots, and what may not stand together. `None`: there are faults, counted in the answer.
    async fn find(
        &self,
        tx: &mut PgConnection,
        rows: Vec<(usize, Row)>,
        mut known: Known,
        answer: &mut Imported,
    ) -> Result<Option<Vec<Ready>>, Problem> {
        let writing = Writing::of(self.state, self.person, self.state.clock.now());
        let (mut ready, mut faults) = (Vec::with_capacity(rows.len()), Vec::new());
        for (no, row) in rows {
            let place = match &row.place {
                None => None,
                Some(name) => {
                    let key = name.to_lowercase();
                    if !known.places.contains_key(&key) {
                        let (id, name) = super::places::ensure_place(&writing, tx, name).await?;
                        known.places.insert(key.clone(), PlaceRef { id, name });
                    }
                    known.places.get(&key).cloned()
                }
            };
            let class = known
                .sheets
                .get(&row.product.to_lowercase())
                .map_or(StoreClass::Other, |(_, s)| StoreClass::of(s, row.lot.component));
            if let Some(place) = &place {
                let there = known.standing.entry(place.id).or_default();
                let clash = there.iter().any(|c| StoreClass::from_name(c).clashes(class));
                if clash {
                    let text = "Peroxide may not stand beside resin or gel coat. Put one of them in another place.".into();
                    faults.push(RowFault { row: no, column: Some("place".into()), text });
                }
                there.insert(class.name());
            }
            let key = (row.lot.sheet, column(row.lot.component), row.lot.code.to_lowercase());
            let lot = known.lots.get(&key).map_or_else(|| Uuid::new_v5(&self.id, format!("lot {no}").as_bytes()), |(id, _)| *id);
            ready.push(Ready { row, lot, class, place });
        }
        if faults.is_empty() {
            return Ok(Some(ready));
        }
        tally(answer, faults);
        Ok(None)
    }

    fn preview(&self, ready: &[Ready]) -> Vec<Previewed> {
        let shown = ready.iter().zip(2..).take(PREVIEWED);
        shown
            .map(|(r, no)| Previewed {
                row: no,
                code: r.row.lot.code.clone(),
                product: r.row.lot.product.clone(),
                component: name_of(r.row.lot.component, None),
                received: r.row.lot.received,
                expires: r.row.lot.expires_on(),
                left: show(r.row.left_g.unwrap_or_else(|| r.row.lot.total_g()), QuantityKind::Mass, self.person.prefs),
                place: r.place.as_ref().map(|p| p.name.clone()),
            })
            .collect()
    }

    fn entry(&self, no: usize, kind: &str) -> Uuid {
        entry_id(self.id, no, kind)
    }

    async fn store(&self, tx: &mut PgConnection, ready: Vec<Ready>) -> Result<(), Problem> {
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
            let _ = self.state.live.0.send(format!("import:{}:{}:{}", self.id, from + chunk.len(), ready.len()));
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
fn entry_id(importing: Uuid, no: usize, kind: &str) -> Uuid {
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

fn tally(answer: &mut Imported, mut faults: Vec<RowFault>) {
    faults.sort_by_key(|f| f.row);
    answer.fault_count = faults.len();
    faults.truncate(LISTED);
    answer.faults = faults;
}

/// The cells of a table, with its byte-order mark taken off and its separator found in the header.
fn table(bytes: &[u8]) -> Result<Vec<csv::StringRecord>, Problem> {
    let text = std::str::from_utf8(bytes)
        .map_err(|_| Refusal::bad_input("not-text", "file", "This table is not UTF-8 text. Save it as CSV, UTF-8."))?;
    let text = text.trim_start_matches('\u{feff}');
    let header = text.lines().next().unwrap_or_default();
    let count = |c: char| header.matches(c).count();
    let separator = [b',', b';', b'\t'].into_iter().max_by_key(|c| (count(char::from(*c)), *c == b',')).unwrap_or(b',');
    let mut reader =
        csv::ReaderBuilder::new().has_headers(false).flexible(true).delimiter(separator).from_reader(text.as_bytes());
    let mut records = Vec::new();
    for record in reader.records() {
        let record = record.map_err(|e| Refusal::bad_input("not-a-table", "file", format!("This is not a CSV table: {e}.")))?;
        // A line left blank at the end is none.
        if record.iter().any(|cell| !cell.trim().is_empty()) {
            records.push(record);
        }
        if records.len() > MOST_ROWS + 2 {
            break;
        }
    }
    Ok(records)
}

async fn known(tx: &mut PgConnection) -> Result<Known, Problem> {
    let sheets =
        sqlx::query!("select distinct on (sheet_id) sheet_id, name, body from sheet_version order by sheet_id, edition desc")
            .fetch_all(&mut *tx)
            .await?;
    let sheets = sheets
        .into_iter()
        .map(|r| Ok((r.name.to_lowercase(), (r.sheet_id, serde_json::from_value(r.body)?))))
        .collect::<Result<_, Problem>>()?;
    let places = sqlx::query!("select id, name from place").fetch_all(&mut *tx).await?;
    let places = places.into_iter().map(|r| (r.name.to_lowercase(), PlaceRef { id: r.id, name: r.name })).collect();
    let lots = sqlx::query!(r#"select id, sheet_id, component, code, received is not null as "received!" from lot"#)
        .fetch_all(&mut *tx)
        .await?;
    let lots = lots.into_iter().map(|r| ((r.sheet_id, r.component, r.code.to_lowercase()), (r.id, r.received))).collect();
    let standing =
        sqlx::query!(r#"select distinct place_id as "place!", class from lot where place_id is not null and left_g > 0"#)
            .fetch_all(&mut *tx)
            .await?;
    let mut there: HashMap<Uuid, HashSet<&'static str>> = HashMap::new();
    for row in standing {
        there.entry(row.place).or_default().insert(StoreClass::from_name(&row.class).name());
    }
    Ok(Known { sheets, places, lots, standing: there })
}
