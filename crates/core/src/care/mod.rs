//! Shutting a rig down and keeping it: the steps by its kind, what may not be opened under pressure, how much it is
//! flushed with, what is done at every use, each day and each week.

mod flush;
mod lists;
mod shut_down;
mod stand;

pub use flush::{FlushSchool, flush_ml};
pub use lists::{CareItem, CareItemView, CareList, item, items, looked_at};
pub use shut_down::{Step, StepIs, step, steps};
pub use stand::{CareListView, CareView, Done, FlushBy, ShutStepView, Stand, ZERO_KPA};
