//! Defects over the wire: what was seen on a batch, its causes with their evidence, and what was settled before.

pub mod http;
pub mod store;
