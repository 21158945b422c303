//! The board: what needs hands next across the shop, where each batch stands, and the pots alive.

use crate::auth::Person;
use crate::instruments::comb_um;
use crate::problem::{Answer, Problem};
use crate::state::State;
use actix_web::{get, web};
use jiff::Timestamp;
use level_keel_core::batch::Record;
use level_keel_core::batch::stations::Station;
use level_keel_core::batch::view::{Next, PotView, Viewer, view};
use level_keel_core::quantity::Shown;
use level_keel_core::verdict::Level;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// A batch in the list.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct BoardRow {
    pub id: Uuid,
    pub label: String,
    pub product: String,
    pub stations: Vec<Station>,
    pub hands_at: u8,
    pub ratio: Option<Level>,
    pub film: Option<Level>,
}

/// The board.
#[derive(Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Board {
    pub as_of: Timestamp,
    /// Seconds of shop time in a real second.
    pub clock_rate: f64,
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
#[utoipa::path(tag = "board", responses((status = 200, body = Board)))]
#[get("/board")]
pub async fn board(state: web::Data<State>, person: Person) -> Answer<Board> {
    let now = state.clock.now();
    let viewer = Viewer { writer: person.writer(), comb_um: comb_um(&state.db).await? };
    let rows =
        sqlx::query!("select id, record from batch where state <> 'accepted' order by begun desc").fetch_all(&state.db).await?;
    let mut board = Board {
        as_of: now,
        clock_rate: state.clock.rate(),
        next: Vec::new(),
        batches: Vec::new(),
        pots: Vec::new(),
        air: None,
        humidity: None,
        dew_point: None,
    };
    let mut newest: Option<Timestamp> = None;
    for row in rows {
        let record: Record = serde_json::from_value(row.record)?;
        let seen =
            view(row.id, &record, &viewer, now).ok_or_else(|| Problem::Fault(format!("batch {} has no beginning", row.id)))?;
        if seen.ready.read_at > newest {
            newest = seen.ready.read_at;
            (board.air, board.humidity, board.dew_point) = (seen.ready.air, seen.ready.humidity, seen.ready.dew_point);
        }
        board.next.extend(seen.next);
        board.pots.extend(seen.pots);
        board.batches.push(BoardRow {
            id: row.id,
            label: seen.label,
            product: seen.product,
            stations: seen.stations,
            hands_at: seen.hands_at,
            ratio: seen.ratio_level,
            film: seen.film_level,
        });
    }
    board.next.sort_by_key(|n| n.at);
    board.pots.sort_by_key(|p| (p.spent_at.is_none(), p.spent_at, p.no));
    Ok(web::Json(board))
}
