//! Acceptance over the wire: film gauges that speak, and files they wrote.

pub mod file;
pub mod http;
