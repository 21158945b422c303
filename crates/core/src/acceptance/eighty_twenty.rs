//! 80/20: the mean at its nominal, no reading under 80 % of it, fewer than a fifth of them under it, none over the most agreed.

use crate::verdict::{Measured, Tolerance, Verdict, is_over};

/// Least of a reading, of the nominal; ISO 19840, from memory.
pub const LEAST_PART: f64 = 0.8;
/// Most of a reading where nothing else is agreed, of the nominal; ISO 19840, from memory.
pub const MOST_PART: f64 = 3.0;
/// Fewer than one in so many readings may be under the nominal; ISO 19840, from memory.
const ONE_IN: usize = 5;

/// Readings a part asks.
///
/// **Rule:** 5 to 1 m², 10 to 3, 15 to 10, 20 to 30, 30 to 100, then 10 more for each further 100 m² or part. **Units:** m².
/// **Source:** ISO 19840, from memory.
///
/// ```
/// use level_keel_core::acceptance::eighty_twenty::readings_asked;
/// assert_eq!([1.0, 3.0, 10.0, 30.0, 100.0, 101.0, 300.0].map(readings_asked), [5, 10, 15, 20, 30, 40, 50]);
/// ```
pub fn readings_asked(area_m2: f64) -> usize {
    let steps = [(1.0, 5), (3.0, 10), (10.0, 15), (30.0, 20), (100.0, 30)];
    if let Some((_, asked)) = steps.into_iter().find(|(to, _)| !is_over(area_m2, *to)) {
        return asked;
    }
    let further = (area_m2 - 100.0) / 100.0;
    let whole = further.floor();
    30 + 10 * (whole as usize + usize::from(is_over(further, whole)))
}

/// Readings as 80/20 judges them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Judged {
    /// Their mean.
    pub mean_um: Measured,
    /// Readings under the nominal: at the least, at the most, by what the gauge may be off.
    pub under: (usize, usize),
    /// Readings under 80 % of it.
    pub far_under: (usize, usize),
    /// Readings over the most agreed.
    pub over: (usize, usize),
    /// So many were taken.
    pub count: usize,
    /// The part; `None`: under way, and more readings may still bring it in.
    pub verdict: Option<Verdict>,
}

/// Judges readings by 80/20; `None` without any.
///
/// **Rule:** mean ≥ nominal; every reading ≥ 80 % of it; fewer than 20 % of them under it; none over the most. A reading counts as under
/// where all of its interval is, and may be where some of it is: what the two counts do not agree on cannot be told. With fewer
/// readings than asked only what no further reading mends is told. **Units:** µm. **Source:** ISO 19840, from memory.
///
/// ```
/// use level_keel_core::{acceptance::eighty_twenty::judge, verdict::{Measured, Verdict}};
/// let read = [162.0, 171.0, 158.0, 149.0, 166.0, 174.0, 160.0, 155.0, 168.0, 161.0].map(|um| Measured::pm(um, 0.0));
/// let judged = judge(&read, 10, 160.0, 480.0).unwrap();
/// assert!((judged.mean_um.value - 162.4).abs() < 1e-9);
/// assert_eq!((judged.under, judged.verdict), ((3, 3), Some(Verdict::Low)));
/// ```
pub fn judge(readings_um: &[Measured], asked: usize, nominal_um: f64, most_um: f64) -> Option<Judged> {
    let count = readings_um.len();
    if count == 0 {
        return None;
    }
    let tally = |limit: Tolerance, of: Verdict| {
        let verdicts = readings_um.iter().map(|um| limit.judge(*um));
        verdicts.fold((0, 0), |(sure, maybe), v| {
            (sure + usize::from(v == of), maybe + usize::from(v == of || v == Verdict::CannotTell))
        })
    };
    let under = tally(Tolerance::at_least(nominal_um), Verdict::Low);
    let far_under = tally(Tolerance::at_least(LEAST_PART * nominal_um), Verdict::Low);
    let over = tally(Tolerance::at_most(most_um), Verdict::High);
    let mean = |of: fn(&Measured) -> f64| readings_um.iter().map(of).sum::<f64>() / count as f64;
    let mean_um = Measured { lo: mean(|m| m.lo), value: mean(|m| m.value), hi: mean(|m| m.hi) };
    let too_many = |n: usize| n * ONE_IN >= count;
    let at_nominal = Tolerance::at_least(nominal_um).judge(mean_um);
    let verdict = if over.0 > 0 {
        Some(Verdict::High)
    } else if far_under.0 > 0 {
        Some(Verdict::Low)
    } else if count < asked {
        None
    } else if too_many(under.0) || at_nominal == Verdict::Low {
        Some(Verdict::Low)
    } else if too_many(under.1) || far_under.1 > 0 || over.1 > 0 || at_nominal == Verdict::CannotTell {
        Some(Verdict::CannotTell)
    } else {
        Some(Verdict::In)
    };
    Some(Judged { mean_um, under, far_under, over, count, verdict })
}

/// Every reading between a least and a most, as many as 80/20 asks.
///
/// **Rule:** one that is out is enough; fewer than asked leave it under way. **Units:** those of the band. **Source:** common practice
/// in the trade.
///
/// ```
/// use level_keel_core::{acceptance::eighty_twenty::least_most, verdict::{Measured, Verdict}};
/// let read = [110.0, 150.0, 149.0].map(|um| Measured::pm(um, 0.0));
/// assert_eq!(least_most(&read, 3, 110.0, 150.0), Some(Verdict::In));
/// assert_eq!(least_most(&read, 5, 110.0, 150.0), None);
/// assert_eq!(least_most(&read, 5, 111.0, 150.0), Some(Verdict::Low));
/// ```
pub fn least_most(readings_um: &[Measured], asked: usize, least_um: f64, most_um: f64) -> Option<Verdict> {
    let band = Tolerance::between(least_um, most_um);
    let verdicts: Vec<Option<Verdict>> = readings_um.iter().map(|um| Some(band.judge(*um))).collect();
    let worst = super::spots::worst(&verdicts);
    worst.filter(|v| v.is_out() || readings_um.len() >= asked)
}
