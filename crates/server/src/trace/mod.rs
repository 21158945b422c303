//! Trace both ways: from a lot, a tip, a scale in doubt or somebody's shift to every batch and part; from a part to all that went
//! into it.

pub mod http;
pub mod store;
