//! Lots from a table: read whole, every fault by its row, all or nothing.

mod store;

use store::entry_id;

use super::column;
use super::list::name_of;
use crate::auth::Person;
use crate::books::Writing;
use crate::problem::{Answer, Problem};
use crate::sheets::DryRun;
use crate::state::State;
use actix_web::http::StatusCode;
use actix_web::{post, web};
use futures_util::StreamExt;
use level_keel_core::quantity::{QuantityKind, Shown, show};
use level_keel_core::refusal::Refusal;
use level_keel_core::sheets::Sheet;
use level_keel_core::stores::StoreClass;
use level_keel_core::stores::import::{Columns, Row, RowFault};
use level_keel_core::stores::payload::PlaceRef;
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use std::collections::{HashMap, HashSet};
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
