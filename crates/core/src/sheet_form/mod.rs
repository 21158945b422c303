//! The form of a sheet: what a new one asks by its kind, and what it comes to while it is typed.

mod at_work;
mod kinds;

pub use at_work::{AtWork, Contradiction, CupAtWork, CupLayer, FilmAtWork, at_work, propose};
pub use kinds::{MOST_ASKED, ProductKind, SheetKind, sheet_kinds};
