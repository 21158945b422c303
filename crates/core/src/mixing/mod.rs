//! Proportioning: how much of each, what the scale can prove, and what a wrong pour still allows.

mod amount;
mod cup;
mod fill_lines;
mod judge;
mod need;
mod plan;
mod pour_state;
mod printed_cup;
pub mod provable;
mod rescue;
mod scale;
mod split;
mod thinner;

pub use crate::component::Component;
pub use amount::{Amount, AskField, FigureIs, OnThePart, Way, wanted_ml, ways};
pub use cup::{Cup, Mark, marks};
pub use fill_lines::{FillLine, fill_lines, least_by_cup_ml, least_read_ml, on_whole_lines_ml};
pub use judge::{Judgement, MixedPot, judgements, kit_off};
pub use need::{Allowances, CoatNeed, LEARN_FROM, LEARN_NEWEST, Learned, Took, hose_ml, need};
pub use plan::{PlannedPour, Share, check_thinner, finished_solids_pct, plan, shares, thinned_solids_pct, thinner_ml, working};
pub use pour_state::{PourState, is_done, pour_state, slack_g};
pub use printed_cup::{ByLine, Printed, PrintedCup, column_of, parts_of};
pub use rescue::{Rescue, RescueTo, rescues, retarget, to_go};
pub use scale::{Said, Weighed, b_per_a, off_g, poured_g, said, total_g};
pub use split::{Because, PlannedPot, PotLimits, split};
pub use thinner::{ThinnerState, thinner_state};
