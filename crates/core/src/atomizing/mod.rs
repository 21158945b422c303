//! Air and pattern: what the air hose costs, what a class of gun allows, tips, the pattern ladder.

pub mod air_hose;
pub mod classes;
pub mod fan;
pub mod ladder;
pub mod texture;
pub mod tips;
