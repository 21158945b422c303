//! Air and pattern: what the air hose costs, what a class of gun allows, tips, the pattern ladder.

pub mod air_hose;
pub mod classes;
pub mod ladder;
pub mod tips;
