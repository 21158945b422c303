//! When the ratio is to be checked next: by the trend of its regime and by the shop's own interval, whichever comes first.

use super::study::{Along, Studied};
use crate::quantity::{Prefs, QuantityKind, show, show_duration};
use crate::verdict::{Measured, Verdict, is_over};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A proof by two catches holds so long at most; from memory.
pub const PROOF_GOOD_FOR_S: f64 = 12.0 * 3600.0;

/// What sets the next check.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DueBy {
    /// The band of the trend meets a limit there.
    Trend,
    /// The shop's own interval.
    Shop,
    /// The band is past a limit already: catches scatter too much, or the line is at the limit.
    Noisy,
}

/// When a check is due: by kilograms, by the clock, or by both; whichever comes.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Due {
    /// The catch it counts from.
    pub since: Timestamp,
    /// At so many kilograms of rig and product.
    pub at_kg: Option<f64>,
    /// At this time.
    pub at: Option<Timestamp>,
    /// What sets the time, where there is one.
    pub at_by: Option<DueBy>,
    /// The band of the trend is past a limit at the last catch.
    pub noisy: bool,
}

/// When the newest regime is to be checked next; `None` where nothing says so: no catch that is in, or neither a trend nor an interval.
///
/// **Formula:** the first x where the trend's band meets the tolerance ([`super::Trend::meets`]), where its slope is real; and
/// `shop_s` after the last catch. Where the band is past the tolerance already, a quarter of `shop_s` (of 12 h where the shop
/// has none). **Units:** kg, s. **Source:** derived from the prediction band; the quarter from memory.
pub fn due(studied: &Studied, shop_s: Option<f64>) -> Option<Due> {
    let last = studied.catches.last()?;
    if last.figure.tolerance().judge(last.figure.measured()) != Verdict::In {
        return None;
    }
    let after = |s: f64| last.at.checked_add(SignedDuration::from_secs_f64(s)).ok();
    let mut due = Due { since: last.at, at_kg: None, at: None, at_by: None, noisy: false };
    if let Some(at) = shop_s.and_then(after) {
        (due.at, due.at_by) = (Some(at), Some(DueBy::Shop));
    }
    let real = studied.trend.filter(super::Trend::is_real);
    if let (Some(trend), Some(x)) = (real, studied.x(last.at, last.kg)) {
        match trend.meets(last.figure.tolerance(), x) {
            Some(meets) if meets <= x => {
                due.noisy = true;
                let quarter = after(shop_s.unwrap_or(PROOF_GOOD_FOR_S) / 4.0);
                (due.at, due.at_by) = (quarter, Some(DueBy::Noisy));
            }
            Some(meets) if studied.along == Along::Kilograms => due.at_kg = Some(meets),
            Some(meets) => {
                let at = after((meets - x) * 3600.0);
                if let Some(at) = at.filter(|at| due.at.is_none_or(|shop| *at < shop)) {
                    (due.at, due.at_by) = (Some(at), Some(DueBy::Trend));
                }
            }
            None => {}
        }
    }
    (due.at.is_some() || due.at_kg.is_some()).then_some(due)
}

impl Due {
    /// Why it is overdue, in words that end a sentence; `None` while it is not. On the hour or the kilogram it still stands.
    ///
    /// **Rule:** by kilograms or by the clock, whichever came. **Units:** kg. **Source:** common practice in the trade.
    pub fn overdue(&self, now: Timestamp, kg: Option<f64>, prefs: Prefs) -> Option<String> {
        if let Some((at_kg, kg)) = self.at_kg.zip(kg).filter(|(at_kg, kg)| is_over(*kg, *at_kg)) {
            let past = show((kg - at_kg) * 1000.0, QuantityKind::Mass, prefs).text;
            return Some(format!("the band of the trend met its limit {past} ago"));
        }
        if self.at_kg.is_some() && kg.is_none() {
            return Some("nobody wrote what a pass took, so what was sprayed since is not known".into());
        }
        let past = self.at.filter(|at| now > *at)?;
        let ago = show_duration(now.duration_since(past).as_secs_f64());
        Some(match self.at_by {
            Some(DueBy::Noisy) => format!("catches scatter too much to trust it longer; catch longer ({ago} over)"),
            Some(DueBy::Trend) => format!("the band of the trend met its limit {ago} ago"),
            Some(DueBy::Shop) | None => format!("the shop’s own interval ended {ago} ago"),
        })
    }

    /// What may still be sprayed before it, in kilograms.
    ///
    /// **Formula:** `at − sprayed`. **Units:** kg. **Source:** arithmetic.
    pub fn left_kg(&self, kg: Option<f64>) -> Option<f64> {
        self.at_kg.zip(kg).map(|(at, kg)| (at - kg).max(0.0))
    }

    /// When the kilograms left will be gone at the last hour's rate; `None` without a rate.
    ///
    /// **Formula:** `t = left / rate`. **Units:** kg, kg/s. **Source:** arithmetic.
    pub fn gone_at(&self, now: Timestamp, kg: Option<f64>, rate_kg_s: Option<f64>) -> Option<Timestamp> {
        let (left, rate) = self.left_kg(kg).zip(rate_kg_s.filter(|r| *r > 0.0))?;
        now.checked_add(SignedDuration::from_secs_f64((left / rate).min(1e9))).ok()
    }
}

/// The mean of some catches with its own interval, in the words of their sheet.
///
/// **Formula:** mean of the values ± (mean half width of the scale + `t·s/√n`); of one catch the spread is the usual 1 per cent.
/// **Units:** those of the ratio. **Source:** NIST/SEMATECH e-Handbook 1.3.5.2; the scale by its worst case.
pub fn mean_of(catches: &[Measured]) -> Option<Measured> {
    let n = catches.len() as f64;
    let mean = catches.iter().map(|c| c.value).sum::<f64>() / n;
    let scale = catches.iter().map(|c| (c.hi - c.lo) / 2.0).sum::<f64>() / n;
    let spread = match catches.len() {
        0 => return None,
        1 => super::USUAL_REPEAT * mean,
        _ => {
            let s = (catches.iter().map(|c| (c.value - mean).powi(2)).sum::<f64>() / (n - 1.0)).sqrt();
            super::student_t(super::SIGNIFICANT, n - 1.0) * s / n.sqrt()
        }
    };
    Some(Measured::pm(mean, scale + spread))
}
