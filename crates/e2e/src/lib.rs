//! The real interface in headless Chromium: a server of its own on a free port, a browser of its own.

pub mod browser;
pub mod failed;
pub mod stress;

pub use browser::Browser;
pub use level_keel_harness::{Gateway, Line, Lost, MORNING, Shop, Standing};
