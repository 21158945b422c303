//! Recoat: the window of a coat, and how it joins to the coat beneath and the one that follows.

use crate::limits;
use crate::pot_life::after;
use crate::quantity::{Prefs, show_duration};
use crate::refusal::Refusal;
use crate::sheets::Sheet;
use crate::sheets::times::Curve;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// When the next coat may go on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct RecoatWindow {
    /// Earliest.
    pub earliest: Option<Timestamp>,
    /// Latest without abrading.
    pub latest: Option<Timestamp>,
}

/// The coldest and the hottest a surface was since a coat ended.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SurfaceRange {
    /// Coldest.
    pub coldest_c: f64,
    /// Hottest.
    pub hottest_c: f64,
}

impl SurfaceRange {
    /// Of some readings; `None` without any.
    pub fn of(surface_c: impl IntoIterator<Item = f64>) -> Option<SurfaceRange> {
        surface_c.into_iter().fold(None, |range, c| {
            let (lo, hi) = range.map_or((c, c), |r: SurfaceRange| (r.coldest_c.min(c), r.hottest_c.max(c)));
            Some(SurfaceRange { coldest_c: lo, hottest_c: hi })
        })
    }
}

/// The window after a coat ended, by the surface temperatures that held since.
///
/// **Formula:** through the sheet's values; outside them a time doubles for every 10 °C colder, `t₀·2^((T₀−T)/10)`,
/// or follows their fit, whichever is safer: the coldest reading lengthens the earliest, without limit; the hottest
/// shortens the latest; never the reverse without a sheet value. With no reading the sheet's own temperature stands in.
/// **Source:** common practice in the trade. **Check:** 6 h at 20 °C → 12 h at 10 °C; 7 d → 84 h at 30 °C.
pub fn recoat(sheet: &Sheet, ended: Timestamp, surface: Option<SurfaceRange>) -> RecoatWindow {
    RecoatTimes::of_sheet(sheet).window(ended, surface)
}

/// The times of a coat for the one that follows, over temperature.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct RecoatTimes {
    /// Earliest.
    pub min: Option<Curve>,
    /// Latest without abrading.
    pub max: Option<Curve>,
}

impl RecoatTimes {
    /// Those of a sheet.
    pub fn of_sheet(sheet: &Sheet) -> RecoatTimes {
        RecoatTimes { min: sheet.recoat_min_curve(), max: sheet.recoat_max_curve() }
    }

    /// The window after a coat ended; the rule is that of [`recoat`]. Without a reading of the surface the safe side of what
    /// is stated stands in: the longest earliest, the shortest latest.
    pub fn window(&self, ended: Timestamp, surface: Option<SurfaceRange>) -> RecoatWindow {
        let longest = |c: &Curve| c.points().iter().map(|p| p.1).fold(0.0, f64::max);
        let shortest = |c: &Curve| c.points().iter().map(|p| p.1).fold(f64::MAX, f64::min);
        RecoatWindow {
            earliest: self.min.as_ref().map(|c| after(ended, surface.map_or(longest(c), |s| c.wait_s(s.coldest_c)))),
            latest: self.max.as_ref().map(|c| after(ended, surface.map_or(shortest(c), |s| c.latest_s(s.hottest_c)))),
        }
    }
}

/// Recoat times of a pair: this product, then that one over it. They stand before the sheet's own.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PairTimes {
    /// Earliest.
    #[serde(default)]
    pub recoat_min_s: Option<f64>,
    /// Latest without abrading.
    #[serde(default)]
    pub recoat_max_s: Option<f64>,
    /// The temperature they are stated at.
    pub recoat_at_c: f64,
    /// What to do between the two.
    #[serde(default)]
    pub prepare: Option<String>,
}

impl PairTimes {
    /// Checks the times and their order.
    ///
    /// **Errors:** a [`Refusal`] naming the field.
    pub fn validate(mut self, prefs: Prefs) -> Result<PairTimes, Refusal> {
        limits::SHEET_TIME.check_optional("recoat_min_s", self.recoat_min_s, prefs)?;
        limits::SHEET_TIME.check_optional("recoat_max_s", self.recoat_max_s, prefs)?;
        limits::TEMPERATURE.check("recoat_at_c", self.recoat_at_c, prefs)?;
        if self.recoat_min_s.zip(self.recoat_max_s).is_some_and(|(min, max)| min > max) {
            return Err(Refusal::bad_input("out-of-order", "recoat_max_s", "The latest recoat is before the earliest."));
        }
        self.prepare = match self.prepare.filter(|p| !p.trim().is_empty()) {
            Some(text) => Some(limits::check_text("prepare", &text, limits::TEXT_CHARS)?),
            None => None,
        };
        Ok(self)
    }

    /// The pair's times over temperature.
    pub fn times(&self) -> RecoatTimes {
        let curve = |s: Option<f64>| Curve::through(s.map(|s| (self.recoat_at_c, s)));
        RecoatTimes { min: curve(self.recoat_min_s), max: curve(self.recoat_max_s) }
    }

    /// The window of the pair; the rule is that of [`recoat`].
    pub fn window(&self, ended: Timestamp, surface: Option<SurfaceRange>) -> RecoatWindow {
        self.times().window(ended, surface)
    }
}

/// A batch of another coat of the same part.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct CoatLink {
    /// Its batch.
    pub batch: Uuid,
    /// Its number.
    pub number: i64,
    /// The coat.
    pub coat: String,
    /// The product.
    pub product: String,
}

/// The coat beneath this one.
#[derive(Debug, Clone, PartialEq)]
pub struct CoatBeneath {
    /// Which batch put it on.
    pub link: CoatLink,
    /// Its last pass; `None` while it is not sprayed.
    pub ended: Option<Timestamp>,
    /// The times for the product that follows.
    pub times: RecoatTimes,
    /// How cold and how hot the surface was since it ended, by every book of this part.
    pub surface: Option<SurfaceRange>,
    /// What the pair of products asks for between the two.
    pub prepare: Option<String>,
}

/// The window kept by a spraying: what was known of the coat beneath when it began.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CoatOver {
    pub batch: Uuid,
    pub number: i64,
    pub coat: String,
    pub earliest: Option<Timestamp>,
    pub latest: Option<Timestamp>,
}

/// How a window stands at an instant.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum WindowState {
    /// The coat is not on yet.
    NotSprayed,
    /// Before the earliest.
    Wait,
    /// Inside.
    Open,
    /// After the latest: abrade first.
    Past,
}

/// A recoat clock as the screen draws it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct RecoatClock {
    /// The other batch: the coat beneath, or the one that follows. Missing: not begun.
    pub other: Option<CoatLink>,
    /// How it stands.
    pub state: WindowState,
    /// The words: `wait`, `open`, `abrade first`.
    pub word: String,
    /// Earliest.
    pub earliest: Option<Timestamp>,
    /// Latest without abrading.
    pub latest: Option<Timestamp>,
    /// Seconds until the state changes by itself.
    pub changes_s: Option<f64>,
    /// Where now stands between the end of the coat and its latest: 0 to 1, for the picture.
    pub at: Option<f64>,
    /// Where the earliest stands on the same line.
    pub earliest_at: Option<f64>,
}

/// Reads a window at an instant.
pub fn clock(window: Option<RecoatWindow>, from: Option<Timestamp>, other: Option<CoatLink>, now: Timestamp) -> RecoatClock {
    let until = |t: Timestamp| t.duration_since(now).as_secs_f64();
    let (earliest, latest) = window.map_or((None, None), |w| (w.earliest, w.latest));
    let (state, changes_s) = match (window, earliest, latest) {
        (None, ..) => (WindowState::NotSprayed, None),
        (_, Some(t), _) if t > now => (WindowState::Wait, Some(until(t))),
        (_, _, Some(t)) if t < now => (WindowState::Past, None),
        (.., latest) => (WindowState::Open, latest.map(until)),
    };
    // The line runs from the end of the coat to its latest, or to twice the earliest where no latest is known.
    let run = from.and_then(|f| {
        let length = |t: Timestamp| t.duration_since(f).as_secs_f64();
        latest.map(length).or(earliest.map(|t| 2.0 * length(t))).filter(|s| *s > 0.0).map(|s| (f, s))
    });
    let place = |t: Timestamp| run.map(|(f, s)| (t.duration_since(f).as_secs_f64() / s).clamp(0.0, 1.0));
    let word = match state {
        WindowState::NotSprayed => "not on yet",
        WindowState::Wait => "wait",
        WindowState::Open => "open",
        WindowState::Past => "abrade first",
    };
    RecoatClock {
        other,
        state,
        word: word.into(),
        earliest,
        latest,
        changes_s,
        at: place(now),
        earliest_at: earliest.and_then(place),
    }
}

/// Why a coat may not go over the one beneath it now, in words; `None` when it may.
///
/// **Rule:** the state of [`clock`]; the number is how far it is off. **Units:** s. **Source:** the window of the sheet or
/// pair.
pub fn too_soon_or_late(
    beneath: &CoatBeneath,
    window: Option<RecoatWindow>,
    now: Timestamp,
) -> Option<(WindowState, String, f64)> {
    let name = format!("The {} beneath (batch {:04})", beneath.link.coat, beneath.link.number);
    let clock = clock(window, None, None, now);
    match clock.state {
        WindowState::Open => None,
        WindowState::NotSprayed => Some((clock.state, format!("{name} is not on yet. Put it on first."), 0.0)),
        WindowState::Wait => {
            let left = clock.changes_s.unwrap_or(0.0);
            Some((clock.state, format!("{name} may be coated in {}. Wait for it.", show_duration(left)), left))
        }
        WindowState::Past => {
            let late = clock.latest.map_or(0.0, |t| now.duration_since(t).as_secs_f64());
            let text = format!("{name} is past its latest by {}. Abrade it, then a lead releases.", show_duration(late));
            Some((clock.state, text, late))
        }
    }
}
