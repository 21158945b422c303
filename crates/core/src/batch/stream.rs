//! The stream as a person sees it: what their eye can tell, how it stands against its band, what was good of a set-up.

use super::case::Case;
use super::entries::{Flowed, SetUp};
use super::paint::KnownFrom;
use super::record::{Record, Stamped};
use crate::atomizing::ladder::Pattern;
use crate::batch::beside::GoodSetUp;
use crate::delivery::{BEND_MM, Eye, calibrate, stream_verdict};
use crate::rigs::Rig;
use crate::verdict::{Measured, Verdict};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Catches of one person with one gun that calibrate an eye; from memory.
const CALIBRATED_BY: usize = 3;
/// No eye reads better than this part; from memory.
const EYE_LEAST: f64 = 0.05;
/// How far a caught flow may be off, as a part of the stream it is turned to: stopwatch and scale; from memory.
const CATCH_OFF: f64 = 0.03;

/// How the stream of a set-up stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StreamState {
    /// All it may be.
    pub length_mm: Measured,
    /// Against the band.
    pub verdict: Verdict,
    /// By a caught flow, not by an eye.
    pub by_catch: bool,
}

/// Falls that an eye may call a bend; outside them catch or stream is wrong.
const BENDS_MM: std::ops::RangeInclusive<f64> = 2.0..=250.0;

/// What a person and a gun call a bend.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SeenBend {
    /// The gun.
    pub gun: String,
    /// Whose eye.
    pub by: Uuid,
    /// The fall.
    pub mm: f64,
}

/// Two figures of a knob this near are one: a twentieth of a turn; from memory.
pub(in crate::batch) const SAME_TURNS: f64 = 0.05;

impl Record {
    /// Tries with the rig that is on now, in the order they were written: what was seen through another says nothing of this one.
    pub fn tries(&self) -> impl DoubleEndedIterator<Item = &Stamped<SetUp>> {
        let chosen = self.rig.as_ref().map_or(0, |r| r.seq);
        self.set_ups.iter().filter(move |s| s.seq > chosen)
    }

    /// The newest try that says its air, unless the fan was moved since: then what was read says nothing of the fan as it is.
    ///
    /// **Rule:** fan first, then air; closing the fan to a round pattern lifts the reading by half or more. **Source:** common
    /// practice in the trade.
    pub fn air_in_force(&self) -> Option<&SetUp> {
        let tries: Vec<&SetUp> = self.tries().map(|s| &s.it).collect();
        let read = tries.iter().rposition(|s| s.atomizing_kpa.is_some())?;
        let fan = |tries: &[&SetUp]| tries.iter().rev().find_map(|s| s.fan_turns_count);
        let (then, now) = (fan(&tries[..=read]), fan(&tries));
        let moved = now.is_some_and(|now| then.is_none_or(|then| (now - then).abs() > SAME_TURNS));
        (!moved).then(|| tries[read])
    }

    /// The fall at which the person of the last stream calls it bent, with this gun: known where a flow was caught.
    ///
    /// **Formula:** [`calibrate::bend_mm`] of the stream seen and the speed the caught paint leaves with. **Units:** mm.
    /// **Source:** as that. `None` without a catch, or where the two together make no sense.
    pub fn seen_bend(&self) -> Option<SeenBend> {
        let (line, rig) = (self.rig()?.line()?, self.rig()?);
        self.flow_catches.last()?;
        let seen = self.tries().rev().find(|s| s.it.stream_mm.is_some_and(|mm| mm > 0.0) && s.it.fluid_kpa() > 0.0)?;
        let paint = self.paint(seen.at).filter(|p| p.from == KnownFrom::Catch)?;
        let speed = line.at(&paint.fluid, seen.it.fluid_kpa()).speed_m_s;
        let mm = calibrate::bend_mm(seen.it.stream_mm?, speed);
        BENDS_MM.contains(&mm).then(|| SeenBend { gun: rig.gun.clone(), by: seen.who, mm })
    }

    /// What was good of the set-up: the last one, where its stream was in or its pattern even.
    ///
    /// **Rule:** the last entry of Set with its rig, and the material's temperature then. **Source:** common practice in the
    /// trade: what stood when the coat went on well is where the next one starts. It is told by the book alone, so that it is the
    /// same whenever the book is added up.
    pub fn good_set_up(&self) -> Option<(uuid::Uuid, GoodSetUp)> {
        let (aim, chosen, rig, last) = (self.aim()?, self.rig.as_ref()?, self.rig()?, self.tries().last()?);
        let stream = Case::alone(self).stream_state(last.at).is_some_and(|s| s.verdict == Verdict::In);
        let even = last.it.pattern == Some(Pattern::Even);
        (stream || even).then(|| {
            // A knob stands as it was said last; the air only while the fan stands as it did.
            let (air, tries) = (self.air_in_force(), || self.tries().rev().map(|s| &s.it));
            let good = GoodSetUp {
                number: aim.number,
                pot_kpa: last.it.pot_kpa,
                b_kpa: last.it.b_kpa,
                atomizing_kpa: air.and_then(|s| s.atomizing_kpa),
                air_at: air.and_then(|s| s.air_at),
                air_how: air.and_then(|s| s.air_how),
                catalyst_kpa: tries().find_map(|s| s.catalyst_kpa),
                fan_turns_count: tries().find_map(|s| s.fan_turns_count),
                needle_turns_count: tries().find_map(|s| s.needle_turns_count),
                refine_turns_count: tries().find_map(|s| s.refine_turns_count),
                a_valve_turns_count: tries().find_map(|s| s.a_valve_turns_count),
                b_valve_turns_count: tries().find_map(|s| s.b_valve_turns_count),
                cap_kpa: air.and_then(|s| s.cap_kpa),
                supply_kpa: tries().find_map(|s| s.supply_kpa),
                stream_mm: last.it.stream_mm,
                temp_c: self.conditions_at(last.at).map(|c| c.it.material_c),
                nozzle_mm: rig.nozzle_mm,
                tip_code: rig.tip_code.clone(),
            };
            (chosen.it.rig, good)
        })
    }
}

impl Case<'_> {
    /// Every bend known of a person with today's gun, newest first: where a stream was seen and its flow caught.
    fn bends_of(&self, who: Uuid) -> Vec<f64> {
        let gun = self.rig().map(|r| r.gun.as_str());
        let own = |b: &&SeenBend| b.by == who && Some(b.gun.as_str()) == gun;
        let here = self.seen_bend();
        here.iter().chain(&self.beside.bends).filter(own).map(|b| b.mm).collect()
    }

    /// The fall at which a person calls the stream of today's gun bent: the geometric mean of three or more caught flows, else
    /// an inch. One look beside one catch is as wrong as that look was.
    ///
    /// **Formula:** `exp(mean ln s)`. **Units:** mm. **Source:** the geometric mean of a scale that multiplies; the inch is
    /// common practice in the trade.
    pub fn bend_mm(&self, who: Uuid) -> f64 {
        let known = self.bends_of(who);
        if known.len() < CALIBRATED_BY {
            return BEND_MM;
        }
        (known.iter().map(|mm| mm.ln()).sum::<f64>() / known.len() as f64).exp()
    }

    /// How well a person's eye reads the stream of today's gun: half an inch until three catches show better or worse.
    ///
    /// **Formula:** lengths go with the root of the bend, so the part is the widest `√(s/s̄) − 1` of the bends known; never under
    /// a twentieth. **Source:** derived; the least from memory.
    pub fn eye(&self, who: Uuid) -> Eye {
        let known = self.bends_of(who);
        if known.len() < CALIBRATED_BY {
            return Eye::USUAL;
        }
        let mean = self.bend_mm(who);
        let widest = known.iter().map(|mm| ((mm / mean).sqrt() - 1.0).abs());
        Eye::Part(widest.fold(EYE_LEAST, f64::max))
    }

    /// How the stream stands: by the flow that was caught where one was, else as far as the eye that saw it can tell.
    /// `None` before either.
    ///
    /// **Rule:** a caught flow says what leaves the nozzle, so what stream it is; it decides where the eye cannot.
    /// **Units:** mm. **Source:** derived; how far a catch is off, from memory.
    pub fn stream_state(&self, now: Timestamp) -> Option<StreamState> {
        let school = self.aim()?.sheet.stream;
        let last = self.tries().last()?;
        // A stream seen stands for the pressure it was seen at, with this rig, whatever was written of the air since.
        let same = |s: &Stamped<SetUp>| {
            let (then, now) = (s.it.driving_kpa(), last.it.driving_kpa());
            (then - now).abs() <= 1e-3 * now && s.it.flowed == last.it.flowed
        };
        let seen = self.tries().rev().find(|s| s.it.stream_mm.is_some() && same(s));
        let known = self.rig().and_then(Rig::line).zip(self.paint(now)).filter(|(_, p)| p.from == KnownFrom::Catch);
        // A catch is of A, or of both.
        let of_it = last.it.fluid_kpa() > 0.0 && last.it.flowed != Some(Flowed::B);
        if let Some((line, paint)) = known.filter(|_| of_it) {
            let mm = line.at(&paint.fluid, last.it.fluid_kpa()).stream_mm(BEND_MM);
            let length_mm = Measured::pm(mm, mm * CATCH_OFF);
            return Some(StreamState { length_mm, verdict: stream_verdict(school, length_mm), by_catch: true });
        }
        let seen = seen?;
        let length_mm = self.eye(seen.who).interval(seen.it.stream_mm?);
        Some(StreamState { length_mm, verdict: stream_verdict(school, length_mm), by_catch: false })
    }
}
