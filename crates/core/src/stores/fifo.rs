//! Which lot to take first.

use crate::worded::Worded;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Days before its last day that a lot is shown as soon over, from memory.
pub const SOON_DAYS: i32 = 30;

/// How a lot stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum LotState {
    /// May be taken.
    #[strum(serialize = "fit to take")]
    Fit,
    /// May be taken, and is soon over.
    #[strum(serialize = "soon over")]
    Soon,
    /// Nothing is left.
    #[strum(serialize = "used up")]
    Empty,
    /// Its container is damaged: a lead looks first.
    #[strum(serialize = "damaged")]
    Damaged,
    /// Past its last day.
    #[strum(serialize = "expired")]
    Expired,
    /// Nobody takes it.
    #[strum(serialize = "quarantined")]
    Quarantined,
}

impl Worded for LotState {}

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

    /// How it stands on a day, with its words. A lot is good through its last day.
    ///
    /// ```
    /// use level_keel_core::stores::fifo::{LotState, Waiting};
    /// let lot = Waiting {
    ///     code: "P-1".into(),
    ///     received: "2026-03-01".parse().unwrap(),
    ///     expires: Some("2026-03-20".parse().unwrap()),
    ///     quarantined: false,
    ///     damaged: false,
    ///     left_g: 500.0,
    /// };
    /// assert_eq!(lot.state("2026-03-20".parse().unwrap()), (LotState::Soon, "last day today".into()));
    /// assert_eq!(lot.state("2026-03-21".parse().unwrap()).0, LotState::Expired);
    /// ```
    pub fn state(&self, today: Date) -> (LotState, String) {
        let days = self.expires.map(|e| e.since(today).map_or(0, |s| s.get_days()));
        if self.quarantined {
            return (LotState::Quarantined, "quarantined".into());
        }
        match days {
            Some(d) if d < 0 => return (LotState::Expired, format!("expired {} d ago", -d)),
            _ if self.left_g <= 0.0 => return (LotState::Empty, "used up".into()),
            _ if self.damaged => return (LotState::Damaged, "damaged".into()),
            Some(0) => return (LotState::Soon, "last day today".into()),
            Some(d) if d <= SOON_DAYS => return (LotState::Soon, format!("{d} d left")),
            _ => {}
        }
        (LotState::Fit, days.map_or("no date".into(), |d| format!("{d} d left")))
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
