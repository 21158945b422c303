//! Shutting a rig down and keeping it: the steps by its kind, what may not be opened under pressure, how much it is
//! flushed with, what is done at every use, each day and each week.

mod flush;
mod lists;
mod shut_down;
mod rig_state;

pub use flush::{FlushSchool, flush_ml};
pub use lists::{CareItem, CareItemView, CareList, item, items, looked_at};
pub use shut_down::{Step, StepIs, step, steps};
pub use rig_state::{CareListView, CareView, Done, FlushBy, ShutStepView, RigState, ZERO_KPA};
