//! The board: what needs hands next across the shop, where each batch stands, and the pots alive.

mod tonight;

pub use tonight::{day_end, day_end_csv};

use crate::auth::{self, Person};
use crate::books::at_head;
use crate::export::Table;
use crate::instruments::viewer;
use crate::parts::beside;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{HttpResponse, get, web};
use jiff::Timestamp;
use level_keel_core::batch::beside::Neighbour;
use level_keel_core::batch::job::shown_of_jobs;
use level_keel_core::batch::view::{AirNow, BoardRow, Next, PotView, Waits, on_board, order};
use level_keel_core::batch::{Case, Record};
use level_keel_core::day_end::wants;
use level_keel_core::people::Role;
use level_keel_core::quantity::Shown;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::sync::Arc;
use utoipa::{IntoParams, ToSchema};

/// The board.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Board {
    pub as_of: Timestamp,
    /// Seconds of shop time in a real second.
    pub clock_rate: f64,
    /// What was set of the machine's clock, while it bears on what is shown.
    pub clock_said: Option<String>,
    /// For the owner: whose PIN was guessed at within a day.
    pub guessing: Option<String>,
    pub next: Vec<Next>,
    pub batches: Vec<BoardRow>,
    /// Sorted by who dies first.
    pub pots: Vec<PotView>,
    /// Last air read in the shop.
    pub air: Option<Shown>,
    pub humidity: Option<Shown>,
    pub dew_point: Option<Shown>,
}

/// The board now.
#[utoipa::path(operation_id = "board", tag = "board", responses((status = 200, body = Board)))]
#[get("/board")]
pub async fn whole(state: web::Data<State>, person: Person) -> Answer<Board> {
    Ok(web::Json(read(&state, &person).await?))
}

/// Which of the board is wanted.
#[derive(Debug, Default, Deserialize, IntoParams)]
#[serde(default, deny_unknown_fields)]
pub struct FindBoard {
    /// In part, coat, product, or the name of who is on it.
    find: String,
    /// Only what the reader is on.
    mine: bool,
}

/// The board with the batches that are wanted.
fn only(mut board: Board, find: &FindBoard) -> Board {
    let word = find.find.trim().to_lowercase();
    if word.is_empty() && !find.mine {
        // A rig that is left under pressure is of a batch that stands on no board any more.
        return board;
    }
    board.batches.retain(|b| {
        let said = format!("{}\n{}\n{}", b.label, b.product, b.on_it.as_deref().unwrap_or_default()).to_lowercase();
        (!find.mine || b.mine) && said.contains(&word)
    });
    let kept: BTreeSet<uuid::Uuid> = board.batches.iter().map(|b| b.id).collect();
    board.next.retain(|n| kept.contains(&n.batch));
    board
}

/// What needs hands next and where each batch stands, as a table.
#[utoipa::path(operation_id = "board_csv", tag = "board", params(FindBoard), responses((status = 200, content_type = "text/csv")))]
#[get("/board.csv")]
pub async fn csv(state: web::Data<State>, person: Person, find: web::Query<FindBoard>) -> Result<HttpResponse, Problem> {
    let board = only(read(&state, &person).await?, &find);
    let mut table = Table::new(&["list", "at", "part_and_coat", "what", "why", "in_hand", "batch"])?;
    for n in board.next {
        table.row(["hands next", &n.at.to_string(), &n.part, &n.text, &n.why, "", &n.batch.to_string()])?;
    }
    for b in board.batches {
        let stands = b.stations.iter().map(|s| format!("{}: {}", s.name, s.line)).collect::<Vec<_>>().join("; ");
        let on_it = b.on_it.unwrap_or_default();
        table.row(["in work", &board.as_of.to_string(), &b.label, &b.product, &stands, &on_it, &b.id.to_string()])?;
    }
    table.download(&format!("level-keel-board-{}.csv", state.shop_day()))
}

/// A job is one row: that of its coat at hand. What its other coats want waits for their turn, but for what is lost meanwhile.
fn one_row_a_job(board: &mut Board) {
    let jobs: Vec<_> = board.batches.iter().map(|row| row.job).collect();
    let shown = shown_of_jobs(&jobs);
    let mut hidden = BTreeSet::new();
    let rows = std::mem::take(&mut board.batches);
    for (row, shown) in rows.into_iter().zip(shown) {
        // A coat that is on and not signed yet still wants its signature.
        let on = row.job.is_some_and(|job| job.is_on);
        if shown {
            board.batches.push(row);
        } else if !on {
            hidden.insert(row.id);
        }
    }
    board.next.retain(|n| n.waits == Waits::Loss || !hidden.contains(&n.batch));
}

/// All batches that are not accepted, with one statement while their records are in the cache.
pub async fn read(state: &State, person: &Person) -> Result<Board, Problem> {
    Ok(read_with_busy(state, person).await?.0)
}

/// The same, with the rigs that paint is in work for.
async fn read_with_busy(state: &State, person: &Person) -> Result<(Board, BTreeSet<uuid::Uuid>), Problem> {
    let now = state.clock.now();
    let guessing = if person.role == Role::Owner { auth::guessing(state).await? } else { None };
    let mut db = state.db.acquire().await?;
    let mut board = Board {
        as_of: now,
        clock_rate: state.clock.rate(),
        clock_said: state.clock.said(),
        guessing,
        next: Vec::new(),
        batches: Vec::new(),
        pots: Vec::new(),
        air: None,
        humidity: None,
        dew_point: None,
    };
    let mut newest: Option<AirNow> = None;
    // Rigs that a batch has paint in work for: they are shut down when that is over.
    let mut busy = BTreeSet::new();
    for open in beside(&mut db, &state.shop.now(), None, Neighbour::OF_THE_HEAD).await? {
        let record: Arc<Record> = at_head(&mut db, state, open.id, open.head_seq).await?;
        let viewer = viewer(person, &open.beside.measures);
        let around = open.beside.remembering(&record);
        let seen = on_board(open.id, &Case::new(&record, &around), &viewer, now)
            .ok_or_else(|| Problem::Fault(format!("batch {} has no beginning", open.id)))?;
        if seen.air.as_ref().map(|a| a.at) > newest.as_ref().map(|a| a.at) {
            newest = seen.air;
        }
        let at_work = record.signature.is_none() && record.charges.iter().any(|c| c.closed.is_none());
        busy.extend(record.rig.as_ref().filter(|_| at_work).map(|r| r.it.rig));
        board.next.extend(seen.next);
        board.pots.extend(seen.pots);
        board.batches.push(seen.row);
    }
    board.next.extend(wants(&tonight::rigs(state, &mut db, person.prefs, &busy).await?, now));
    if let Some(air) = newest {
        (board.air, board.humidity, board.dew_point) = (Some(air.air), Some(air.humidity), Some(air.dew_point));
    }
    one_row_a_job(&mut board);
    order(&mut board.next, now);
    board.pots.sort_by_key(|p| (p.spent_at.is_none(), p.spent_at, p.no));
    Ok((board, busy))
}
