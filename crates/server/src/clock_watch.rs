//! Watches the clock: how far the shop had come is kept, so that a restart goes on from there; a step of the machine's clock is
//! written into every live book.

use crate::auth::Person;
use crate::books::{NewEntry, Writing};
use crate::clock::{Clock, Host};
use crate::problem::Problem;
use crate::state::State;
use jiff::Timestamp;
use jiff_sqlx::ToSqlx;
use level_keel_core::batch::{EntryKind, Record};
use level_keel_core::people::Role;
use level_keel_core::quantity::Prefs;
use level_keel_core::shop_time::{Hands, Mark, Step};
use serde_json::json;
use sqlx::PgPool;
use std::time::Duration;
use tokio::task::JoinHandle;
use uuid::Uuid;

/// How often it is looked at.
const LOOK: Duration = Duration::from_secs(5);
/// Looks between two marks.
const MARK_EVERY: u32 = 6;
/// The clock writes under a name of its own, by which nobody can sign in.
const ITS_NAME: &str = "The shop’s clock";
const ITS_ID: Uuid = Uuid::from_u128(0x6c65_7665_6c6b_7e65_8c00_636c_6f63_6b00);

/// Watches until the task is aborted. A fault is told to the log and tried again.
pub fn keep_watch(state: State) -> JoinHandle<()> {
    tokio::spawn(async move {
        for round in 0_u32.. {
            tokio::time::sleep(LOOK).await;
            if let Err(e) = look_once(&state, round % MARK_EVERY == 0).await {
                tracing::warn!(?e, "the clock could not be kept");
            }
        }
    })
}

/// Looks at the clock once: writes what was set, and how far the shop has come.
pub async fn look_once(state: &State, mark: bool) -> Result<(), Problem> {
    let clock = &state.clock;
    clock.now();
    let steps = clock.untold();
    for step in &steps {
        tell(state, *step).await?;
        clock.told(*step);
    }
    if mark || !steps.is_empty() {
        keep(&state.db, &clock.mark()).await?;
    }
    Ok(())
}

/// Writes a step into the book of every open batch, once.
async fn tell(state: &State, step: Step) -> Result<(), Problem> {
    tracing::warn!(by_s = step.by_s, "{}", step.said());
    let open = sqlx::query_scalar!("select id from batch where state = 'open'").fetch_all(&state.db).await?;
    if open.is_empty() {
        return Ok(());
    }
    let now = state.clock.now();
    let person = itself(state, now).await?;
    for book in open {
        // The same step in the same book is one entry, however often it is tried.
        let id = Uuid::new_v5(&book, format!("clock {} {}", step.at, step.by_s).as_bytes());
        let entry = NewEntry::now(id, EntryKind::Note, json!({ "text": step.said() }));
        Writing { inside: true, ..Writing::of(state, &person, now) }.one::<Record>(book, entry).await?;
    }
    Ok(())
}

async fn itself(state: &State, now: Timestamp) -> Result<Person, Problem> {
    // No hash is the hash of any PIN, and whoever is retired signs in by none.
    sqlx::query!(
        "insert into person (id, name, role, pin_hash, units, numbers, created, retired) values ($1, $2, 'owner', '-', 'mixed', 'point', $3, true)
         on conflict (id) do nothing",
        ITS_ID,
        ITS_NAME,
        now.to_sqlx() as _,
    )
    .execute(&state.db)
    .await?;
    let (name, role, prefs) = (ITS_NAME.into(), Role::Owner, Prefs::default());
    Ok(Person { id: ITS_ID, name, role, prefs, session: Uuid::nil(), works_alone: false })
}

async fn keep(db: &PgPool, mark: &Mark) -> Result<(), Problem> {
    sqlx::query!(
        "insert into clock_mark (one, shop, wall, boot_s, boot) values (true, $1, $2, $3, $4)
         on conflict (one) do update set shop = $1, wall = $2, boot_s = $3, boot = $4",
        mark.shop.to_sqlx() as _,
        mark.hands.wall.to_sqlx() as _,
        mark.hands.boot_s,
        mark.boot,
    )
    .execute(db)
    .await?;
    Ok(())
}

/// The clock of a server that starts: it goes on from where the shop had come, by its mark and by what is written in its books.
pub async fn resume(db: &PgPool, host: Host) -> Result<Clock, sqlx::Error> {
    let written = sqlx::query_scalar!(r#"select max(arrived) as "at: jiff_sqlx::Timestamp" from entry"#).fetch_one(db).await?;
    let row = sqlx::query!(
        r#"select shop as "shop: jiff_sqlx::Timestamp", wall as "wall: jiff_sqlx::Timestamp", boot_s, boot from clock_mark"#
    )
    .fetch_optional(db)
    .await?;
    let now = host.hands();
    let mark = match row {
        Some(row) => {
            let hands = Hands { wall: row.wall.to_jiff(), boot_s: row.boot_s };
            Mark { shop: row.shop.to_jiff(), hands, boot: row.boot }
        }
        // Nothing was kept by an older version: only what is written says how far the shop had come.
        None => Mark { shop: now.wall, hands: now, boot: host.boot() },
    };
    // What was written after the last mark is as far as the shop had come, at the least.
    let clock = Clock::resumed(host, &mark);
    clock.not_before(written.map_or(mark.shop, |at| at.to_jiff()));
    Ok(clock)
}
