//! The end of the day on the board: pots and hoses, rigs to shut down and care for, and what was thrown away.

use super::read_with_busy;
use crate::auth::Person;
use crate::books::at_head;
use crate::export::Table;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use jiff::{Timestamp, ToSpan};
use jiff_sqlx::ToSqlx;
use level_keel_core::care::RigState;
use level_keel_core::day_end::{DayEnd, RigTonight, WasteOf, day_end as listed};
use level_keel_core::quantity::Prefs;
use level_keel_core::rig_book::RigBook;
use level_keel_core::rigs::Rig;
use sqlx::PgConnection;
use std::collections::BTreeSet;
use std::sync::Arc;
use uuid::Uuid;

/// The shop's day: its first instant and that of the next.
fn today(state: &State) -> Result<(Timestamp, Timestamp), Problem> {
    let day = state.shop_day();
    let start = |day: jiff::civil::Date| day.to_zoned(state.shop.zone()).map(|z| z.timestamp());
    let ends = day.checked_add(1.day()).and_then(start);
    let fault = |e: jiff::Error| Problem::Fault(e.to_string());
    Ok((start(day).map_err(fault)?, ends.map_err(fault)?))
}

/// The rigs in use, each as it stands, whether a batch pressed it or its transmitter says so alone; their books come out of the cache.
pub async fn rigs(state: &State, db: &mut PgConnection, prefs: Prefs, busy: &BTreeSet<Uuid>) -> Result<Vec<RigTonight>, Problem> {
    let now = state.clock.now();
    let (start, _) = today(state)?;
    let rows = sqlx::query!(
        r#"select r.id, r.body, r.pressed_at as "pressed_at: jiff_sqlx::Timestamp", k.head_seq, b.id as "batch?"
           from rig r join book k on k.id = r.id left join batch b on b.number = r.pressed_by
           where not r.retired order by lower(r.name)"#
    )
    .fetch_all(&mut *db)
    .await?;
    let mut all = Vec::with_capacity(rows.len());
    for row in rows {
        let rig: Rig = serde_json::from_value(row.body)?;
        let book: Arc<RigBook> = at_head(&mut *db, state, row.id, row.head_seq).await?;
        let pressed_at = row.pressed_at.map(|at| at.to_jiff());
        let live_kpa = state.gauges(&rig.name, now).pot_kpa;
        let stands = RigState { rig: &rig, steps: &book.steps, cared: &book.cared, pressed_at, live_kpa };
        let care = stands.view(now, prefs);
        let (used_today, in_work) = (pressed_at.is_some_and(|at| at >= start), busy.contains(&row.id));
        all.push(RigTonight { id: row.id, name: rig.name, care, used_today, batch: row.batch, in_work });
    }
    Ok(all)
}

async fn told(state: &State, person: &Person) -> Result<DayEnd, Problem> {
    let (board, busy) = read_with_busy(state, person).await?;
    let mut db = state.db.acquire().await?;
    let rigs = rigs(state, &mut db, person.prefs, &busy).await?;
    let (start, end) = today(state)?;
    let rows = sqlx::query!(
        r#"select b.product, count(*) as "times!", count(w.waste_g) as "weighed!", coalesce(sum(w.waste_ml), 0) as "waste_ml!",
             sum(w.waste_g) as waste_g, case when count(*) = count(w.cost_minor) then sum(w.cost_minor) end as cost_minor
           from waste w join batch b on b.id = w.batch_id where w.at >= $1 and w.at < $2 group by 1 order by 1"#,
        start.to_sqlx() as _,
        end.to_sqlx() as _
    )
    .fetch_all(&mut *db)
    .await?;
    let waste: Vec<WasteOf> = rows
        .into_iter()
        .map(|r| WasteOf {
            product: r.product,
            times: r.times,
            weighed: r.weighed,
            waste_ml: r.waste_ml,
            waste_g: r.waste_g,
            cost_minor: r.cost_minor,
        })
        .collect();
    Ok(listed(&board.next, &board.pots, &rigs, &waste, board.as_of, person.prefs))
}

/// The end of the day: what may not stay over night as it is, rigs to shut down and care for, what was thrown away and what it cost.
#[utoipa::path(operation_id = "day_end", tag = "board", responses((status = 200, body = DayEnd)))]
#[get("/board/day-end")]
pub async fn day_end(state: web::Data<State>, person: Person) -> Answer<DayEnd> {
    Ok(web::Json(told(&state, &person).await?))
}

/// The same as a table.
#[utoipa::path(operation_id = "day_end_csv", tag = "board", responses((status = 200, content_type = "text/csv")))]
#[get("/board/day-end.csv")]
pub async fn day_end_csv(state: web::Data<State>, person: Person) -> Result<HttpResponse, Problem> {
    let told = told(&state, &person).await?;
    let mut table = Table::new(&["list", "of", "what", "why", "done", "volume", "weight", "cost"])?;
    for i in &told.items {
        let done = if i.done { "done" } else { "to do" };
        table.row(["to do", i.of.as_str(), &i.what, &i.why, done, "", "", ""])?;
    }
    for w in &told.waste {
        let (mass, cost) = (w.mass.as_deref().unwrap_or_default(), w.cost.as_deref().unwrap_or_default());
        table.row(["waste", w.product.as_str(), "thrown away", &w.line, "", &w.volume, mass, cost])?;
    }
    table.download(&format!("level-keel-day-end-{}.csv", state.shop_day()))
}
