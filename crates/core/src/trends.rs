//! Trends of finished batches by product, rig or person: a line of weekly means for each figure, and whether it moves.

use crate::quantity::{Prefs, QuantityKind, show};
use crate::ratio_check::Trend;
use crate::worded::{VariantArray, Worded};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What batches are put together by.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum TrendBy {
    /// By product.
    #[default]
    #[strum(serialize = "product")]
    Product,
    /// By rig.
    #[strum(serialize = "rig")]
    Rig,
    /// By who worked on them; for leads and the owner.
    #[strum(serialize = "person")]
    Person,
}

impl Worded for TrendBy {}

/// A figure that is followed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum TrendOf {
    /// Film of what was wanted.
    #[strum(serialize = "Film of wanted")]
    Film,
    /// Ratio off the middle of its tolerance.
    #[strum(serialize = "Ratio off the middle")]
    Ratio,
    /// Paint of what was reckoned.
    #[strum(serialize = "Paint of reckoned")]
    Paint,
    /// Hours from beginning to last pass.
    #[strum(serialize = "Begun to last pass")]
    Time,
    /// Right the first time.
    #[strum(serialize = "Right the first time")]
    FirstTime,
}

impl Worded for TrendOf {}

impl TrendOf {
    /// What it is when all goes as planned; a time has no such figure.
    fn planned(self) -> Option<f64> {
        match self {
            TrendOf::Film | TrendOf::Paint | TrendOf::FirstTime => Some(100.0),
            TrendOf::Ratio => Some(0.0),
            TrendOf::Time => None,
        }
    }

    fn shown(self, value: f64, prefs: Prefs) -> String {
        match self {
            TrendOf::Time => show(value, QuantityKind::Time, prefs).text,
            // No minus before nothing.
            TrendOf::Ratio if value.abs() < 0.05 => "0.0\u{a0}%".into(),
            TrendOf::Ratio => format!("{value:+.1}\u{a0}%"),
            TrendOf::Film | TrendOf::Paint | TrendOf::FirstTime => format!("{value:.0}\u{a0}%"),
        }
    }
}

/// The mean of a figure over the batches of a week that have it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WeekMean {
    /// Monday of the week.
    pub week: Date,
    /// Which figure.
    pub of: TrendOf,
    /// The mean.
    pub mean: f64,
    /// Batches it is the mean of.
    pub count: i64,
}

/// What batches of one product, rig or person came to, week by week.
#[derive(Debug, Clone, PartialEq)]
pub struct Followed {
    /// Its name.
    pub name: String,
    /// Batches in all.
    pub count: i64,
    /// The means.
    pub weeks: Vec<WeekMean>,
}

/// A point of a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct TrendPoint {
    /// Monday of its week.
    pub week: Date,
    /// Place along the picture, 0 to 1.
    pub x: f64,
    /// Place up the picture, 0 to 1.
    pub y: f64,
    /// What it says.
    pub figure: String,
    /// Batches it stands for.
    pub count: i64,
}

/// A figure with its line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct TrendLine {
    pub of: TrendOf,
    pub name: String,
    /// The mean over all batches that have it.
    pub mean: Option<String>,
    /// Batches that have it.
    pub count: i64,
    pub points: Vec<TrendPoint>,
    /// Where the planned figure stands in the picture, 0 to 1.
    pub planned_y: Option<f64>,
    /// Whether it moves.
    pub word: String,
    /// It moves and that is no chance.
    pub moves: bool,
}

/// One product, rig or person.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct TrendGroup {
    pub name: String,
    pub count: i64,
    pub lines: Vec<TrendLine>,
}

/// The lines of what was followed, for drawing, those with most batches first.
///
/// **Rule:** a line moves where the slope of its weekly means is real at 5 per cent ([`Trend::is_real`]); under eight weeks nothing is
/// said of it. **Units:** per cent, s. **Source:** NIST/SEMATECH e-Handbook 4.4.3.1 for the slope; weekly means are ours.
pub fn groups(mut followed: Vec<Followed>, first: Date, last: Date, prefs: Prefs) -> Vec<TrendGroup> {
    followed.sort_by(|a, b| b.count.cmp(&a.count).then_with(|| a.name.cmp(&b.name)));
    let seen = |one: Followed| TrendGroup {
        lines: TrendOf::VARIANTS.iter().map(|of| line(&one.weeks, *of, (first, last), prefs)).collect(),
        name: one.name,
        count: one.count,
    };
    followed.into_iter().map(seen).collect()
}

/// Of a week with a few batches among weeks of many the mean says little, and a slope takes all weeks alike: those with less than a quarter
/// of the batches of the middle week are left out of it.
fn weeks_that_count<'a>(weeks: &[&'a WeekMean]) -> Vec<&'a WeekMean> {
    let mut counts: Vec<i64> = weeks.iter().map(|w| w.count).collect();
    counts.sort_unstable();
    let middle = counts.get(counts.len() / 2).copied().unwrap_or(0);
    weeks.iter().copied().filter(|w| 4 * w.count >= middle).collect()
}

fn days(from: Date, to: Date) -> f64 {
    f64::from(to.since(from).map_or(0, |span| span.get_days()))
}

fn line(weeks: &[WeekMean], of: TrendOf, (first, last): (Date, Date), prefs: Prefs) -> TrendLine {
    let mut own: Vec<&WeekMean> = weeks.iter().filter(|w| w.of == of && w.count > 0).collect();
    own.sort_by_key(|w| w.week);
    let count: i64 = own.iter().map(|w| w.count).sum();
    let mean = (count > 0).then(|| own.iter().map(|w| w.mean * w.count as f64).sum::<f64>() / count as f64);
    let planned = of.planned();
    let values = || own.iter().map(|w| w.mean).chain(planned);
    let (lo, hi) = values().fold((f64::MAX, f64::MIN), |(lo, hi), v| (lo.min(v), hi.max(v)));
    // A line that does not move lies in the middle.
    let place = |v: f64| if hi > lo { (v - lo) / (hi - lo) } else { 0.5 };
    let whole = days(first, last).max(1.0);
    let points = own
        .iter()
        .map(|w| TrendPoint {
            week: w.week,
            x: (days(first, w.week) / whole).clamp(0.0, 1.0),
            y: place(w.mean),
            figure: of.shown(w.mean, prefs),
            count: w.count,
        })
        .collect();
    let by_week: Vec<(f64, f64)> = weeks_that_count(&own).into_iter().map(|w| (days(first, w.week) / 7.0, w.mean)).collect();
    let (word, moves) = match Trend::of(&by_week) {
        None if own.is_empty() => ("not measured".into(), false),
        None => ("too few weeks".into(), false),
        // A slope that is nothing in the digits it is said with moves nothing anybody could see.
        Some(trend) if !trend.is_real() || of.shown(trend.slope.abs(), prefs) == of.shown(0.0, prefs) => ("steady".into(), false),
        Some(trend) => {
            let way = if trend.slope > 0.0 { "rising" } else { "falling" };
            let by = of.shown(trend.slope.abs(), prefs).trim_start_matches('+').to_string();
            (format!("{way} {by} a week"), true)
        }
    };
    let planned_y = planned.filter(|_| !own.is_empty()).map(place);
    TrendLine { of, name: of.word().into(), mean: mean.map(|m| of.shown(m, prefs)), count, points, planned_y, word, moves }
}
