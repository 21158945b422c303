//! A job: several coats of one product on one part, begun together. Each coat is a batch of its own, with its own recoat, ratio, film
//! and signature; the job is what the hands see.

use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::limits;
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::sheets::MOST_COATS;
use crate::worded::Worded;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Which coat of which job a batch is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct JobCoat {
    /// The job: the id of its first batch.
    pub job: Uuid,
    /// This coat, from 1.
    pub coat: u32,
    /// Coats planned.
    pub of: u32,
}

impl JobCoat {
    /// The batch of a coat: the first has the id of the job, the others one that follows from it, so that a double tap is one job.
    pub fn batch_of(job: Uuid, coat: u32) -> Uuid {
        if coat <= 1 { job } else { Uuid::new_v5(&job, format!("coat {coat}").as_bytes()) }
    }

    /// In words: `coat 2 of 3`.
    pub fn words(self) -> String {
        format!("coat {} of {}", self.coat, self.of)
    }
}

/// How many coats are begun together.
///
/// **Rule:** one, where nobody says more; as many as the sheet lets the product go over itself, where it says so. **Errors:** a refusal
/// at `coat_count`: not a whole number, more than a job has, more than the sheet allows, or the sheet does not say. **Source:** the
/// sheet.
///
/// ```
/// use level_keel_core::batch::job::coats_wanted;
/// assert_eq!(coats_wanted(None, None, Default::default()).unwrap(), 1);
/// assert_eq!(coats_wanted(Some(2.0), Some(2.0), Default::default()).unwrap(), 2);
/// assert!(coats_wanted(Some(3.0), Some(2.0), Default::default()).is_err(), "a third coat where the sheet allows two");
/// ```
pub fn coats_wanted(wanted: Option<f64>, sheet_allows: Option<f64>, prefs: Prefs) -> Result<u32, Refusal> {
    let Some(count) = wanted else { return Ok(1) };
    let refused = |text: String| Err(Refusal::bad_input("coats-by-sheet", "coat_count", text));
    limits::COUNT.check("coat_count", count, prefs)?;
    if count.fract() != 0.0 || count > MOST_COATS {
        return refused(format!("Coats are whole ones, 1 to {MOST_COATS}."));
    }
    match sheet_allows {
        _ if count <= 1.0 => Ok(1),
        None => refused("The sheet does not say that it goes over itself: begin one coat, or complete the sheet.".into()),
        Some(most) if count > most => refused(format!(
            "The sheet allows {most} {} of it: {count} are one too many.",
            if most == 1.0 { "coat" } else { "coats" }
        )),
        Some(_) => Ok(count as u32),
    }
}

/// How a coat of a job stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr)]
#[serde(rename_all = "snake_case")]
pub enum CoatStands {
    /// In work, or waiting for its turn.
    #[strum(serialize = "open")]
    Open,
    /// Signed.
    #[strum(serialize = "signed")]
    Signed,
    /// Accepted.
    #[strum(serialize = "accepted")]
    Accepted,
    /// Not put on.
    #[strum(serialize = "left out")]
    LeftOut,
}

impl Worded for CoatStands {}

/// A coat of the job a batch belongs to, as its row says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct JobMate {
    /// Its batch.
    pub batch: Uuid,
    /// Number of it.
    pub number: i64,
    /// Which coat.
    pub coat: u32,
    /// How it stands.
    pub stands: CoatStands,
    /// Its last pass.
    #[serde(default)]
    pub ended: Option<Timestamp>,
}

/// A coat of the job, as it is shown at the head.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct JobCoatView {
    pub batch: Uuid,
    pub number: i64,
    pub coat: u32,
    /// This is the one that is looked at.
    pub here: bool,
    /// It is on: drawn full.
    pub on: bool,
    /// It is not put on.
    #[serde(default)]
    pub left_out: bool,
    /// “on 14:02, signed”, “waits”, “left out”.
    pub word: String,
}

/// The job of a batch, at its head.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct JobView {
    pub job: Uuid,
    /// “coat 2 of 3”.
    pub word: String,
    pub coats: Vec<JobCoatView>,
    /// What was made ready for the coat before may be carried on: its number.
    pub carry_from: Option<i64>,
    /// Nothing is done of this coat yet: it may be left out.
    pub may_leave_out: bool,
}

/// The job a batch belongs to; `None` for a batch of its own.
pub fn job_view(case: &Case<'_>) -> Option<JobView> {
    let here = case.aim()?.job?;
    let coats = case.beside.job.iter().map(|mate| JobCoatView {
        batch: mate.batch,
        number: mate.number,
        coat: mate.coat,
        here: mate.coat == here.coat,
        on: mate.ended.is_some(),
        left_out: mate.stands == CoatStands::LeftOut,
        word: match (mate.stands, mate.ended) {
            (CoatStands::LeftOut, _) => mate.stands.word().into(),
            (CoatStands::Open, None) => "to come".into(),
            (CoatStands::Open, Some(_)) => "on".into(),
            (stands, _) => stands.word().into(),
        },
    });
    let before = case.beside.job.iter().rev().find(|m| m.coat < here.coat && m.stands != CoatStands::LeftOut);
    let nothing_done = is_untouched(case);
    Some(JobView {
        job: here.job,
        word: here.words(),
        coats: coats.collect(),
        carry_from: before.filter(|b| nothing_done && b.ended.is_some()).map(|b| b.number),
        may_leave_out: may_leave_out(case).is_ok(),
    })
}

/// Nothing was made ready or mixed for this coat by itself; a pot that was handed on to it was mixed for the coat before.
pub fn is_untouched(case: &Case<'_>) -> bool {
    let own = |c: &Charge| c.born.is_none_or(|b| b.of_batch.is_none());
    case.ticks.is_empty() && !case.charges.iter().any(own) && case.carried_from.is_none()
}

/// A coat may be left out while nothing of it is mixed or on, and never the first: without it there is no job.
///
/// **Errors:** a conflict with its reason.
pub fn may_leave_out(case: &Case<'_>) -> Result<(), Refusal> {
    let no = |text: &str| Err(Refusal::conflict("not-left-out", text));
    match case.aim().and_then(|aim| aim.job) {
        None => return no("This batch is no coat of a job."),
        Some(job) if job.coat == 1 => return no("The first coat of a job is put on or not begun."),
        Some(_) => {}
    }
    if !case.charges.is_empty() || !case.passes.is_empty() {
        return no("Paint is mixed for this coat already.");
    }
    Ok(())
}

/// A coat as the board sorts it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct JobRow {
    pub job: Uuid,
    pub coat: u32,
    pub of: u32,
    /// It is on: every pot is closed.
    pub is_on: bool,
}

/// Which of some rows the board shows: one of each job, the first coat that is not on yet, else the first that is there; every row
/// without a job.
///
/// **Source:** ours.
pub fn shown_of_jobs(rows: &[Option<JobRow>]) -> Vec<bool> {
    let at_hand = |job: Uuid| {
        let of_it = || rows.iter().flatten().filter(move |r| r.job == job);
        of_it().filter(|r| !r.is_on).map(|r| r.coat).min().or(of_it().map(|r| r.coat).min())
    };
    rows.iter().map(|row| row.is_none_or(|r| at_hand(r.job) == Some(r.coat))).collect()
}

/// Pieces of a part that is done piece by piece: how many, and how many sides each has.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Pieces {
    /// How many.
    pub piece_count: f64,
    /// Sides of each that are coated.
    pub side_count: f64,
}

/// Pieces and sides as they are asked for.
///
/// **Errors:** a refusal at `piece_count` or `side_count`: not a whole number of sense.
pub fn pieces_wanted(piece_count: Option<f64>, side_count: Option<f64>, prefs: Prefs) -> Result<Option<Pieces>, Refusal> {
    let Some(piece_count) = piece_count else {
        let none = || Refusal::bad_input("missing", "piece_count", "Sides of how many pieces? Say how many there are.");
        return if side_count.is_some() { Err(none()) } else { Ok(None) };
    };
    let side_count = side_count.unwrap_or(1.0);
    for (field, count, most) in [("piece_count", piece_count, 10_000.0), ("side_count", side_count, 12.0)] {
        limits::COUNT.check(field, count, prefs)?;
        if count.fract() != 0.0 || count > most {
            return Err(Refusal::bad_input("whole-ones", field, format!("Whole ones, 1 to {most}.")));
        }
    }
    Ok(Some(Pieces { piece_count, side_count }))
}
