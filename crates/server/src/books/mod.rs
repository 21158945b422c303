//! Books and their entries: the one way anything of the work is written down.

mod append;
mod begin;
mod cache;
pub mod chain;
mod check_log;
mod enrich;
pub mod feed;
pub mod hand_over;
pub mod http;
pub mod small;
mod store;

pub use append::{NewEntry, Writing, Written};
pub use begin::NewBatch;
pub use cache::Cache;
pub use check_log::{Checked, check_log, rebuild, rebuild_older};
pub use store::{at_head, load};
