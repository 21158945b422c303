//! Which lot to take first.

use jiff::civil::Date;

/// A lot as far as the order goes.
#[derive(Debug, Clone, PartialEq)]
pub struct Waiting {
    /// Its code.
    pub code: String,
    /// Came in.
    pub received: Date,
    /// Last good day, when known.
    pub expires: Option<Date>,
    /// Nobody may take it.
    pub quarantined: bool,
    /// Its container is damaged.
    pub damaged: bool,
    /// What is left.
    pub left_g: f64,
}

impl Waiting {
    /// Whether it may be taken without asking: in date, free, sound, and something left.
    pub fn is_fit(&self, today: Date) -> bool {
        !self.quarantined && !self.damaged && self.left_g > 0.0 && self.expires.is_none_or(|e| e >= today)
    }
}

/// The lot to take first: the one that came in first; of one day's, the one that expires first, then by code.
///
/// **Source:** common practice in the trade, first in first out. A lot that came in later and expires sooner is not
/// put first: its date stands beside it, and another may be taken with a reason.
pub fn first(lots: &[Waiting], today: Date) -> Option<&Waiting> {
    lots.iter().filter(|l| l.is_fit(today)).min_by(|a, b| {
        (a.received, a.expires.unwrap_or(Date::MAX), &a.code).cmp(&(b.received, b.expires.unwrap_or(Date::MAX), &b.code))
    })
}
