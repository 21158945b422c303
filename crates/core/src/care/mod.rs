//! Shutting a rig down and keeping it: the steps by its kind, what may not be opened under pressure, how much it is
//! flushed with, what is done at every use, each day and each week.

mod flush;
mod lists;
mod rig_state;
mod shut_down;

pub use flush::{FlushSchool, flush_ml};
pub use lists::{CareItem, CareItemView, CareList, item, items, looked_at};
pub use rig_state::{CareListView, CareView, Done, FlushBy, RigState, ShutStepView, ZERO_KPA};
pub use shut_down::{ShutDownStep, StepIs, step, steps};
