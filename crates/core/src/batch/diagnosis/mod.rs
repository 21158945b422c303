//! What the record of a batch, and what stands beside it, says of each sign of a defect.
//!
//! A sign is *for* only where a figure or a tick shows it whole, *against* only where everything that could show it was recorded and
//! does not; all else is *not recorded*. What nobody wrote is no evidence.

mod film;
mod order;
mod pot;
mod prepared;
mod pressures;
mod ratio;
mod rig;
mod weather;

pub use rig::RigTold;

use super::case::Case;
use super::entries::DefectSeen;
use super::record::{Record, Stamped};
use crate::batch::entries::Pass;
use crate::diagnosis::{Answered, Cause, Heard, Ranked, Side, Sign, Symptom, causes_of, rank};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::verdict::Verdict;
use jiff::Timestamp;
use uuid::Uuid;

/// What was settled in the shop before: symptom, cause, how often.
pub type Settled = (Symptom, Cause, u32);

/// A batch that repairs a defect of another.
#[derive(Debug, Clone, PartialEq, serde::Deserialize)]
pub struct RepairedBy {
    /// Which.
    pub batch: Uuid,
    /// Its number.
    pub number: i64,
    /// The defect.
    pub defect: Uuid,
    /// How it stands, as the row says: open, signed, accepted, left out.
    pub stands: String,
}

/// What one sign says: its side, in words, and the entry it stands in.
struct Said {
    side: Side,
    text: String,
    entry: Option<Uuid>,
}

fn for_it(text: impl Into<String>, entry: Option<Uuid>) -> Said {
    Said { side: Side::For, text: text.into(), entry }
}

fn against(text: impl Into<String>, entry: Option<Uuid>) -> Said {
    Said { side: Side::Against, text: text.into(), entry }
}

fn unknown(text: impl Into<String>) -> Said {
    Said { side: Side::NotRecorded, text: text.into(), entry: None }
}

/// A verdict turned to a side: out the asked way is for, in is against; what cannot be told is not recorded. Out the other way is
/// against it as well.
fn judged(verdict: Verdict, asked: Verdict, text: String, entry: Option<Uuid>) -> Said {
    match verdict {
        v if v == asked => for_it(text, entry),
        Verdict::CannotTell => Said { side: Side::NotRecorded, text: format!("{text}: cannot be told"), entry },
        Verdict::In | Verdict::Low | Verdict::High => against(text, entry),
    }
}

/// Of several that were looked at: one that is there is enough, and it is not there only where none of them leaves it open.
fn of_all(said: Vec<Said>, none: &str) -> Said {
    let rank = |s: &Said| match s.side {
        Side::For => 0,
        Side::NotRecorded => 1,
        Side::Against => 2,
    };
    said.into_iter().min_by_key(rank).unwrap_or_else(|| unknown(none))
}

/// A batch looked at for one defect: where it is, and the passes that went there.
struct Scene<'a> {
    case: &'a Case<'a>,
    zone: Option<Uuid>,
    passes: Vec<&'a Stamped<Pass>>,
    prefs: Prefs,
}

impl<'a> Scene<'a> {
    fn new(case: &'a Case<'a>, zone: Option<Uuid>, prefs: Prefs) -> Scene<'a> {
        let here = |p: &&Stamped<Pass>| p.it.zones.is_empty() || zone.is_none_or(|z| p.it.zones.contains(&z));
        let mut passes: Vec<&Stamped<Pass>> = case.record.passes.iter().filter(here).collect();
        passes.sort_by_key(|p| (p.at, p.seq));
        Scene { case, zone, passes, prefs }
    }

    fn first(&self) -> Option<Timestamp> {
        self.passes.first().map(|p| p.at)
    }

    fn last(&self) -> Option<Timestamp> {
        self.passes.last().map(|p| p.at)
    }

    fn is_here(&self, zone: Option<Uuid>) -> bool {
        zone.is_none() || self.zone.is_none() || zone == self.zone
    }

    fn say(&self, value: f64, kind: QuantityKind) -> String {
        show(value, kind, self.prefs).text
    }

    fn hear(&self, sign: Sign) -> Said {
        match sign {
            Sign::FirstPassHeavy => film::first_pass_heavy(self),
            Sign::FilmHeavy => film::heavy(self),
            Sign::FilmUneven => film::uneven(self),
            Sign::CatalystAirHigh => pressures::catalyst_air(self, Verdict::High),
            Sign::CatalystAirLow => pressures::catalyst_air(self, Verdict::Low),
            Sign::FluidHigh => pressures::fluid(self, Verdict::High),
            Sign::FluidLow => pressures::fluid(self, Verdict::Low),
            Sign::AirHigh => pressures::air(self, Verdict::High),
            Sign::AirLow => pressures::air(self, Verdict::Low),
            Sign::PatternNotEven => pressures::pattern(self),
            Sign::SupplyNear => pressures::supply(self),
            Sign::NeedleShort => pressures::needle(self),
            Sign::TipLarger => pressures::tip_larger(self),
            Sign::MaterialCold => weather::material_cold(self),
            Sign::SurfaceCold => weather::surface_cold(self),
            Sign::Hot => weather::hot(self),
            Sign::DewNear => weather::dew(self),
            Sign::AirDamp => weather::damp(self),
            Sign::Unstirred => pot::unstirred(self),
            Sign::PastLife => pot::past_life(self),
            Sign::PotHot => pot::hot(self),
            Sign::LargeMass => pot::large_mass(self),
            Sign::OverThinned => pot::over_thinned(self),
            Sign::DosesDiffer => pot::doses_differ(self),
            Sign::DrumOverStirred => prepared::drum_over_stirred(self),
            Sign::HardenerShort => ratio::proved(self, false),
            Sign::HardenerMuch => ratio::proved(self, true),
            Sign::DriftsShort => ratio::drifts(self, false),
            Sign::DriftsMuch => ratio::drifts(self, true),
            Sign::PassEarly => order::pass_early(self),
            Sign::EdgeLost => order::edge_lost(self),
            Sign::RecoatEarly => order::recoat(self, Verdict::Low),
            Sign::RecoatLate => order::recoat(self, Verdict::High),
            Sign::CatalystBurst => order::happened(self, super::entries::Happened::CatalystBurst),
            Sign::TipPlugged => order::happened(self, super::entries::Happened::TipPlugged),
            Sign::GunSpat => order::happened(self, super::entries::Happened::Spat),
            Sign::TrapsNotDrained => prepared::traps(self),
            Sign::NotClean => prepared::not_done(self, &["degreased", "water_break", "oil_wiped", "blown_wiped"]),
            Sign::MouldNotSound => prepared::not_done(self, &["mould_sound"]),
            Sign::NotFeathered => prepared::not_done(self, &["sanded_body"]),
            Sign::NotAbraded => prepared::not_done(self, &["sanded_body", "sanded", "scuffed"]),
            Sign::ByHand => prepared::by_hand(self),
            Sign::OverOldPaint => prepared::over_old_paint(self),
            Sign::TipWorn => rig::tip_worn(self),
            Sign::CapNotCleaned => rig::cap_not_cleaned(self),
            Sign::LotOld => rig::lot_old(self),
        }
    }
}

impl Record {
    /// What was looked at for a defect, the newest answer of each look.
    pub fn looked_for(&self, defect: Uuid) -> Vec<Answered> {
        let of = |l: &&Stamped<super::entries::DefectLook>| l.it.defect == defect;
        let mut newest: Vec<&Stamped<super::entries::DefectLook>> = Vec::new();
        for look in self.defect_looks.iter().filter(of) {
            newest.retain(|l| l.it.look != look.it.look);
            newest.push(look);
        }
        let said = |l: &Stamped<super::entries::DefectLook>| Answered {
            look: l.it.look,
            yes: l.it.yes,
            text: l.it.text.clone().unwrap_or_default(),
            entry: l.entry,
        };
        newest.into_iter().map(said).collect()
    }
}

/// What a record says of every sign that the causes of a symptom ask, for a zone of the part (`None`: all of it).
pub fn heard(case: &Case<'_>, symptom: Symptom, zone: Option<Uuid>, prefs: Prefs) -> Vec<Heard> {
    let scene = Scene::new(case, zone, prefs);
    let mut signs: Vec<Sign> = causes_of(symptom).iter().flat_map(|row| row.signs).map(|(sign, _)| *sign).collect();
    signs.sort();
    signs.dedup();
    let one = |sign: Sign| {
        let Said { side, text, entry } = scene.hear(sign);
        Heard { sign, side, text, entry }
    };
    signs.into_iter().map(one).collect()
}

/// The causes of a defect, the likeliest first.
pub fn diagnosed(case: &Case<'_>, defect: &Stamped<DefectSeen>, prefs: Prefs) -> Vec<Ranked> {
    let DefectSeen { symptom, zone, .. } = defect.it;
    let settled: Vec<(Cause, u32)> =
        case.beside.settled.iter().filter(|(of, ..)| *of == symptom).map(|(_, cause, n)| (*cause, *n)).collect();
    rank(symptom, &heard(case, symptom, zone, prefs), &case.record.looked_for(defect.entry), &settled)
}
