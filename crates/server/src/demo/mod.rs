//! The demo: an invented island works, always alive. Only in a database marked as demo.
//!
//! History is anchored to the day of loading and closed. Today's shift is appended when nothing was touched
//! for eight hours; the old one is closed by the demo crew first. Ids follow from seed and date.

mod crew;
mod rigs;
mod scenario;
mod sheets;
mod shift;
mod stores;
mod weeks;

pub use stores::make_ready;

use crate::problem::Problem;
use crate::state::State;
use jiff::SignedDuration;

/// Quiet this long, and a new shift is laid on.
const QUIET_HOURS: i64 = 8;

/// Loads the demo into an empty database, or brings its shift up to now. Leaves a shop's own data alone.
pub async fn bring_up(state: &State) -> Result<(), Problem> {
    let now = state.clock.now();
    let people = sqlx::query_scalar!("select count(*) from person").fetch_one(&state.db).await?.unwrap_or(0);
    let marked = sqlx::query_scalar!("select value from house where key = 'demo'").fetch_optional(&state.db).await?;
    if people == 0 {
        sqlx::query!(
            "insert into house (key, value) values ('demo', 'island works'), ('shop', 'Island works'), ('check every', '14400')"
        )
        .execute(&state.db)
        .await?;
        state.shop.read_again(&state.db, &state.settings).await?;
        let crew = crew::Crew::hire(state, now).await?;
        // Boxed: each holds many entries, and one future of them all would not fit a small stack.
        Box::pin(sheets::write(&crew)).await?;
        Box::pin(rigs::write(&crew)).await?;
        Box::pin(rigs::history(&crew, now)).await?;
        Box::pin(stores::write(&crew, now)).await?;
        if state.settings.demo_weeks {
            Box::pin(weeks::history(&crew, now)).await?;
        }
        Box::pin(scenario::history(&crew, now)).await?;
        return Box::pin(scenario::shift(&crew, now)).await;
    }
    if marked.is_none() {
        return Ok(());
    }
    let last =
        sqlx::query_scalar!(r#"select max(arrived) as "last: jiff_sqlx::Timestamp" from entry"#).fetch_one(&state.db).await?;
    let quiet = SignedDuration::from_hours(QUIET_HOURS);
    if last.is_none_or(|t| now.duration_since(t.to_jiff()) > quiet) {
        let crew = crew::Crew::known(state).await?;
        Box::pin(rigs::write(&crew)).await?;
        Box::pin(scenario::close_old_shift(&crew)).await?;
        Box::pin(scenario::shift(&crew, now)).await?;
    }
    Ok(())
}
