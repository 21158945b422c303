//! Records: finished batches, found by part, product, lot, person and day; their trends, and views that are kept.

pub mod trends;
pub mod views;

use crate::auth::Person;
use crate::export::{Cell, Table, workbook};
use crate::patterns::anywhere;
use crate::problem::{Answer, Problem};
use crate::sorted::{self, Column, Key, Sort};
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{Timestamp, ToSpan};
use jiff_sqlx::ToSqlx;
use level_keel_core::refusal::Refusal;
use level_keel_core::trends::TrendBy;
use serde::{Deserialize, Serialize};
use sqlx::postgres::PgRow;
use sqlx::{Postgres, QueryBuilder, Row};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Rows of one page.
const PAGE: i64 = 100;
/// Most rows of an export: a century of batches for one shop.
const EXPORT: i64 = 200_000;

/// A finished batch in the list.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RecordRow {
    pub id: Uuid,
    pub number: i64,
    pub label: String,
    pub product: String,
    /// signed or accepted.
    pub state: String,
    pub begun: Timestamp,
    pub last: Timestamp,
    /// Codes of the lots used.
    pub lots: Vec<String>,
    /// Who worked on it.
    pub people: Vec<String>,
}

/// A page of the list.
#[derive(Debug, Serialize, ToSchema)]
pub struct RecordPage {
    /// Newest first, or by the column asked for.
    pub rows: Vec<RecordRow>,
    /// Given back as `after` for the next page; missing at the end.
    pub next: Option<String>,
}

/// What to find. Every part given must fit.
#[derive(Debug, Clone, Default, Serialize, Deserialize, IntoParams, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Find {
    /// Part, coat, product, lot or number.
    #[serde(default)]
    pub find: String,
    /// Name of the part.
    #[serde(default)]
    pub part: String,
    /// Name of the product.
    #[serde(default)]
    pub product: String,
    /// Code of a lot.
    #[serde(default)]
    pub lot: String,
    /// Name of someone who worked on it.
    #[serde(default)]
    pub person: String,
    /// First shop day, `2026-11-23`.
    #[serde(default)]
    pub from: String,
    /// Last shop day.
    #[serde(default)]
    pub to: String,
    /// So many weeks back from today, in place of the first day.
    #[serde(default)]
    pub weeks: String,
    /// For trends: `product`, `rig` or `person`; missing: `product`. A list is by none of them.
    pub by: Option<TrendBy>,
    /// By which column: `last`, `number`, `part`, `product` or `begun`; with a minus before it from the end. Missing: `-last`.
    #[serde(default)]
    pub sort: String,
    /// The `next` of the page before.
    #[serde(default)]
    pub after: String,
}

/// Columns of the list. Each has its index, so that a page of a hundred thousand batches comes as fast as one of a hundred.
const COLUMNS: [Column; 5] = [
    Column { name: "last", sql: "b.last_happened", key: Key::Instant },
    Column { name: "number", sql: "b.number", key: Key::Whole },
    Column { name: "part", sql: "lower(b.label)", key: Key::Text },
    Column { name: "product", sql: "lower(b.product)", key: Key::Text },
    Column { name: "begun", sql: "b.begun", key: Key::Instant },
];

fn sorted(text: &str) -> Result<Sort, Refusal> {
    let text = if text.trim().is_empty() { "-last" } else { text };
    sorted::asked(text, &COLUMNS, "b.id", "The records are not sorted by this.")
}

fn day(field: &str, text: &str) -> Result<Option<Date>, Refusal> {
    match text.trim() {
        "" => Ok(None),
        text => text
            .parse()
            .map(Some)
            .map_err(|_| Refusal::bad_input("not-a-date", field, "Write a day as year-month-day: 2026-11-23.")),
    }
}

/// Weeks that may be asked for: ten years.
const MOST_WEEKS: i64 = 520;

impl Find {
    /// First and last day asked for; weeks count back from today.
    fn days(&self, today: Date) -> Result<(Option<Date>, Option<Date>), Refusal> {
        let from = match self.weeks.trim() {
            "" => day("from", &self.from)?,
            weeks => {
                let read = weeks.parse::<i64>().ok().filter(|n| (1..=MOST_WEEKS).contains(n));
                let text = format!("Write whole weeks, 1 to {MOST_WEEKS}.");
                let weeks = read.ok_or_else(|| Refusal::bad_input("not-weeks", "weeks", text))?;
                today.checked_sub(weeks.weeks()).ok()
            }
        };
        Ok((from, day("to", &self.to)?))
    }

    /// It can be asked.
    fn checked(&self, today: Date) -> Result<(), Refusal> {
        sorted(&self.sort)?;
        let long =
            [&self.find, &self.part, &self.product, &self.lot, &self.person].into_iter().any(|t| t.chars().count() > MOST_CHARS);
        if long {
            return Err(Refusal::bad_input("too-long", "find", format!("At most {MOST_CHARS} characters are looked for.")));
        }
        self.days(today).map(drop)
    }
}

/// Characters that are looked for in one field.
const MOST_CHARS: usize = 200;

/// The query for what is asked: only the conditions given stand in it, so that each finds its index.
fn query(find: &Find, zone: &TimeZone, today: Date, most: i64) -> Result<QueryBuilder<Postgres>, Problem> {
    let mut q = QueryBuilder::new("select b.id, b.number, b.label, b.product, b.state, b.begun, b.last_happened, ");
    let sort = sorted(&find.sort)?;
    sort.push_key(&mut q);
    q.push(
        " as key,
           array(select distinct l.code from lot_use u join lot l on l.id = u.lot_id where u.batch_id = b.id order by 1) as lots,
           array(select p.name from batch_person w join person p on p.id = w.person_id where w.batch_id = b.id order by 1) as people
         from batch b where b.state <> 'open'",
    );
    conditions(&mut q, find, zone, today)?;
    sort.push_after(&mut q, &find.after)?;
    sort.push_order(&mut q);
    q.push(" limit ").push_bind(most);
    Ok(q)
}

/// What is asked, as conditions on a batch `b`.
fn conditions(q: &mut QueryBuilder<Postgres>, find: &Find, zone: &TimeZone, today: Date) -> Result<(), Problem> {
    const BY_LOT: &str = "b.id in (select u.batch_id from lot_use u join lot l on l.id = u.lot_id where l.code ilike ";
    if !find.find.trim().is_empty() {
        let word = anywhere(&find.find);
        q.push(" and (b.label ilike ").push_bind(word.clone()).push(" or b.product ilike ").push_bind(word.clone());
        q.push(" or ").push(BY_LOT).push_bind(word).push(")");
        if let Ok(number) = find.find.trim().parse::<i64>() {
            q.push(" or b.number = ").push_bind(number);
        }
        q.push(")");
    }
    if !find.part.trim().is_empty() {
        q.push(" and b.part_id in (select id from part where name ilike ").push_bind(anywhere(&find.part)).push(")");
    }
    if !find.product.trim().is_empty() {
        q.push(" and b.product ilike ").push_bind(anywhere(&find.product));
    }
    if !find.lot.trim().is_empty() {
        q.push(" and ").push(BY_LOT).push_bind(anywhere(&find.lot)).push(")");
    }
    if !find.person.trim().is_empty() {
        q.push(" and b.id in (select w.batch_id from batch_person w join person p on p.id = w.person_id where p.name ilike ");
        q.push_bind(anywhere(&find.person)).push(")");
    }
    let start = |date: Date| date.to_zoned(zone.clone()).map(|z| z.timestamp()).map_err(|e| Problem::Fault(e.to_string()));
    let (from, to) = find.days(today)?;
    if let Some(from) = from {
        q.push(" and b.last_happened >= ").push_bind(start(from)?.to_sqlx());
    }
    if let Some(to) = to {
        let end = to.checked_add(1.day()).map_err(|_| Refusal::bad_input("not-a-date", "to", "This day is too far off."))?;
        q.push(" and b.begun < ").push_bind(start(end)?.to_sqlx());
    }
    Ok(())
}

/// The rows, each with the key it is sorted by.
async fn find_rows(state: &State, find: &Find, most: i64) -> Result<Vec<(RecordRow, String)>, Problem> {
    let zone = state.shop.zone();
    let rows: Vec<PgRow> = query(find, &zone, state.shop_day(), most)?.build().fetch_all(&state.searches).await?;
    rows.iter()
        .map(|r| {
            let row = RecordRow {
                id: r.try_get("id")?,
                number: r.try_get("number")?,
                label: r.try_get("label")?,
                product: r.try_get("product")?,
                state: r.try_get("state")?,
                begun: r.try_get::<jiff_sqlx::Timestamp, _>("begun")?.to_jiff(),
                last: r.try_get::<jiff_sqlx::Timestamp, _>("last_happened")?.to_jiff(),
                lots: r.try_get("lots")?,
                people: r.try_get("people")?,
            };
            Ok((row, r.try_get("key")?))
        })
        .collect()
}

/// Signed and accepted batches, newest first or by a column, a page at a time.
#[utoipa::path(operation_id = "records_list", tag = "records", params(Find), responses((status = 200, body = RecordPage), (status = 422)))]
#[get("/records")]
pub async fn list(state: web::Data<State>, _person: Person, find: web::Query<Find>) -> Answer<RecordPage> {
    let mut rows = find_rows(&state, &find, PAGE + 1).await?;
    let more = rows.len() as i64 > PAGE;
    rows.truncate(PAGE as usize);
    let next = rows.last().filter(|_| more).map(|(row, key)| sorted::next(key, row.id));
    Ok(web::Json(RecordPage { rows: rows.into_iter().map(|(row, _)| row).collect(), next }))
}

/// The same list whole, as a table.
#[utoipa::path(operation_id = "records_csv", tag = "records", params(Find), responses((status = 200, content_type = "text/csv"), (status = 422)))]
#[get("/records.csv")]
pub async fn csv(state: web::Data<State>, _person: Person, find: web::Query<Find>) -> Result<HttpResponse, Problem> {
    let mut table = Table::new(&["batch", "part_and_coat", "product", "state", "begun", "last_entry", "lots", "people", "id"])?;
    for (r, _) in find_rows(&state, &find, EXPORT).await? {
        let cells = [
            r.number.to_string(),
            r.label,
            r.product,
            r.state,
            r.begun.to_string(),
            r.last.to_string(),
            r.lots.join("; "),
            r.people.join("; "),
            r.id.to_string(),
        ];
        table.row(cells)?;
    }
    table.download(&format!("level-keel-records-{}.csv", state.shop_day()))
}

/// The same list whole, as a workbook: numbers are numbers, instants the shop's own time.
#[utoipa::path(operation_id = "records_xlsx", tag = "records", params(Find), responses((status = 200, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"), (status = 422)))]
#[get("/records.xlsx")]
pub async fn xlsx(state: web::Data<State>, _person: Person, find: web::Query<Find>) -> Result<HttpResponse, Problem> {
    let heads = ["batch", "part and coat", "product", "state", "begun", "last entry", "lots", "people"];
    let rows = find_rows(&state, &find, EXPORT).await?.into_iter().map(|(r, _)| {
        vec![
            Cell::Number(r.number as f64),
            Cell::Text(r.label),
            Cell::Text(r.product),
            Cell::Text(r.state),
            Cell::At(r.begun),
            Cell::At(r.last),
            Cell::Text(r.lots.join("; ")),
            Cell::Text(r.people.join("; ")),
        ]
    });
    workbook(&format!("level-keel-records-{}.xlsx", state.shop_day()), &heads, rows, &state.shop.zone())
}
