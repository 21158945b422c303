//! The chart of a ledger, drawn inside a vial: the tolerance is its wall, a catch as long as its scale leaves it in doubt.

use super::due::{Due, DueBy};
use super::ledger::{LedgerProof, ProofKind};
use super::study::{Along, Studied};
use super::trend::Trend;
use crate::quantity::{Prefs, QuantityKind, Shown, show};
use crate::verdict::Verdict;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Catches the chart shows at most, where not all are asked for: more cannot be told apart on a tablet.
pub const NEWEST_DRAWN: usize = 40;
/// The lower and upper tolerance lie here, of the height; the vial reaches past them.
const WALLS: (f64, f64) = (0.15, 0.85);

/// A proof in the chart; places run from 0 to 1, to the right and up.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ChartPoint {
    pub entry: Uuid,
    pub x: f64,
    pub lo: f64,
    pub y: f64,
    pub hi: f64,
    pub kind: ProofKind,
    pub verdict: Verdict,
    /// A rule fired here.
    pub fired: bool,
}

/// A regime in the chart.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ChartRegime {
    /// Where it begins.
    pub from: f64,
    /// Where its last proof stands.
    pub to: f64,
    /// What began it, and how many catches it has.
    pub title: String,
    /// Lower control limit.
    pub lo: Option<f64>,
    /// Upper control limit.
    pub hi: Option<f64>,
}

/// The trend of the newest regime: its line and its band, as places.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ChartTrend {
    /// x, lower edge, line, upper edge.
    pub band: Vec<[f64; 4]>,
}

/// One moving range.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ChartRange {
    /// Where.
    pub x: f64,
    /// How high, 0 to 1 of the strip; its upper limit stands at two thirds.
    pub y: f64,
}

/// What a rule says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct RuleSaid {
    /// The rule, short.
    pub title: String,
    /// What it is and what it usually means.
    pub text: String,
}

/// The chart of a ledger.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Chart {
    /// Lower tolerance, as a place.
    pub wall_low: f64,
    /// Upper tolerance, as a place.
    pub wall_high: f64,
    /// The figures of the tolerance.
    pub least: Shown,
    /// The upper one.
    pub most: Shown,
    /// Proofs, oldest first.
    pub points: Vec<ChartPoint>,
    /// Regimes, oldest first.
    pub regimes: Vec<ChartRegime>,
    /// Moving ranges of the catches, within their regimes.
    pub ranges: Vec<ChartRange>,
    /// The trend of the newest regime, where its slope is real.
    pub trend: Option<ChartTrend>,
    /// Where the band of the trend meets a limit, if the drawing reaches it.
    pub due_x: Option<f64>,
    /// What runs along the bottom.
    pub along: String,
    /// The rules that fired at the last catch, the strongest first.
    pub said: Vec<RuleSaid>,
    /// Proofs before the first drawn.
    pub earlier: usize,
}

/// Draws a ledger; `None` without a proof that has a figure.
///
/// `most_drawn`: so many of the newest proofs. Regimes stand side by side, each as wide as its share of what runs along the
/// bottom. **Source:** ours.
pub fn chart(proofs: &[LedgerProof], studied: &[Studied], most_drawn: usize, prefs: Prefs) -> Option<Chart> {
    let newest = proofs.iter().rev().find_map(|p| p.figure)?;
    let first = proofs.len().saturating_sub(most_drawn);
    let (least, most, kind) = (newest.least, newest.most, newest.kind());
    let width = (most - least).max(1e-9);
    let up = |v: f64| (WALLS.0 + (v - least) / width * (WALLS.1 - WALLS.0)).clamp(-0.05, 1.05);
    let shown = |s: &&Studied| s.regime.to > first;
    let drawn: Vec<&Studied> = studied.iter().filter(shown).collect();
    let last = *drawn.last()?;
    // Every proof takes a place by what its regime runs along; a regime with one place takes a step of its own.
    let spans: Vec<f64> = drawn.iter().map(|s| span(s, proofs, first)).collect();
    let ahead = ahead(last);
    let counts: Vec<f64> = drawn.iter().map(|s| (s.regime.to - s.regime.from.max(first)) as f64).collect();
    let all: f64 =
        counts.iter().sum::<f64>() + counts.last().copied().unwrap_or(1.0) * ahead / spans.last().copied().unwrap_or(1.0);
    let step = 0.96 / all.max(1.0);
    let (mut chart, mut from) = (Chart::empty(up(least), up(most), show(least, kind, prefs), show(most, kind, prefs)), 0.02);
    chart.earlier = first;
    for ((s, span), count) in drawn.iter().zip(&spans).zip(&counts) {
        let wide = step * count;
        let start = s.regime.from.max(first);
        let origin = place_of(s, &proofs[start], proofs, start);
        let x_of = |v: f64| from + step / 2.0 + (v - origin) / span * (wide - step).max(step * 0.5);
        draw_regime(&mut chart, s, proofs, start, &x_of, &up, (from, from + wide));
        if std::ptr::eq(*s, last) {
            draw_trend(&mut chart, s, &x_of, &up);
        }
        from += wide;
    }
    chart.along = match last.along {
        Along::Kilograms => "kilograms sprayed".into(),
        Along::Hours => "time".into(),
    };
    chart.said = last.fired().iter().map(|f| RuleSaid { title: f.words(), text: f.usual(kind) }).collect();
    Some(chart)
}

impl Chart {
    fn empty(low: f64, high: f64, least: Shown, most: Shown) -> Chart {
        Chart {
            wall_low: low,
            wall_high: high,
            least,
            most,
            points: Vec::new(),
            regimes: Vec::new(),
            ranges: Vec::new(),
            trend: None,
            due_x: None,
            along: String::new(),
            said: Vec::new(),
            earlier: 0,
        }
    }
}

/// Where a proof stands along its regime: by what the regime runs along where it knows, else by its place in the list.
fn place_of(s: &Studied, proof: &LedgerProof, proofs: &[LedgerProof], index: usize) -> f64 {
    let caught = s.catches.binary_search_by_key(&index, |c| c.index).ok().map(|i| s.catches[i]);
    let hours = || proof.at.duration_since(proofs[s.regime.from].at).as_secs_f64() / 3600.0;
    match (s.along, caught) {
        (Along::Kilograms, Some(c)) => c.kg.unwrap_or(0.0),
        // A pot or a run between two catches stands between them.
        (Along::Kilograms, None) => {
            let after = s.catches.partition_point(|c| c.index < index);
            s.catches.get(after.min(s.catches.len().saturating_sub(1))).and_then(|c| c.kg).unwrap_or(0.0)
        }
        (Along::Hours, _) => hours(),
    }
}

fn span(s: &Studied, proofs: &[LedgerProof], first: usize) -> f64 {
    let (from, to) = (s.regime.from.max(first), s.regime.to - 1);
    (place_of(s, &proofs[to], proofs, to) - place_of(s, &proofs[from], proofs, from)).max(1e-6)
}

/// How far past the last proof the drawing reaches, in what the regime runs along: to where the band meets a limit, at most as
/// far as it came.
fn ahead(last: &Studied) -> f64 {
    let Some((a, b)) = ends(last) else { return 0.0 };
    meets(last).map_or(0.0, |x| (x - b).clamp(0.0, (b - a).max(1e-6)) * 1.15)
}

/// Where the first and the last catch stand along the regime.
fn ends(s: &Studied) -> Option<(f64, f64)> {
    let (a, b) = s.catches.first().zip(s.catches.last())?;
    s.x(a.at, a.kg).zip(s.x(b.at, b.kg))
}

/// Where the band of a real trend meets the tolerance, past the last catch.
fn meets(s: &Studied) -> Option<f64> {
    let (_, last) = ends(s)?;
    s.trend.filter(Trend::is_real)?.meets(s.tolerance()?, last).filter(|x| *x > last)
}

fn draw_regime(
    chart: &mut Chart,
    s: &Studied,
    proofs: &[LedgerProof],
    start: usize,
    x_of: &impl Fn(f64) -> f64,
    up: &impl Fn(f64) -> f64,
    (from, to): (f64, f64),
) {
    let mut before: Option<f64> = None;
    let rules = s.fired_each();
    for (index, proof) in proofs.iter().enumerate().take(s.regime.to).skip(start) {
        let Some(figure) = proof.figure else { continue };
        let x = x_of(place_of(s, proof, proofs, index));
        let at = s.catches.binary_search_by_key(&index, |c| c.index).ok();
        let fired = at.is_some_and(|at| rules[at]);
        let (lo, y, hi) = (up(figure.lo), up(figure.value), up(figure.hi));
        chart.points.push(ChartPoint { entry: proof.entry, x, lo, y, hi, kind: proof.kind, verdict: proof.verdict, fired });
        if let (Some(limits), Some(was), Some(_)) = (&s.limits, before, at) {
            let y = (figure.value - was).abs() / limits.most_range() * 2.0 / 3.0;
            chart.ranges.push(ChartRange { x, y: y.min(1.0) });
        }
        before = at.map(|_| figure.value).or(before);
    }
    let count = s.catches.len();
    let catches = format!("{count} {}", if count == 1 { "catch" } else { "catches" });
    let title = s.regime.began.as_ref().map_or(catches.clone(), |began| format!("{began}, {catches}"));
    let (lo, hi) = s.limits.map_or((None, None), |l| (Some(up(l.lo())), Some(up(l.hi()))));
    chart.regimes.push(ChartRegime { from, to, title, lo, hi });
}

/// The line and its band, from the first catch to where it meets a limit, or to the last.
fn draw_trend(chart: &mut Chart, s: &Studied, x_of: &impl Fn(f64) -> f64, up: &impl Fn(f64) -> f64) {
    let (Some(trend), Some((a, b))) = (s.trend.filter(Trend::is_real), ends(s)) else { return };
    let meets = meets(s);
    let till = meets.map_or(b, |m| m.min(b + (b - a)));
    let steps = 12;
    let at = |i: i32| a + (till - a) * f64::from(i) / f64::from(steps);
    let edge = |x: f64| {
        let band = trend.band(x);
        [x_of(x), up(band.lo), up(band.value), up(band.hi)]
    };
    chart.trend = Some(ChartTrend { band: (0..=steps).map(|i| edge(at(i))).collect() });
    chart.due_x = meets.filter(|m| *m <= till + 1e-9).map(x_of);
}

/// What the ledger says of the next check, for people.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DueView {
    /// What may still be sprayed, where kilograms set it.
    pub left: Option<Shown>,
    /// When it is due by the clock, or when the kilograms will be gone at the last hour's rate.
    pub at: Option<Timestamp>,
    /// It is due or overdue now.
    pub overdue: bool,
    /// In one sentence.
    pub text: String,
    /// Under the float of its station.
    pub line: String,
}

impl Due {
    /// For people: what may still be sprayed, until when, and why.
    pub fn view(&self, now: Timestamp, kg: Option<f64>, rate_kg_s: Option<f64>, prefs: Prefs) -> DueView {
        let left_kg = self.left_kg(kg);
        let left = left_kg.map(|kg| show(kg * 1000.0, QuantityKind::Mass, prefs));
        let gone = self.gone_at(now, kg, rate_kg_s);
        let at = [self.at, gone].into_iter().flatten().min();
        if let Some(why) = self.overdue(now, kg, prefs) {
            let text = format!("Check due: {why}. Catch both streams again.");
            return DueView { left, at, overdue: true, text, line: "check due now".into() };
        }
        let by_clock = self.at.map(|at| {
            let in_s = at.duration_since(now).as_secs_f64();
            let when = crate::quantity::show_duration(in_s);
            match self.at_by {
                Some(DueBy::Noisy) => format!("catches scatter too much: catch longer, and again in {when}"),
                Some(DueBy::Trend) => format!("in {when}: the band of the trend meets the limit there"),
                Some(DueBy::Shop) | None => format!("by the shop’s interval in {when}"),
            }
        });
        let by_kg = left.as_ref().map(|l| format!("after {}: the band of the trend meets the limit there", l.text));
        let text = [by_kg, by_clock].into_iter().flatten().collect::<Vec<_>>().join("; ");
        let soonest = at.map(|at| crate::quantity::show_duration(at.duration_since(now).as_secs_f64()));
        let line = match (&left, soonest) {
            (Some(left), _) => format!("due in {}", left.text),
            (None, Some(when)) => format!("due in {when}"),
            (None, None) => String::new(),
        };
        DueView { left, at, overdue: false, text: format!("Next check {text}."), line }
    }
}
