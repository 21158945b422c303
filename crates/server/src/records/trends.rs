//! Trends of finished batches over HTTP: by product, rig or person, as pictures and as a table.

use super::{Find, conditions};
use crate::auth::Person;
use crate::export::Table;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use jiff::ToSpan;
use jiff::civil::{Date, Weekday};
use jiff_sqlx::ToSqlx;
use level_keel_core::people::{Duty, has_duty};
use level_keel_core::trends::{Followed, TrendBy, TrendGroup, TrendOf, WeekMean, groups};
use serde::Serialize;
use sqlx::postgres::PgRow;
use sqlx::{QueryBuilder, Row};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Weeks looked at where no days are given: half a year.
const USUAL_WEEKS: i64 = 26;
/// Groups shown at most, those with most batches.
const MOST_GROUPS: usize = 60;

/// Trends of what was found.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Trends {
    pub by: TrendBy,
    /// First and last week of the pictures, by their Mondays.
    pub first: Date,
    pub last: Date,
    pub groups: Vec<TrendGroup>,
    /// More groups there are than are shown.
    pub more: usize,
}

fn monday(day: Date) -> Date {
    let back = i64::from(day.weekday().since(Weekday::Monday));
    day.checked_sub(back.days()).unwrap_or(day)
}

/// A mean with the batches it is of: `column` and its place among the figures.
const FIGURES: [(TrendOf, &str); 5] = [
    (TrendOf::Film, "b.film_pct"),
    (TrendOf::Ratio, "b.ratio_off_pct"),
    (TrendOf::Paint, "b.use_pct"),
    (TrendOf::Time, "b.work_s"),
    (TrendOf::FirstTime, "100.0 * b.first_time::int"),
];

/// What was found, put together, with the first and last week of it.
async fn followed(state: &State, find: &Find, by: TrendBy) -> Result<(Vec<Followed>, Date, Date), Problem> {
    let zone = state.shop.zone();
    let today = state.shop_day();
    let (from, to) = find.days(today)?;
    let last = monday(to.unwrap_or(today));
    let first = match from {
        Some(from) => monday(from),
        None => last.checked_sub((USUAL_WEEKS - 1).weeks()).unwrap_or(last),
    };
    let (name, join) = match by {
        TrendBy::Product => ("b.product", ""),
        TrendBy::Rig => ("coalesce(r.name, 'without a rig')", " left join rig r on r.id = b.rig_id"),
        TrendBy::Person => ("w.name", " join batch_person x on x.batch_id = b.id join person w on w.id = x.person_id"),
    };
    let mut q = QueryBuilder::new("select ");
    q.push(name).push(" as name, date_trunc('week', b.ended at time zone ").push_bind(state.shop.zone_name());
    q.push(")::date as week, count(*) as batches");
    for (_, column) in FIGURES {
        q.push(format!(", avg({column})::float8, count({column})"));
    }
    q.push(" from batch b").push(join).push(" where b.state in ('signed', 'accepted') and b.ended is not null");
    let half_a_year = Find { from: first.to_string(), weeks: String::new(), ..find.clone() };
    conditions(&mut q, &half_a_year, &zone, today)?;
    // A batch that was written in later stands in the week it ended.
    let start = first.to_zoned(zone).map_err(|e| Problem::Fault(e.to_string()))?.timestamp();
    q.push(" and b.ended >= ").push_bind(start.to_sqlx());
    q.push(" group by 1, 2");
    let rows: Vec<PgRow> = q.build().fetch_all(&state.searches).await?;
    let mut all: BTreeMap<String, Followed> = BTreeMap::new();
    for row in &rows {
        let name: String = row.try_get("name")?;
        let week = row.try_get::<jiff_sqlx::Date, _>("week")?.to_jiff();
        let one = all.entry(name.clone()).or_insert(Followed { name, count: 0, weeks: Vec::new() });
        one.count += row.try_get::<i64, _>("batches")?;
        for (at, (of, _)) in FIGURES.into_iter().enumerate() {
            let (mean, count): (Option<f64>, i64) = (row.try_get(3 + 2 * at)?, row.try_get(4 + 2 * at)?);
            one.weeks.extend(mean.map(|mean| WeekMean { week, of, mean, count }));
        }
    }
    Ok((all.into_values().collect(), first, last))
}

/// What finished batches came to, week by week: film, ratio, paint, time, right the first time. Of the last half year, unless days are
/// given. People's figures are a lead's and the owner's to look at.
async fn told(state: &State, person: &Person, find: &Find) -> Result<Trends, Problem> {
    let by = find.by.unwrap_or_default();
    if by == TrendBy::Person || !find.person.trim().is_empty() {
        has_duty(person.role, Duty::Sheets)?;
    }
    let (found, first, last) = followed(state, find, by).await?;
    // Where nobody asked from when, the pictures begin with the first week there is.
    let earliest = found.iter().flat_map(|f| &f.weeks).map(|w| w.week).min();
    let asked = find.days(state.shop_day())?.0.is_some();
    let first = earliest.filter(|_| !asked).unwrap_or(first);
    let mut groups = groups(found, first, last, person.prefs);
    let more = groups.len().saturating_sub(MOST_GROUPS);
    groups.truncate(MOST_GROUPS);
    Ok(Trends { by, first, last, groups, more })
}

/// Trends of what is found.
#[utoipa::path(operation_id = "records_trends", tag = "records", params(Find), responses((status = 200, body = Trends), (status = 403), (status = 422)))]
#[get("/records/trends")]
pub async fn trends(state: web::Data<State>, person: Person, find: web::Query<Find>) -> Answer<Trends> {
    Ok(web::Json(told(&state, &person, &find).await?))
}

/// The same as a table, a mean of a week a row.
#[utoipa::path(operation_id = "records_trends_csv", tag = "records", params(Find), responses((status = 200, content_type = "text/csv"), (status = 403), (status = 422)))]
#[get("/records/trends.csv")]
pub async fn trends_csv(state: web::Data<State>, person: Person, find: web::Query<Find>) -> Result<HttpResponse, Problem> {
    let told = told(&state, &person, &find).await?;
    let mut table = Table::new(&["by", "name", "figure", "week_from", "mean", "batches"])?;
    for group in &told.groups {
        for line in &group.lines {
            for point in &line.points {
                let week = point.week.to_string();
                table.row([told.by.into(), group.name.as_str(), &line.name, &week, &point.figure, &point.count.to_string()])?;
            }
        }
    }
    table.download(&format!("level-keel-trends-{}.csv", state.shop_day()))
}
