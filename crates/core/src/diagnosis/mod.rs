//! From a symptom to its likely causes: what speaks for each, what against it, what nobody recorded, and what to look at next.
//!
//! Symptoms, causes, signs and looks are data, one row each ([`ROWS`], [`LOOKS`]). Whether a sign is there is read from a record
//! elsewhere (`batch::diagnosis`); here it is only weighed. **Source:** common practice in the trade; the weights are from memory.

mod cause;
mod looks;
mod rank;
mod rows;
mod sign;
mod symptom;

pub use cause::Cause;
pub use looks::{LOOKS, Look, LookRow};
pub use rank::{Answered, Evidence, Found, Heard, LEAST_SETTLED, Ranked, STRONG, Side, Strength, next_look, rank};
pub use rows::{Causes, ROWS, Row, Weight, causes_of};
pub use sign::{Sign, SignFrom};
pub use symptom::Symptom;
