//! The passes of a coat, zone by zone: what is planned, what is on, what is next, and what was out of order.

mod out_of_order;
mod paint;
mod pictured;
mod planned;
mod sections;
mod zone;

pub use out_of_order::{OutOfOrder, names_of};
pub use paint::{PaintAhead, PotReach, ahead};
pub use pictured::{Outline, ZoneDrawn, drawn};
pub use planned::{NextPass, NextStep, StepAtHand, next_of, trade_rank};
pub use sections::{SectionsNow, ZoneInSections, sections};
pub use zone::{Made, Wait, ZonePasses};
