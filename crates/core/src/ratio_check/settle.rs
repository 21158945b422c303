//! Measure only what decides: where a verdict is *cannot tell*, the further thing that would settle it, with its chance.

use super::trend::normal_under;
use crate::mixing::{Component, Weighed, b_per_a};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::verdict::Measured;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Likely enough to be worth doing: four in five; from memory.
const LIKELY: f64 = 0.8;
/// Less than this is not offered.
const HARDLY: f64 = 0.05;
/// Times a catch is run for, in seconds.
const CATCHES_S: [f64; 8] = [15.0, 20.0, 24.0, 30.0, 45.0, 60.0, 90.0, 120.0];
/// How many times as much is caught, where nobody timed it, or mixed.
const TIMES: [f64; 6] = [1.5, 2.0, 3.0, 4.0, 6.0, 10.0];
/// What is sprayed between two weighings of the supplies, in grams of A.
const RUNS_G: [f64; 7] = [2e3, 5e3, 10e3, 15e3, 20e3, 30e3, 50e3];

/// What more could be done, the cheapest first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Further {
    /// Tare before hardener.
    TareBetween,
    /// Catch for longer.
    CatchLonger,
    /// Weigh on a finer scale of the shop.
    FinerScale,
    /// Both.
    LongerAndFiner,
    /// Mix more at once.
    MixMore,
    /// Weigh the supplies before and after.
    WeighSupplies,
}

/// One further thing and how likely it settles the verdict.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Settles {
    /// Which.
    pub further: Further,
    /// What to do.
    pub text: String,
    /// The chance that it settles it, 0 to 1.
    pub chance: f64,
    /// The chance in words: "9 in 10".
    pub chance_said: String,
}

/// What there is to choose from.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Settling {
    /// The cheapest that is likely enough, else the likeliest. None: nothing settles it.
    pub best: Option<Settles>,
    /// The others, the cheapest first.
    pub others: Vec<Settles>,
    /// Said where nothing is likely: it stands on the limit itself.
    pub on_the_limit: Option<String>,
}

/// A ratio in doubt.
#[derive(Debug, Clone, Copy)]
pub struct Doubt<'a> {
    /// What was weighed: of a pair of catches each apart.
    pub weighed: &'a [Weighed],
    /// It was caught, and can be caught again; else poured.
    pub caught: bool,
    /// How long it ran.
    pub time_s: Option<f64>,
    /// B per A that is allowed, by weight.
    pub allowed: (f64, f64),
    /// Repeat spread of the regime, as a part of the ratio: [`super::Studied::repeat`].
    pub repeat: f64,
    /// Resolutions of the shop's scales.
    pub scales_g: &'a [f64],
}

impl Doubt<'_> {
    /// Everything as it was, `more` times as much of it, on a scale of `resolution_g`, tared or not.
    fn weighed_so(&self, more: f64, resolution_g: Option<f64>, tared: bool) -> Option<Measured> {
        let mut total = 0.0;
        let mut before = 0.0;
        let scaled: Vec<Weighed> = self
            .weighed
            .iter()
            .map(|w| {
                // What this pour alone weighs, whatever stood on the scale.
                let alone = if w.tared { w.reading_g } else { w.reading_g - w.start_g.unwrap_or(before) };
                before = w.reading_g;
                total += alone * more;
                let apart = w.tared || tared;
                let reading_g = if apart { alone * more } else { total };
                let resolution_g = resolution_g.unwrap_or(w.resolution_g);
                Weighed { reading_g, tared: apart, resolution_g, start_g: None, component: w.component }
            })
            .collect();
        b_per_a(&scaled)
    }

    /// The chance that a further measurement of this half width, as a part of the ratio, lies wholly on one side of each limit.
    ///
    /// **Formula:** the next reading is normal about this one with `σ² = 2·repeat² + (w² + w'²)/3`: two catches differ by their
    /// repeat, and each scale by up to its half width, evenly. Settled where `r'·(1 ± w')` is wholly in or wholly out.
    /// **Units:** none. **Source:** derived; an even spread of half width w has the variance w²/3.
    fn chance(&self, now: Measured, then_off: f64, repeats: f64) -> f64 {
        let off = (now.hi - now.lo) / 2.0 / now.value;
        let sigma = now.value * (repeats * self.repeat * self.repeat + (off * off + then_off * then_off) / 3.0).sqrt();
        let under =
            |limit: f64| if sigma > 0.0 { normal_under((limit - now.value) / sigma) } else { f64::from(now.value <= limit) };
        let (lo, hi) = self.allowed;
        let inside = (under(hi / (1.0 + then_off)) - under(lo / (1.0 - then_off).max(1e-9))).max(0.0);
        inside + under(lo / (1.0 + then_off)) + (1.0 - under(hi / (1.0 - then_off).max(1e-9)))
    }

    fn off_of(m: Measured) -> f64 {
        (m.hi - m.lo) / 2.0 / m.value
    }

    fn try_so(&self, now: Measured, further: Further, more: f64, scale: Option<f64>, text: String) -> Option<Settles> {
        let then = self.weighed_so(more, scale, further == Further::TareBetween)?;
        // A pot that is weighed better is the same pot; a catch is another one.
        let repeats = if self.caught { 2.0 } else { 0.0 };
        Some(settles(further, text, self.chance(now, Self::off_of(then), repeats)))
    }

    /// Of several amounts the least that is likely enough, else the likeliest.
    fn least_of(&self, all: impl Iterator<Item = Settles>) -> Option<Settles> {
        let all: Vec<Settles> = all.collect();
        let likely = all.iter().find(|s| s.chance >= LIKELY).cloned();
        likely.or_else(|| all.into_iter().max_by(|a, b| a.chance.total_cmp(&b.chance)))
    }

    fn longer(&self, now: Measured, further: Further, scale: Option<f64>, on: &str, prefs: Prefs) -> Option<Settles> {
        let longest = self.time_s.unwrap_or(0.0);
        if let Some(time_s) = self.time_s.filter(|s| *s > 0.0) {
            let times = CATCHES_S.into_iter().filter(|s| *s > longest);
            let words = |s: f64| {
                format!(
                    "Catch for {} instead of {}{on}",
                    say(s, QuantityKind::Stopwatch, prefs),
                    say(time_s, QuantityKind::Stopwatch, prefs)
                )
            };
            return self.least_of(times.filter_map(|s| self.try_so(now, further, s / time_s, scale, words(s))));
        }
        let words = |more: f64| format!("Catch {more} times as much{on}");
        self.least_of(TIMES[..4].iter().filter_map(|more| self.try_so(now, further, *more, scale, words(*more))))
    }
}

fn say(value: f64, kind: QuantityKind, prefs: Prefs) -> String {
    show(value, kind, prefs).text
}

fn settles(further: Further, text: String, chance: f64) -> Settles {
    let tenths = (chance * 10.0).round().clamp(1.0, 10.0);
    let chance_said = if chance >= 0.95 { "19 in 20".into() } else { format!("{} in 10", tenths.min(9.0)) };
    Settles { further, text, chance, chance_said }
}

/// What would settle a verdict that is *cannot tell*.
///
/// **Formula:** [`Doubt`]'s chance for each: tare before hardener, catch longer, a finer scale of the shop, both, mix more at once,
/// weigh the supplies over a run. Longer catching shrinks the scale's share only. **Units:** g, s. **Source:** derived.
pub fn settle(doubt: &Doubt<'_>, prefs: Prefs) -> Settling {
    let Some(now) = b_per_a(doubt.weighed).filter(|m| m.value > 0.0 && m.hi.is_finite()) else { return Settling::default() };
    let coarsest = doubt.weighed.iter().map(|w| w.resolution_g).fold(0.0, f64::max);
    let finer = doubt.scales_g.iter().copied().filter(|d| *d < coarsest * 0.99).max_by(f64::total_cmp);
    let finest = doubt.scales_g.iter().copied().filter(|d| *d < coarsest * 0.99).min_by(f64::total_cmp);
    let the_scale = |d: f64| format!("the {} scale", say(d, QuantityKind::Mass, prefs));
    let mut all: Vec<Option<Settles>> = Vec::new();
    if !doubt.caught && doubt.weighed.iter().any(|w| !w.tared && w.component != Component::Base) {
        all.push(doubt.try_so(now, Further::TareBetween, 1.0, None, "Tare before hardener".into()));
    }
    if doubt.caught {
        all.push(doubt.longer(now, Further::CatchLonger, None, "", prefs));
    }
    for d in [finer, finest.filter(|d| finer != Some(*d))].into_iter().flatten() {
        all.push(doubt.try_so(now, Further::FinerScale, 1.0, Some(d), format!("Weigh on {}", the_scale(d))));
    }
    if let Some(d) = finest.filter(|_| doubt.caught) {
        all.push(doubt.longer(now, Further::LongerAndFiner, Some(d), &format!(", on {}", the_scale(d)), prefs));
    }
    if doubt.caught {
        let coarse = doubt.scales_g.iter().copied().fold(coarsest, f64::max);
        let run = |a_g: f64| {
            let b_g = a_g * now.value;
            let off = coarse * (1.0 / a_g + 1.0 / b_g);
            let text = format!("Weigh both supplies before and after {} of A", say(a_g, QuantityKind::Mass, prefs));
            settles(Further::WeighSupplies, text, doubt.chance(now, off, 1.0))
        };
        all.push(doubt.least_of(RUNS_G.into_iter().map(run)));
    } else {
        let total: f64 = doubt.weighed_so(1.0, None, false).map_or(0.0, |_| doubt.weighed.last().map_or(0.0, |w| w.reading_g));
        let words = |more: f64| format!("Mix at least {} at once", say(total * more, QuantityKind::Mass, prefs));
        let more = TIMES.into_iter().filter_map(|m| doubt.try_so(now, Further::MixMore, m, None, words(m)));
        all.push(doubt.least_of(more).filter(|_| total > 0.0));
    }
    let mut offered: Vec<Settles> = all.into_iter().flatten().filter(|s| s.chance >= HARDLY).collect();
    offered.sort_by_key(|s| s.further);
    let best = offered.iter().position(|s| s.chance >= LIKELY);
    let best = best.or_else(|| (0..offered.len()).max_by(|a, b| offered[*a].chance.total_cmp(&offered[*b].chance)));
    let best = best.map(|i| offered.remove(i));
    let unlikely = best.as_ref().is_none_or(|b| b.chance < 0.5);
    let text = "It stands on the limit itself: no reading settles it well. Bring it nearer to the aim first.";
    Settling { best, others: offered, on_the_limit: unlikely.then(|| text.into()) }
}
