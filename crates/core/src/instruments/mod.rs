//! Instruments have a life: a scale is checked against a known mass, a gauge against another, and what it says is doubted where it
//! was found off or its check is overdue.
//!
//! `checked` says what a check found; `book` is the book of an instrument; `marks` are the proofs a scale that was found off puts
//! in doubt.

mod book;
mod checked;
mod marks;

pub use book::{InstrumentBook, InstrumentEntry, InstrumentEntryKind, InstrumentLife, Written};
pub use checked::{CHECK_AGAIN_DAYS, Checked, Fault, Found, MarkAnswered, OVERDUE_FACTOR, Overdue};
pub use marks::{Mark, ProofInDoubt, marks};
