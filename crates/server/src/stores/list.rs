//! Lots in a list, oldest first, found without reading every row; and as a table with the columns of the import.

use super::known::first_in;
use super::{column, component};
use crate::auth::Person;
use crate::export::Table;
use crate::problem::{Answer, Problem};
use crate::sorted::{self, Column, Key, Sort};
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use jiff::civil::Date;
use jiff_sqlx::ToSqlx;
use level_keel_core::mixing::Component;
use level_keel_core::quantity::{Prefs, QuantityKind, Shown, show};
use level_keel_core::refusal::Refusal;
use level_keel_core::stores::fifo::{LotState, SOON_DAYS, Waiting, first};
use level_keel_core::stores::import::COLUMNS;
use level_keel_core::worded::Worded;
use serde::{Deserialize, Serialize};
use sqlx::{Postgres, QueryBuilder};
use std::collections::HashMap;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Lots of one page.
const PAGE: i64 = 100;

/// What is looked for.
#[derive(Debug, Default, Deserialize, IntoParams)]
#[serde(default)]
pub struct Find {
    /// In code, maker's lot, product.
    pub find: String,
    /// A product by id.
    pub sheet: Option<Uuid>,
    /// A product by any version of its sheet.
    pub version: Option<Uuid>,
    /// `base`, `hardener`, `thinner` …
    pub component: String,
    /// A place by id.
    pub place: Option<Uuid>,
    /// `fit`, `soon`, `expired`, `quarantined`, `empty`; empty: all that are not used up.
    pub state: String,
    /// By which column: `code`, `left`, `expires` or `place`; with a minus before it from the end. Missing: the oldest first.
    pub sort: String,
    /// Where the page before ended.
    pub after: String,
}

/// Columns lots are sorted by, beside their age. What never expires expires last of all.
const BY_COLUMN: [Column; 4] = [
    Column { name: "code", sql: "lower(l.code)", key: Key::Text },
    Column { name: "left", sql: "coalesce(l.left_g, 0)", key: Key::Float },
    Column { name: "expires", sql: "coalesce(l.expires, 'infinity'::date)", key: Key::Day },
    Column { name: "place", sql: "coalesce(lower(p.name), '')", key: Key::Text },
];

/// The column; nothing: the oldest first.
fn sorted(text: &str) -> Result<Option<Sort>, Refusal> {
    if text.trim().is_empty() {
        return Ok(None);
    }
    sorted::asked(text, &BY_COLUMN, "l.id", "Lots are not sorted by this.").map(Some)
}

/// A lot in the list.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LotRow {
    pub id: Uuid,
    pub code: String,
    pub sheet: Uuid,
    pub product: String,
    pub component: Component,
    pub component_name: String,
    pub makers_lot: Option<String>,
    pub colour: Option<String>,
    pub received: Date,
    pub expires: Option<Date>,
    pub left: Shown,
    /// Part of what came in, 0 to 1, for the picture.
    pub left_part: f64,
    pub place: Option<String>,
    pub state: LotState,
    /// How it stands, in a few words.
    pub word: String,
    /// The one to take first of its product and component.
    pub first: bool,
    pub certified: bool,
}

/// One page.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LotPage {
    pub lots: Vec<LotRow>,
    /// Where the next page begins; missing: this is the last.
    pub next: Option<String>,
}

struct Raw {
    row: LotRow,
    key: String,
    waiting: Waiting,
    made: Option<Date>,
    container_g: f64,
    containers: f64,
}

async fn read(state: &State, person: &Person, find: &Find, limit: i64) -> Result<Vec<Raw>, Problem> {
    let today = state.shop_day();
    // The sheets are few and named once, not with every lot.
    let sheets = sqlx::query!(
        r#"select distinct on (sheet_id) sheet_id, name, body -> 'additives' as additives from sheet_version order by sheet_id, edition desc"#
    )
    .fetch_all(&state.db)
    .await?;
    let word = find.find.trim().to_lowercase();
    let named: Vec<Uuid> = sheets.iter().filter(|s| s.name.to_lowercase().contains(&word)).map(|s| s.sheet_id).collect();
    let sheets: HashMap<Uuid, (String, Option<String>)> =
        sheets.into_iter().map(|s| (s.sheet_id, (s.name, s.additives.map(|a| a.to_string())))).collect();
    let mut q = query(find, &named, today)?;
    q.push(" limit ").push_bind(limit);
    let rows: Vec<Found> = q.build_query_as().fetch_all(&state.searches).await?;
    rows.into_iter().map(|found| found.raw(&sheets, today, person.prefs)).collect()
}

/// The query for what is asked: only the conditions given stand in it, so that each finds its index. `named` are the sheets whose
/// name holds the words.
fn query(find: &Find, named: &[Uuid], today: Date) -> Result<QueryBuilder<Postgres>, Refusal> {
    let sort = sorted(&find.sort)?;
    let mut q = QueryBuilder::new(
        "select l.id, l.code, l.sheet_id, l.component, l.makers_lot, l.colour, l.received, l.made, l.expires, l.container_g,
           l.containers, l.left_g, l.quarantined, l.damaged, l.certified, p.name as place, ",
    );
    match &sort {
        Some(sort) => sort.push_key(&mut q),
        None => drop(q.push("''")),
    }
    q.push(" as key from lot l left join place p on p.id = l.place_id where l.received is not null");
    let words = find.find.trim().to_lowercase();
    if !words.is_empty() {
        q.push(" and (l.sheet_id = any(")
            .push_bind(named.to_vec())
            .push(") or position(")
            .push_bind(words)
            .push(" in l.words) > 0)");
    }
    if let Some(sheet) = find.sheet {
        q.push(" and l.sheet_id = ").push_bind(sheet);
    }
    if let Some(version) = find.version {
        q.push(" and l.sheet_id = (select sheet_id from sheet_version where id = ").push_bind(version).push(")");
    }
    if !find.component.trim().is_empty() {
        q.push(" and l.component = ").push_bind(find.component.trim().to_string());
    }
    if let Some(place) = find.place {
        q.push(" and l.place_id = ").push_bind(place);
    }
    let soon = today.checked_add(jiff::Span::new().days(SOON_DAYS)).unwrap_or(today);
    let (today, soon) = (today.to_sqlx(), soon.to_sqlx());
    match find.state.as_str() {
        "fit" => {
            q.push(" and l.left_g > 0 and l.quarantined is null and l.damaged is null and (l.expires is null or l.expires >= ");
            q.push_bind(today).push(")");
        }
        "soon" => {
            q.push(" and l.left_g > 0 and l.quarantined is null and l.expires between ").push_bind(today);
            q.push(" and ").push_bind(soon);
        }
        "expired" => drop(q.push(" and l.left_g > 0 and l.expires < ").push_bind(today)),
        "quarantined" => drop(q.push(" and l.quarantined is not null")),
        "empty" => drop(q.push(" and l.left_g <= 0")),
        "all" => {}
        _ => drop(q.push(" and l.left_g > 0")),
    }
    match &sort {
        Some(sort) => {
            sort.push_after(&mut q, &find.after)?;
            sort.push_order(&mut q);
        }
        None => {
            // By age, as the index gives them, from where the page before ended.
            if !find.after.is_empty() {
                let (day, code, id) = cursor(&find.after).ok_or_else(sorted::lost)?;
                q.push(" and (l.received, l.code, l.id) > (").push_bind(day.to_sqlx()).push(", ");
                q.push_bind(code).push(", ").push_bind(id).push(")");
            }
            q.push(" order by l.received, l.code, l.id");
        }
    }
    Ok(q)
}

/// A row of the table.
#[derive(sqlx::FromRow)]
struct Found {
    id: Uuid,
    code: String,
    sheet_id: Uuid,
    component: String,
    makers_lot: Option<String>,
    colour: Option<String>,
    received: jiff_sqlx::Date,
    made: Option<jiff_sqlx::Date>,
    expires: Option<jiff_sqlx::Date>,
    container_g: Option<f64>,
    containers: Option<f64>,
    left_g: Option<f64>,
    quarantined: Option<String>,
    damaged: Option<String>,
    certified: bool,
    place: Option<String>,
    /// What it is sorted by, as text.
    key: String,
}

impl Found {
    /// As it is listed; `sheets` name products and their additives by id.
    fn raw(self, sheets: &HashMap<Uuid, (String, Option<String>)>, today: Date, prefs: Prefs) -> Result<Raw, Problem> {
        let of = component(&self.component)?;
        let left_g = self.left_g.unwrap_or(0.0);
        let (container_g, containers) = (self.container_g.unwrap_or(0.0), self.containers.unwrap_or(0.0));
        let total = container_g * containers;
        let waiting = Waiting {
            code: self.code.clone(),
            received: self.received.to_jiff(),
            expires: self.expires.map(|d| d.to_jiff()),
            quarantined: self.quarantined.is_some(),
            damaged: self.damaged.is_some(),
            left_g,
        };
        let (product, additives) = sheets.get(&self.sheet_id).cloned().unwrap_or_default();
        let (state, word) = waiting.state(today);
        let word = match (&state, &self.quarantined, &self.damaged) {
            (LotState::Quarantined, Some(why), _) => format!("quarantined: {why}"),
            (LotState::Damaged, _, Some(how)) => format!("damaged: {how}"),
            _ => word,
        };
        let row = LotRow {
            id: self.id,
            code: self.code,
            sheet: self.sheet_id,
            product,
            component: of,
            component_name: name_of(of, additives.as_deref()),
            makers_lot: self.makers_lot,
            colour: self.colour,
            received: waiting.received,
            expires: waiting.expires,
            left: show(left_g, QuantityKind::Mass, prefs),
            left_part: if total > 0.0 { (left_g / total).clamp(0.0, 1.0) } else { 0.0 },
            place: self.place,
            state,
            word,
            first: false,
            certified: self.certified,
        };
        Ok(Raw { row, key: self.key, waiting, made: self.made.map(|d| d.to_jiff()), container_g, containers })
    }
}

/// What a component is called: an additive by its own name.
pub fn name_of(of: Component, additives: Option<&str>) -> String {
    let own = of.additive().zip(additives).and_then(|(i, text)| {
        let all: Vec<serde_json::Value> = serde_json::from_str(text).ok()?;
        all.get(i)?.get("name")?.as_str().map(String::from)
    });
    own.unwrap_or_else(|| of.word().into())
}

/// `2026-03-01|P-2204|<id>`.
fn cursor(text: &str) -> Option<(Date, String, Uuid)> {
    let (day, rest) = text.split_once('|')?;
    let (code, id) = rest.rsplit_once('|')?;
    Some((day.parse().ok()?, code.to_string(), id.parse().ok()?))
}

/// Lots, oldest first.
#[utoipa::path(operation_id = "lots_list", tag = "stores", params(Find), responses((status = 200, body = LotPage)))]
#[get("/lots")]
pub async fn list(state: web::Data<State>, person: Person, find: web::Query<Find>) -> Answer<LotPage> {
    let mut raws = read(&state, &person, &find, PAGE + 1).await?;
    let more = raws.len() > PAGE as usize;
    raws.truncate(PAGE as usize);
    let by_age = sorted(&find.sort)?.is_none();
    let next = raws.last().filter(|_| more).map(|r| match by_age {
        true => format!("{}|{}|{}", r.row.received, r.row.code, r.row.id),
        false => sorted::next(&r.key, r.row.id),
    });
    let today = state.shop_day();
    let mut db = state.db.acquire().await?;
    let mut firsts: HashMap<(Uuid, Component), Option<String>> = HashMap::new();
    for raw in &mut raws {
        let key = (raw.row.sheet, raw.row.component);
        if let std::collections::hash_map::Entry::Vacant(unknown) = firsts.entry(key) {
            unknown.insert(first_in(&mut db, key.0, key.1, today).await?);
        }
        // The same rule again on the row itself: one that is not fit is never first.
        let fit = first(std::slice::from_ref(&raw.waiting), today).is_some();
        raw.row.first = fit && firsts.get(&key).is_some_and(|f| f.as_deref() == Some(raw.row.code.as_str()));
    }
    Ok(web::Json(LotPage { lots: raws.into_iter().map(|r| r.row).collect(), next }))
}

/// Every lot found, as a table with the columns an import reads.
#[utoipa::path(operation_id = "lots_csv", tag = "stores", params(Find), responses((status = 200, content_type = "text/csv")))]
#[get("/lots.csv")]
pub async fn csv(state: web::Data<State>, person: Person, find: web::Query<Find>) -> Result<HttpResponse, Problem> {
    let mut table = Table::new(&COLUMNS)?;
    let find = find.into_inner();
    let find = Find { state: if find.state.is_empty() { "all".into() } else { find.state }, after: String::new(), ..find };
    for raw in read(&state, &person, &find, 200_000).await? {
        let (row, day) = (raw.row, |d: Option<Date>| d.map_or(String::new(), |d| d.to_string()));
        table.row([
            row.code,
            row.product,
            column(row.component),
            row.makers_lot.unwrap_or_default(),
            row.colour.unwrap_or_default(),
            row.received.to_string(),
            day(raw.made),
            day(row.expires),
            String::new(),
            raw.container_g.to_string(),
            raw.containers.to_string(),
            row.place.unwrap_or_default(),
            raw.waiting.left_g.to_string(),
        ])?;
    }
    table.download(&format!("level-keel-lots-{}.csv", state.shop_day()))
}
