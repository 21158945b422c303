//! The fluid line: from the pressure on the pot to the stream at the gun, both ways; what a catch and a seen stream teach.
//!
//! Data flows one way: [`viscosity`] (what the paint is now) → [`line`] (what a pressure pushes) → [`stream`] (what is
//! seen at the gun) → [`calibrate`] and [`advise`](mod@advise) (what was seen corrects what was reckoned). Where nothing says how thick
//! the paint is, [`by_tries`] goes by what was seen alone.

pub mod advise;
pub mod by_tries;
pub mod calibrate;
pub mod choose;
pub mod line;
pub mod stream;
pub mod viscosity;

pub use line::{Drops, Fluid, FluidLine, Regime, lift_kpa};
pub use stream::{
    ArcPoint, BEND_MM, Eye, RuleMark, STREAM_EYE_MM, Stream, arc, drawn, drop_mm, judge_stream, rule, stream_length_mm,
    stream_speed_m_s, stream_verdict,
};
