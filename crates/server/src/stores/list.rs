//! Lots in a list, oldest first, found without reading every row; and as a table with the columns of the import.

use super::known::first_in;
use super::{column, component};
use crate::auth::Person;
use crate::export::Table;
use crate::problem::{Answer, Problem};
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

/// Columns lots are sorted by, beside their age.
const SORTS: [&str; 4] = ["code", "left", "expires", "place"];

/// Rows of the pages before, where lots are sorted by a column.
fn skipped(after: &str) -> Result<i64, Refusal> {
    let lost = |_| Refusal::bad_input("not-understood", "after", "This is no page of the list.");
    if after.is_empty() { Ok(0) } else { after.parse::<u32>().map(i64::from).map_err(lost) }
}

/// The column and whether from its end; nothing: the oldest first.
fn sorted(text: &str) -> Result<Option<(&str, bool)>, Refusal> {
    let (down, name) = text.trim().strip_prefix('-').map_or((false, text.trim()), |name| (true, name));
    match name {
        "" => Ok(None),
        name if SORTS.contains(&name) => Ok(Some((name, down))),
        _ => Err(Refusal::bad_input("unknown-sort", "sort", "Lots are not sorted by this.")),
    }
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
    waiting: Waiting,
    made: Option<Date>,
    container_g: f64,
    containers: f64,
}

async fn read(state: &State, person: &Person, find: &Find, limit: i64) -> Result<Vec<Raw>, Problem> {
    let today = state.shop_day();
    let sort = sorted(&find.sort)?;
    // By age a page begins where the last one ended; by a column it begins after so many rows: the lots of a shop are some thousands.
    let (after_day, after_code, after_id) = if sort.is_none() { cursor(&find.after) } else { (None, None, None) };
    let skip = if sort.is_some() { skipped(&find.after)? } else { 0 };
    let (column, down) = sort.map_or((None, false), |(column, down)| (Some(column), down));
    let words = Some(find.find.trim().to_lowercase()).filter(|w| !w.is_empty());
    let kind = Some(find.component.trim().to_string()).filter(|c| !c.is_empty());
    let soon = today.checked_add(jiff::Span::new().days(SOON_DAYS)).unwrap_or(today);
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
    let rows = sqlx::query_as!(
        Found,
        r#"select l.id, l.code, l.sheet_id, l.component, l.makers_lot, l.colour, l.received as "received!: jiff_sqlx::Date",
             l.made as "made: jiff_sqlx::Date", l.expires as "expires: jiff_sqlx::Date", l.container_g, l.containers, l.left_g,
             l.quarantined, l.damaged, l.certified, p.name as "place?"
           from lot l
           left join place p on p.id = l.place_id
           where l.received is not null
             and ($1::date is null or (l.received, l.code, l.id) > ($1, $2, $3))
             and ($4::text is null or l.sheet_id = any($13) or position($4 in l.words) > 0)
             and ($5::uuid is null or l.sheet_id = $5) and ($6::text is null or l.component = $6) and ($7::uuid is null or l.place_id = $7)
             and case $8::text
               when 'fit' then l.quarantined is null and l.damaged is null and l.left_g > 0 and (l.expires is null or l.expires >= $9)
               when 'soon' then l.quarantined is null and l.left_g > 0 and l.expires between $9 and $10
               when 'expired' then l.expires < $9 and l.left_g > 0
               when 'quarantined' then l.quarantined is not null
               when 'empty' then l.left_g <= 0
               when 'all' then true
               else l.left_g > 0 end
             and ($12::uuid is null or l.sheet_id = (select sheet_id from sheet_version where id = $12))
           order by
             case when $14 = 'code' and not $15 then lower(l.code) when $14 = 'place' and not $15 then lower(p.name) end,
             case when $14 = 'code' and $15 then lower(l.code) when $14 = 'place' and $15 then lower(p.name) end desc nulls last,
             case when $14 = 'left' then case when $15 then -l.left_g else l.left_g end end,
             case when $14 = 'expires' then case when $15 then date '2000-01-01' - l.expires else l.expires - date '2000-01-01' end end,
             l.received, l.code, l.id limit $11 offset $16"#,
        after_day.map(|d| d.to_sqlx()) as _,
        after_code,
        after_id,
        words,
        find.sheet,
        kind,
        find.place,
        find.state,
        today.to_sqlx() as _,
        soon.to_sqlx() as _,
        limit,
        find.version,
        &named,
        column,
        down,
        skip,
    )
    .fetch_all(&state.db)
    .await?;
    rows.into_iter().map(|found| found.raw(&sheets, today, person.prefs)).collect()
}

/// A row of the table.
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
        Ok(Raw { row, waiting, made: self.made.map(|d| d.to_jiff()), container_g, containers })
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
fn cursor(text: &str) -> (Option<Date>, Option<String>, Option<Uuid>) {
    let mut parts = text.splitn(2, '|');
    let day = parts.next().and_then(|d| d.parse().ok());
    let (code, id) =
        parts.next().and_then(|rest| rest.rsplit_once('|')).map_or((None, None), |(c, i)| (Some(c.to_string()), i.parse().ok()));
    if day.is_some() && id.is_some() { (day, code, id) } else { (None, None, None) }
}

/// Lots, oldest first.
#[utoipa::path(operation_id = "lots_list", tag = "stores", params(Find), responses((status = 200, body = LotPage)))]
#[get("/lots")]
pub async fn list(state: web::Data<State>, person: Person, find: web::Query<Find>) -> Answer<LotPage> {
    let mut raws = read(&state, &person, &find, PAGE + 1).await?;
    let more = raws.len() > PAGE as usize;
    raws.truncate(PAGE as usize);
    let next = raws.last().filter(|_| more).map(|r| match sorted(&find.sort) {
        Ok(None) => format!("{}|{}|{}", r.row.received, r.row.code, r.row.id),
        _ => (skipped(&find.after).unwrap_or_default() + PAGE).to_string(),
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
