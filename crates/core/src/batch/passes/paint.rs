//! Paint ahead: what stands in the pots and the hose against what the zones still want.

use super::planned::NextStep;
use super::zone::ZonePasses;
use crate::batch::Record;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::film::need_ml;
use crate::pot_life::after;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::ChargeKind;
use jiff::Timestamp;
use uuid::Uuid;

/// Stirring, straining and pouring in; from memory, as in the plan.
const HANDLING_S: f64 = 300.0;

/// How far a pot reaches.
#[derive(Debug, Clone, PartialEq)]
pub struct PotReach {
    /// Which.
    pub charge: Uuid,
    /// Its number.
    pub no: i64,
    /// What it holds for the part.
    pub left_ml: f64,
    /// The zone and the pass it lasts to; none: nothing of it is needed.
    pub ends: Option<(String, usize)>,
    /// What is left of it once all passes are on.
    pub spare_ml: f64,
    /// It dies then, before it is empty, in this zone, with so much left.
    pub dies: Option<(Timestamp, String, f64)>,
}

/// Paint ahead.
#[derive(Debug, Clone, PartialEq)]
pub struct PaintAhead {
    /// What the zones still want.
    pub wants_ml: f64,
    /// Each pot in the order it is sprayed.
    pub pots: Vec<PotReach>,
    /// What is missing after all of them.
    pub short_ml: f64,
    /// The zone where it runs out.
    pub short_in: Option<String>,
    /// Hardener goes into the next pot by then; none where the flow is not known or nothing is missing.
    pub mix_by: Option<Timestamp>,
    /// Its number.
    pub next_no: i64,
    /// A pass said nothing of its paint: it is taken as area × film ÷ transfer.
    pub reckoned: bool,
}

/// Less than this to spare is nothing; from memory.
const SPARE_ML: f64 = 20.0;

/// A pass that is still to be made.
struct Ahead {
    zone: String,
    no: usize,
    ml: f64,
}

impl Record {
    /// Wet film of a pass: what the film wanted leaves for the passes planned, the first by its own band.
    ///
    /// **Formula:** `aim / passes`; with a band of its own the first takes its middle, the others share the rest. **Units:** µm.
    /// **Source:** the sheet; arithmetic.
    pub fn pass_um(&self, first: bool) -> f64 {
        let (aim, planned) = (self.wet_aim_um(), self.planned_passes().unwrap_or(1).max(1) as f64);
        let own = self.pass_band(true).and_then(|t| Some((t.lo? + t.hi?) / 2.0)).filter(|um| planned > 1.0 && *um < aim);
        match own {
            Some(um) if first => um,
            Some(um) => (aim - um) / (planned - 1.0),
            None => aim / planned,
        }
    }

    /// Paint one pass takes of an area.
    ///
    /// **Formula:** [`need_ml`]. **Units:** m²; mL. **Source:** as there.
    fn pass_ml(&self, area_m2: f64, first: bool) -> f64 {
        self.aim().map_or(0.0, |aim| need_ml(area_m2, self.pass_um(first), aim.transfer_pct))
    }

    /// What a charge holds that is not on the part yet, by what the passes said, else by what they are taken to use.
    ///
    /// **Formula:** what was mixed, less what went elsewhere, less each pass's paint, said or `area × film ÷ TE`. **Units:** mL;
    /// `true`: a pass said nothing. **Source:** arithmetic.
    fn unsprayed_ml(&self, charge: &Charge, zones: &[ZonePasses<'_>]) -> (f64, bool) {
        let (mut taken, mut reckoned) = (0.0, false);
        for pass in self.passes.iter().filter(|p| p.it.charge == charge.id) {
            taken += pass.it.used_ml.unwrap_or_else(|| {
                reckoned = true;
                let first = |z: &ZonePasses<'_>| z.made.first().is_some_and(|m| m.pass.entry == pass.entry);
                let here = zones.iter().filter(|z| z.made.iter().any(|m| m.pass.entry == pass.entry));
                here.map(|z| self.pass_ml(z.area_m2, first(z))).sum()
            });
        }
        ((self.gone_ml(charge) - taken).max(0.0), reckoned)
    }

    /// Every pass that is planned and not made, in the order of the work.
    fn passes_ahead(&self, zones: &[ZonePasses<'_>]) -> Vec<Ahead> {
        let mut all: Vec<(usize, u8, usize, Ahead)> = Vec::new();
        for z in zones {
            let done = z.made.len();
            let from = z.next.map_or(usize::MAX, |_: NextStep<'_>| done + 1);
            for no in from..=z.planned.unwrap_or(done + 1).max(if z.next.is_some() { done + 1 } else { 0 }) {
                let ml = self.pass_ml(z.area_m2, no == 1);
                all.push((no, z.rank, z.place, Ahead { zone: z.name.clone(), no, ml }));
            }
        }
        all.sort_by_key(|(no, rank, place, _)| (*no, *rank, *place));
        all.into_iter().map(|(.., ahead)| ahead).collect()
    }
}

/// Pots against passes: where each ends, which dies before it is empty, what is missing and by when it is mixed.
///
/// **Rule:** the pot on the gun first, then the one that dies first. A pass takes what the film wants of it. Time goes by the flow;
/// the next pot is mixed so long before the paint runs out as induction and handling take. `None` before a pot is mixed, for paint
/// that is mixed at the gun, and once nothing is left to do. **Units:** mL, mL/min. **Source:** arithmetic.
pub fn ahead(case: &Case<'_>, zones: &[ZonePasses<'_>], now: Timestamp) -> Option<PaintAhead> {
    let aim = case.aim().filter(|aim| aim.sheet.charge == ChargeKind::Pot)?;
    let passes = case.passes_ahead(zones);
    let mut live: Vec<&Charge> = case.charges.iter().filter(|c| c.closed.is_none() && c.mixed_ml(&aim.sheet) > 0.0).collect();
    if live.is_empty() || passes.is_empty() {
        return None;
    }
    live.sort_by_key(|c| (c.started.is_none(), case.clock(c, now).map(|k| k.spent_at), c.no));
    let flow = case.flow_ml_min();
    let (mut next, mut taken_ml, mut sprayed_ml, mut reckoned) = (0, 0.0, 0.0, false);
    let mut pots = Vec::new();
    for charge in live {
        let (left_ml, guessed) = case.unsprayed_ml(charge, zones);
        reckoned |= guessed;
        let spent_at = case.clock(charge, now).map(|k| k.spent_at);
        let (mut rest, mut dies, mut ends) = (left_ml, None, None);
        while next < passes.len() && rest > 0.0 && dies.is_none() {
            let ml = (passes[next].ml - taken_ml).min(rest);
            let until = flow.map(|flow| after(now, (sprayed_ml + ml) / flow * 60.0));
            if let (Some(spent), Some(until), Some(flow)) = (spent_at, until, flow)
                && until > spent
            {
                let before = spent.duration_since(now).as_secs_f64().max(0.0) / 60.0 * flow - sprayed_ml;
                let used = before.clamp(0.0, ml);
                (rest, taken_ml, sprayed_ml) = (rest - used, taken_ml + used, sprayed_ml + used);
                dies = Some((spent, passes[next].zone.clone(), rest));
                continue;
            }
            (rest, taken_ml, sprayed_ml) = (rest - ml, taken_ml + ml, sprayed_ml + ml);
            ends = Some((passes[next].zone.clone(), passes[next].no));
            if taken_ml >= passes[next].ml - 1e-6 {
                (next, taken_ml) = (next + 1, 0.0);
            }
        }
        let spare_ml = if next == passes.len() { rest } else { 0.0 };
        pots.push(PotReach { charge: charge.id, no: charge.no, left_ml, ends, spare_ml, dies });
    }
    let wants_ml = passes.iter().map(|p| p.ml).sum::<f64>();
    let short_ml = (passes[next.min(passes.len() - 1)..].iter().map(|p| p.ml).sum::<f64>() - taken_ml).max(0.0);
    let short_ml = if next < passes.len() { short_ml } else { 0.0 };
    // The pot as mixed now has its induction before it may be sprayed.
    let material_c = case.conditions_at(now).map(|c| c.it.material_c).or(aim.sheet.pot_life_at_c).unwrap_or(20.0);
    let induction_s = aim.sheet.induction_curve().map_or(0.0, |c| c.induction_s(material_c));
    let runs_out = flow.filter(|_| short_ml > 0.0).map(|flow| sprayed_ml / flow * 60.0);
    Some(PaintAhead {
        wants_ml,
        pots,
        short_in: passes.get(next).filter(|_| short_ml > 0.0).map(|p| p.zone.clone()),
        short_ml,
        mix_by: runs_out.map(|s| after(now, s - induction_s - HANDLING_S)),
        next_no: case.charges.iter().map(|c| c.no).max().unwrap_or(0) + 1,
        reckoned,
    })
}

impl PaintAhead {
    /// A pot dies before it is empty, or the next one is to be mixed by now.
    pub fn presses(&self, now: Timestamp) -> bool {
        self.pots.iter().any(|p| p.dies.is_some()) || self.mix_by.is_some_and(|at| at <= now)
    }

    /// In a few sentences, the first that hurts.
    pub fn words(&self, now: Timestamp, clock: impl Fn(Timestamp) -> String, prefs: Prefs) -> String {
        let say = |ml: f64| show(ml, QuantityKind::Volume, prefs).text;
        let mut said = Vec::new();
        for pot in &self.pots {
            let no = pot.no;
            said.push(match (&pot.dies, &pot.ends) {
                (Some((at, zone, left)), _) => {
                    format!("Pot {no} dies {} in {zone}, {} of it unsprayed.", clock(*at), say(*left))
                }
                (None, Some(_)) if pot.spare_ml >= SPARE_ML => {
                    format!("Pot {no} reaches the end, {} to spare.", say(pot.spare_ml))
                }
                (None, Some((zone, pass))) => format!("Pot {no} lasts to {zone}, pass {pass}."),
                (None, None) if pot.left_ml < SPARE_ML => format!("Pot {no} is empty by what its passes took."),
                (None, None) => format!("Pot {no} is not needed for what is left."),
            });
        }
        if self.short_ml > 0.0 {
            let from = self.short_in.as_deref().unwrap_or("the rest");
            let by = match self.mix_by {
                Some(at) if at <= now => " now".into(),
                Some(at) => format!(" by {}", clock(at)),
                None => String::new(),
            };
            said.push(format!("Mix pot {}{by}: {} is missing from {from} on.", self.next_no, say(self.short_ml)));
        }
        said.join(" ")
    }
}
