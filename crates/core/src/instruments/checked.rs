//! What a check of an instrument says, and what it found.

use crate::limits::{self, check_text};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::verdict::is_over;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A check is good for so many days, where nobody says otherwise: a quarter of a year; from memory.
pub const CHECK_AGAIN_DAYS: f64 = 90.0;
/// An instrument whose check is overdue is taken to be off by so many times its step; from memory.
pub const OVERDUE_FACTOR: f64 = 2.0;
/// Off by less than this part of the load is not found off; from memory.
const ALLOWED_PART: f64 = 0.002;

/// What an overdue check does, as the shop sets it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray, strum::EnumString)]
#[serde(rename_all = "snake_case")]
pub enum Overdue {
    /// Every reading is taken to be off by twice as much.
    #[default]
    #[strum(to_string = "widens the interval")]
    Widens,
    /// What was weighed with it holds until a lead releases it.
    #[strum(to_string = "holds")]
    Holds,
}

impl Worded for Overdue {}

/// A check: what was put on, what was read. Of a scale masses, of a gauge pressures.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Checked {
    /// The known mass.
    #[serde(default)]
    pub known_g: Option<f64>,
    /// What the scale read with it.
    #[serde(default)]
    pub read_g: Option<f64>,
    /// What it read empty.
    #[serde(default)]
    pub empty_g: Option<f64>,
    /// The pressure by the other gauge.
    #[serde(default)]
    pub known_kpa: Option<f64>,
    /// What the gauge read.
    #[serde(default)]
    pub read_kpa: Option<f64>,
    /// What it read vented.
    #[serde(default)]
    pub empty_kpa: Option<f64>,
    /// Which mass, which gauge.
    pub against: String,
    /// Days until the next check.
    #[serde(default)]
    pub again_day_count: Option<f64>,
    /// The step the instrument shows; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub step: f64,
}

/// How an instrument is off.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Fault {
    /// By a part of the load: it cancels in a ratio weighed on one scale.
    #[strum(serialize = "a gain error")]
    Gain,
    /// By the same amount whatever is on it.
    #[strum(serialize = "an offset")]
    Offset,
    /// Off, and nobody read it empty.
    #[strum(serialize = "of an unknown kind")]
    Unknown,
}

impl Worded for Fault {}

/// What a check found.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Found {
    /// Read less known, in the instrument's unit.
    pub off: f64,
    /// What it may be off.
    pub allowed: f64,
    /// How it is off; none: it is good.
    pub fault: Option<Fault>,
}

impl Checked {
    /// Known, read and empty, in its unit, and what that is; `None` where neither is whole.
    fn figures(&self) -> Option<(f64, f64, Option<f64>, QuantityKind)> {
        let mass = self.known_g.zip(self.read_g).map(|(k, r)| (k, r, self.empty_g, QuantityKind::Mass));
        mass.or_else(|| self.known_kpa.zip(self.read_kpa).map(|(k, r)| (k, r, self.empty_kpa, QuantityKind::Pressure)))
    }

    /// Every figure inside the limits of sense, and of the kind of the instrument: masses of a scale, pressures of a gauge.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn check(&self, is_gauge: bool, prefs: Prefs) -> Result<(), Refusal> {
        let (limit, known, read, empty, names) = if is_gauge {
            (limits::GAUGE, self.known_kpa, self.read_kpa, self.empty_kpa, ["known_kpa", "read_kpa", "empty_kpa"])
        } else {
            (limits::STOCK, self.known_g, self.read_g, self.empty_g, ["known_g", "read_g", "empty_g"])
        };
        let missing = |field: &str, text: &str| Refusal::bad_input("missing", field, text);
        let known = known.ok_or_else(|| missing(names[0], "Against what? Put a known one on."))?;
        read.ok_or_else(|| missing(names[1], "What did it read?"))?;
        limit.check(names[0], known, prefs)?;
        limit.check_optional(names[1], read, prefs)?;
        // A scale reads under nothing when it drifts.
        if let Some(empty) = empty {
            limit.check(names[2], empty.abs(), prefs)?;
        }
        if known < 20.0 * self.step {
            let text = "This says nothing of it: take a known one of at least twenty of its steps.";
            return Err(Refusal::bad_input("too-little", names[0], text));
        }
        limits::DAYS.check_optional("again_day_count", self.again_day_count, prefs)?;
        check_text("against", &self.against, limits::NAME_CHARS).map(drop)
    }

    /// What it found.
    ///
    /// **Rule:** off where `|read − known|` is over one step and over 0.2 per cent, or where it reads over a step empty. Read empty
    /// and right there, it is a gain error; wrong there an offset; not read empty, of an unknown kind. **Units:** those of the
    /// instrument. **Source:** step and per cent from memory.
    pub fn found(&self) -> Option<Found> {
        let (known, read, empty, _) = self.figures()?;
        let allowed = self.step.max(ALLOWED_PART * known);
        let off = read - known;
        let drifts = empty.is_some_and(|e| is_over(e.abs(), self.step));
        let fault = match (is_over(off.abs(), allowed), empty) {
            (_, Some(_)) if drifts => Some(Fault::Offset),
            (false, _) => None,
            (true, Some(_)) => Some(Fault::Gain),
            (true, None) => Some(Fault::Unknown),
        };
        Some(Found { off, allowed, fault })
    }

    /// In one line.
    pub fn words(&self, prefs: Prefs) -> String {
        let Some(((known, read, _, kind), found)) = self.figures().zip(self.found()) else { return "Checked".into() };
        let say = |v: f64| show(v, kind, prefs).text;
        let verdict = found.fault.map_or("good".into(), |f| format!("off, {}", f.word()));
        format!("Checked against {}: {} read {}, {verdict}", self.against.trim(), say(known), say(read))
    }
}

/// A lead answers a mark: the proof stands, or what was done.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MarkAnswered {
    /// The proof that is marked.
    pub proof: Uuid,
    /// Why it stands, or what was done.
    pub text: String,
}
