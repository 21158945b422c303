//! Books and their entries: the one way anything of the work is written down.

mod append;
mod batch;
mod begin;
mod cache;
pub mod chain;
mod check_log;
mod coat_clocks;
mod defect_rows;
mod draft;
mod enrich;
pub mod hand_over;
pub mod http;
pub mod kept;
mod kept_proofs;
pub mod ledger_rows;
pub mod proposed;
mod rows;
mod shared_looks;
pub mod temperature_feed;
mod waste_rows;
mod weighed_rows;

pub use append::{Made, NewEntry, Writing};
pub use batch::Written;
pub(crate) use batch::around;
pub use begin::NewBatch;
pub use cache::{Cache, Caches, LookOf};
pub use chain::{at_head, load, read};
pub use check_log::{Checked, check_log, rebuild, rebuild_older};
pub use coat_clocks::coat_clocks_ics;
pub use draft::Draft;
pub use kept_proofs::Ledgers;
