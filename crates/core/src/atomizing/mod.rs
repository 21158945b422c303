//! Air and pattern: what the air hose costs, what a class of gun allows, tips, the pattern ladder.

pub mod air_hose;
pub mod classes;
pub mod fan;
pub mod ladder;
pub mod texture;
pub mod tips;

/// Supply over a regulated pressure so that change-over does not pulse the fan: the trade's 10 psi at the least.
pub const SUPPLY_OVER_KPA: f64 = 68.947_572_931_683_6;
