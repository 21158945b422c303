//! Weighing in by a scale that speaks: what a line says, what the pour in hand does, what is wrong on the pan.
//!
//! Data flows one way: a line of text → [`Grammar::read`] → [`Seen`] → [`Watch::push`] (what happens on the pan) →
//! [`weigh_in`] (what it means for the pot).

mod indicator;
mod kept;
mod pan;
mod pour;
mod two_loads;

pub use indicator::{Grammar, LineFault, MOST_LINE, OWN_PATTERN, Seen};
pub use kept::ScaleKept;
pub use pan::{Notice, Pan, Watch};
pub use pour::{Pace, Pouring, WeighIn, weigh_in};
pub use two_loads::{TwoLoads, TwoLoadsView};
