//! Acceptance by gauge: what is measured and against what, the gauge on its foil, readings, and spots that could not be reached.

use super::{Asked, Statement, Told, everyone, stamp};
use super::{Phase, ready::optional_text};
use crate::acceptance::draw::{DrawnSpot, GENERATOR, draw, draw_again, seed_of};
use crate::acceptance::foil::{FOIL_OFF_UM, GAUGE_OFF_PCT};
use crate::acceptance::spots::{LEVELS, READINGS_OF_SPOT, USUAL_LEVEL};
use crate::acceptance::{AcceptBy, Roughness, file::MOST_ROWS, foil};
use crate::batch::Entry;
use crate::batch::record::Record;
use crate::limits::{self, check_text};
use crate::people::{May, Role};
use crate::quantity::{Prefs, QuantityKind};
use crate::refusal::Refusal;
use crate::verdict::Verdict;
use crate::worded::{Worded, capital};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::ToSchema;
use uuid::Uuid;

/// Most readings of one spot.
const MOST_OF_SPOT: usize = 10;

/// How the dry film is accepted by gauge, and against what.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlanAcceptance {
    /// Spots, 80/20, or least and most.
    pub by: AcceptBy,
    /// Least dry film; of 80/20 its nominal.
    pub dry_min_um: f64,
    /// Most dry film; missing for 80/20: three times its nominal.
    #[serde(default)]
    pub dry_max_um: Option<f64>,
    /// Level of the spot method, 1 to 5; missing: 3.
    #[serde(default)]
    pub level: Option<u8>,
    /// Roughness of the blasted surface, where it was not read bare.
    #[serde(default)]
    pub roughness: Option<Roughness>,
    /// Film beneath that the gauge reads along: at the least …
    #[serde(default)]
    pub beneath_min_um: Option<f64>,
    /// … and at the most.
    #[serde(default)]
    pub beneath_max_um: Option<f64>,
    /// The seed of the draw, out of the head of the log; core fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub seed: String,
    /// The generator; core fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub generator: String,
    /// The spots drawn; core fills them in.
    #[serde(default)]
    #[schema(read_only)]
    pub spots: Vec<DrawnSpot>,
}

/// A spot that cannot be reached is drawn anew.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MoveSpot {
    /// Of which area.
    pub area_no: u32,
    /// Which of its spots.
    pub spot_no: u32,
    /// Why it cannot be reached.
    pub reason: String,
    /// Where it is now; core fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub to: Option<DrawnSpot>,
}

/// Readings on the bare blasted surface, before the first coat.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GaugeBare {
    /// The gauge.
    pub gauge: String,
    /// What it read.
    pub bare_um: Vec<f64>,
    /// One division of it.
    pub division_um: f64,
}

/// The gauge on a certified foil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GaugeFoil {
    /// The gauge.
    pub gauge: String,
    /// What the foil is certified to be.
    pub foil_um: f64,
    /// What the gauge read on it.
    pub readings_um: Vec<f64>,
    /// One division of the gauge.
    pub division_um: f64,
    /// What the foil may be off, by its certificate; missing: 2 µm.
    #[serde(default)]
    pub foil_off_um: Option<f64>,
    /// What the gauge may be off, by its papers; missing: 3 %.
    #[serde(default)]
    pub gauge_off_pct: Option<f64>,
}

/// Readings of one spot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SpotRead {
    /// Of which area.
    pub area_no: u32,
    /// Which of its spots.
    pub spot_no: u32,
    /// Three readings inside a circle of an inch and a half.
    pub readings_um: Vec<f64>,
}

/// Single readings of a zone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ZoneReads {
    /// Where; missing: anywhere on the part.
    #[serde(default)]
    pub zone: Option<Uuid>,
    /// What the gauge read.
    pub readings_um: Vec<f64>,
}

/// Readings of the dry film.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GaugeRead {
    /// The gauge.
    pub gauge: String,
    /// One division of it.
    pub division_um: f64,
    /// By spots: each with its readings.
    #[serde(default)]
    pub spots: Vec<SpotRead>,
    /// By single readings, zone by zone.
    #[serde(default)]
    pub reads: Vec<ZoneReads>,
    /// The file they came from; missing: typed, or spoken by the gauge.
    #[serde(default)]
    pub from_file: Option<String>,
}

fn check_gauge(gauge: &str, division_um: f64, prefs: Prefs) -> Result<(), Refusal> {
    limits::check_name("gauge", gauge)?;
    limits::FILM_DIVISION.check("division_um", division_um, prefs).map(drop)
}

fn check_readings(field: &str, readings_um: &[f64], most: usize, prefs: Prefs) -> Result<(), Refusal> {
    if readings_um.is_empty() {
        return Err(Refusal::bad_input("missing", field, "What did the gauge read?"));
    }
    if readings_um.len() > most {
        return Err(Refusal::bad_input("too-many", field, format!("At most {most} readings fit here.")));
    }
    readings_um.iter().enumerate().try_for_each(|(i, um)| limits::FILM.check(&format!("{field}[{i}]"), *um, prefs).map(drop))
}

impl Statement for PlanAcceptance {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = accepting;
    const FROM: Phase = Phase::Sprayed;
    const UNTIL: Phase = Phase::Signed;
    const IS_WORK: bool = false;

    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        if self.by != AcceptBy::Spots {
            return Ok(());
        }
        self.level = Some(self.level.unwrap_or(USUAL_LEVEL));
        self.seed = seed_of(&asked.case.log.head_hash);
        self.generator = GENERATOR.into();
        self.spots = draw(&asked.case.drawn_on(), &self.seed);
        value["level"] = json!(self.level);
        value["seed"] = json!(self.seed);
        value["generator"] = json!(self.generator);
        value["spots"] = json!(self.spots);
        Ok(())
    }

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        if !self.by.is_by_gauge() {
            return Err(Refusal::bad_input("not-by-gauge", "by", format!("{} is not by gauge.", capital(self.by.word()))));
        }
        limits::FILM.check("dry_min_um", self.dry_min_um, prefs)?;
        limits::FILM.check_optional("dry_max_um", self.dry_max_um, prefs)?;
        let most = match (self.dry_max_um, self.by) {
            (None, AcceptBy::EightyTwenty) => None,
            (None, _) => return Err(Refusal::bad_input("missing", "dry_max_um", "What is the most it may be?")),
            (most, _) => most,
        };
        if most.is_some_and(|most| most <= self.dry_min_um) {
            return Err(Refusal::bad_input("wrong-way-round", "dry_max_um", "The most is over the least."));
        }
        if self.level.is_some_and(|level| !LEVELS.contains(&level)) {
            return Err(Refusal::bad_input("outside-limits", "level", "The levels are 1 to 5."));
        }
        match (self.beneath_min_um, self.beneath_max_um) {
            (None, None) => Ok(()),
            (Some(least), Some(most)) => {
                limits::FILM.check("beneath_min_um", least, prefs)?;
                limits::FILM.check("beneath_max_um", most, prefs)?;
                if most < least {
                    return Err(Refusal::bad_input("wrong-way-round", "beneath_max_um", "The most is not under the least."));
                }
                Ok(())
            }
            (None, Some(_)) => Err(Refusal::bad_input("missing", "beneath_min_um", "From what to what is the film beneath?")),
            (Some(_), None) => Err(Refusal::bad_input("missing", "beneath_max_um", "From what to what is the film beneath?")),
        }
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        if self.by == AcceptBy::Spots && asked.case.aim().is_none_or(|aim| aim.area_m2 <= 0.0) {
            return Err(Refusal::bad_input("no-area", "by", "Nobody knows the area of this part: no spot can be drawn on it."));
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.acceptance_plan = Some(stamp(entry, self));
        record.moved_spots.clear();
    }

    fn words(&self, told: &Told<'_>) -> String {
        let say = |um| told.say(um, QuantityKind::Film);
        match (self.by, self.dry_max_um) {
            (AcceptBy::Spots, most) => format!(
                "Spots by gauge: {} of {} to {}, level {}, seed {}",
                self.spots.len(),
                say(self.dry_min_um),
                most.map(say).unwrap_or_default(),
                self.level.unwrap_or(USUAL_LEVEL),
                self.seed
            ),
            (by, Some(most)) => format!("{}: {} to {}", capital(by.word()), say(self.dry_min_um), say(most)),
            (by, None) => format!("{}: nominal {}", capital(by.word()), say(self.dry_min_um)),
        }
    }
}

/// Who may accept says against what.
fn accepting(role: Role) -> May {
    match role {
        Role::Lead | Role::Inspector | Role::Owner => May::Yes,
        Role::Applicator => May::No,
    }
}

impl Statement for MoveSpot {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;
    const FROM: Phase = Phase::Sprayed;
    const UNTIL: Phase = Phase::Signed;
    const IS_WORK: bool = false;

    fn complete(&mut self, asked: &Asked<'_>, value: &mut Value) -> Result<(), Refusal> {
        let case = asked.case;
        let now = case.spots_now().into_iter().find(|s| s.area_no == self.area_no && s.spot_no == self.spot_no);
        let (Some(plan), Some(spot)) = (&case.acceptance_plan, now) else {
            return Err(Refusal::bad_input("unknown-spot", "spot_no", "No such spot was drawn."));
        };
        let before = case.moved_spots.iter().filter(|m| (m.it.area_no, m.it.spot_no) == (self.area_no, self.spot_no)).count();
        self.to = Some(draw_again(&case.drawn_on(), &plan.it.seed, &spot, before + 1));
        value["to"] = json!(self.to);
        Ok(())
    }

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        check_text("reason", &self.reason, limits::TEXT_CHARS).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let read = asked.case.spot_readings(self.area_no, self.spot_no).is_some();
        if read {
            return Err(Refusal::conflict("spot-read", "This spot is read: it was reached. Strike its readings first."));
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.moved_spots.push(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("Spot {}.{} drawn anew: {}", self.area_no, self.spot_no, self.reason)
    }
}

impl Statement for GaugeBare {
    const WAITS_AS: Option<&'static str> = Some("Gauge on bare steel");
    const WHO: fn(Role) -> May = everyone;
    const UNTIL: Phase = Phase::Signed;
    const IS_WORK: bool = false;

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        check_gauge(&self.gauge, self.division_um, prefs)?;
        // Smooth steel reads nothing.
        if self.bare_um.is_empty() || self.bare_um.len() > MOST_OF_SPOT * 5 {
            return Err(Refusal::bad_input(
                "missing",
                "bare_um",
                "What did the gauge read on the bare surface? One to fifty readings.",
            ));
        }
        let mut each = self.bare_um.iter().enumerate();
        each.try_for_each(|(i, um)| limits::BARE.check(&format!("bare_um[{i}]"), *um, prefs).map(drop))
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.gauge_bares.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let mean = self.bare_um.iter().sum::<f64>() / self.bare_um.len().max(1) as f64;
        format!("{} on the bare surface: {} of {} readings", self.gauge, told.say(mean, QuantityKind::Film), self.bare_um.len())
    }
}

impl GaugeFoil {
    /// How it read its foil.
    pub fn verdict(&self) -> Option<Verdict> {
        let off_um = self.foil_off_um.unwrap_or(FOIL_OFF_UM);
        let off_pct = self.gauge_off_pct.unwrap_or(GAUGE_OFF_PCT);
        foil::judge(self.foil_um, &self.readings_um, self.division_um, off_um, off_pct)
    }

    /// The mean of what it read.
    pub fn mean_um(&self) -> f64 {
        self.readings_um.iter().sum::<f64>() / self.readings_um.len().max(1) as f64
    }
}

impl Statement for GaugeFoil {
    const WAITS_AS: Option<&'static str> = Some("Gauge on its foil");
    const WHO: fn(Role) -> May = everyone;
    const UNTIL: Phase = Phase::Signed;
    const IS_WORK: bool = false;

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        check_gauge(&self.gauge, self.division_um, prefs)?;
        limits::FILM.check("foil_um", self.foil_um, prefs)?;
        check_readings("readings_um", &self.readings_um, MOST_OF_SPOT, prefs)?;
        limits::FOIL_OFF.check_optional("foil_off_um", self.foil_off_um, prefs)?;
        limits::GAUGE_OFF.check_optional("gauge_off_pct", self.gauge_off_pct, prefs)?;
        Ok(())
    }

    fn may(&self, _asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.gauge_foils.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let right = if self.verdict() == Some(Verdict::In) { "right" } else { "not right" };
        let say = |um| told.say(um, QuantityKind::Film);
        format!("{} on the foil of {} reads {}: {right}", self.gauge, say(self.foil_um), say(self.mean_um()))
    }
}

impl Statement for GaugeRead {
    const WAITS_AS: Option<&'static str> = Some("Gauge readings");
    const WHO: fn(Role) -> May = everyone;
    const FROM: Phase = Phase::Sprayed;
    const UNTIL: Phase = Phase::Signed;
    const IS_WORK: bool = false;

    fn well_formed(&self, prefs: Prefs) -> Result<(), Refusal> {
        check_gauge(&self.gauge, self.division_um, prefs)?;
        optional_text("from_file", self.from_file.as_deref())?;
        match (self.spots.is_empty(), self.reads.is_empty()) {
            (true, true) => Err(Refusal::bad_input("missing", "reads", "What did the gauge read?")),
            (false, false) => Err(Refusal::bad_input("one-or-other", "reads", "Either spots or single readings, not both.")),
            (true, false) if self.reads.iter().map(|r| r.readings_um.len()).sum::<usize>() > MOST_ROWS => {
                Err(Refusal::bad_input("too-many", "reads", format!("At most {MOST_ROWS} readings fit here.")))
            }
            (true, false) => self.reads.iter().enumerate().try_for_each(|(i, read)| {
                check_readings(&format!("reads[{i}].readings_um"), &read.readings_um, MOST_ROWS, prefs)
            }),
            (false, true) => self.spots.iter().enumerate().try_for_each(|(i, spot)| {
                let field = format!("spots[{i}].readings_um");
                check_readings(&field, &spot.readings_um, MOST_OF_SPOT, prefs)?;
                if spot.readings_um.len() < READINGS_OF_SPOT {
                    let text = "A spot is three readings inside a circle of an inch and a half.";
                    return Err(Refusal::bad_input("too-few", &field, text));
                }
                Ok(())
            }),
        }
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        let case = asked.case;
        if case.last_pass_at().is_some_and(|last| asked.happened < last) {
            let text = "This was read before the last pass was on: it is not of this coat.";
            return Err(Refusal::bad_input("before-the-coat", "ago_s", text));
        }
        for (i, read) in self.reads.iter().enumerate() {
            if read.zone.is_some_and(|zone| !case.zones().iter().any(|(id, _)| *id == Some(zone))) {
                return Err(Refusal::bad_input("unknown-zone", &format!("reads[{i}].zone"), "The part has no such zone."));
            }
        }
        for (i, spot) in self.spots.iter().enumerate() {
            let field = format!("spots[{i}].spot_no");
            let twice = self.spots[..i].iter().any(|s| (s.area_no, s.spot_no) == (spot.area_no, spot.spot_no));
            if !case.spots_now().iter().any(|s| (s.area_no, s.spot_no) == (spot.area_no, spot.spot_no)) {
                return Err(Refusal::bad_input("unknown-spot", &field, "No such spot was drawn."));
            }
            // Who reads until it is right has measured nothing.
            if twice || case.spot_readings(spot.area_no, spot.spot_no).is_some() {
                let text = format!(
                    "Spot {}.{} is read already. Strike that with its reason, then read it again.",
                    spot.area_no, spot.spot_no
                );
                return Err(Refusal::bad_input("spot-read", &field, text));
            }
        }
        Ok(())
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.gauge_reads.push(stamp(entry, self));
    }

    fn words(&self, told: &Told<'_>) -> String {
        let say = |um: &f64| told.say(*um, QuantityKind::Film);
        let file = self.from_file.as_ref().map_or(String::new(), |f| format!(", from {f}"));
        match self.spots.as_slice() {
            [] => {
                let read: Vec<&f64> = self.reads.iter().flat_map(|r| &r.readings_um).collect();
                match read.len() {
                    1..=5 => format!("Dry film: {}{file}", read.into_iter().map(say).collect::<Vec<_>>().join(", ")),
                    n => format!("{n} readings of the dry film{file}"),
                }
            }
            [spot] => {
                let read = spot.readings_um.iter().map(say).collect::<Vec<_>>().join(", ");
                format!("Spot {}.{}: {read}{file}", spot.area_no, spot.spot_no)
            }
            spots => format!("{} spots of the dry film{file}", spots.len()),
        }
    }
}
