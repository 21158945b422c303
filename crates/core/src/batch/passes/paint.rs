//! Paint ahead: what stands in the pots and the hose against what the zones still want.

use super::zone::{ZonePasses, count_of};
use crate::batch::Record;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::entries::Pass;
use crate::batch::record::Stamped;
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
    /// Without a flow nobody knows whether the pots live so long.
    pub timeless: bool,
    /// A pass said nothing of its paint: it is taken as area × film ÷ transfer.
    pub reckoned: bool,
}

/// Less than this to spare is nothing; from memory.
const SPARE_ML: f64 = 20.0;

/// A pass that is still to be made.
struct Ahead {
    /// The zone's place, and its name.
    place: usize,
    zone: String,
    no: usize,
    ml: f64,
    /// What the zone waits for after it.
    gap_s: f64,
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

    /// Every pass that is to be made, in the order of the work; `None` where nobody can say what is still wanted.
    ///
    /// **Rule:** each planned pass takes its film. Where the sheet does not say how many passes there are, a zone wants what its need is
    /// beyond what its passes said, in one; a pass there that said nothing leaves that unknown. **Units:** mL, s. **Source:** the sheet.
    fn passes_ahead(&self, zones: &[ZonePasses<'_>]) -> Option<Vec<Ahead>> {
        let aim = self.aim()?;
        let steps = &aim.sheet.steps;
        let order: Vec<usize> = steps.iter().enumerate().flat_map(|(i, s)| vec![i; count_of(s).unwrap_or(1)]).collect();
        let gap_s = |no: usize| {
            let (Some(of), next) = (no.checked_sub(1).and_then(|i| order.get(i)), order.get(no)) else { return 0.0 };
            let step = &steps[*of];
            let wait = if next == Some(of) { step.between_s } else { step.wait_s.or(step.between_s) };
            wait.unwrap_or(0.0)
        };
        let mut all: Vec<(usize, u8, Ahead)> = Vec::new();
        for z in zones.iter().filter(|z| z.next.is_some()) {
            let done = z.made.len();
            let ahead = |no: usize, ml: f64, gap_s: f64| Ahead { place: z.place, zone: z.name.clone(), no, ml, gap_s };
            let Some(planned) = z.planned else {
                let said: Option<f64> = z.made.iter().map(|m| self.share_of(m.pass, zones, z)).sum();
                let wants = need_ml(z.area_m2, self.wet_aim_um(), aim.transfer_pct) - said?;
                if wants > 0.0 {
                    all.push((done + 1, z.rank, ahead(done + 1, wants, 0.0)));
                }
                continue;
            };
            for no in done + 1..=planned.max(done + 1) {
                all.push((no, z.rank, ahead(no, self.pass_ml(z.area_m2, no == 1), gap_s(no))));
            }
        }
        all.sort_by_key(|(no, rank, ahead)| (*no, *rank, ahead.place));
        Some(all.into_iter().map(|(.., ahead)| ahead).collect())
    }

    /// What a pass said it took, as the share of one of its zones; `None` where it said nothing.
    fn share_of(&self, pass: &Stamped<Pass>, zones: &[ZonePasses<'_>], zone: &ZonePasses<'_>) -> Option<f64> {
        let here = zones.iter().filter(|z| z.made.iter().any(|m| m.pass.entry == pass.entry));
        let whole: f64 = here.map(|z| z.area_m2).sum();
        pass.it.used_ml.map(|ml| ml * zone.area_m2 / whole)
    }
}

/// A pot while it is sprayed in thought.
struct Pot<'a> {
    charge: &'a Charge,
    left_ml: f64,
    rest_ml: f64,
    spent_at: Option<Timestamp>,
    ends: Option<(String, usize)>,
    dies: Option<(Timestamp, String, f64)>,
}

/// Pots against passes: where each ends, which dies before it is empty, what is missing and by when it is mixed.
///
/// **Rule:** the pot on the gun first, then the one that dies first. A pass takes what the film wants of it. Time goes by the flow and
/// by the waits of the sheet, in which pots age on;
/// the next pot is mixed so long before the paint runs out as induction and handling take. `None` before a pot is mixed, for paint
/// that is mixed at the gun, and once nothing is left to do. **Units:** mL, mL/min. **Source:** arithmetic.
pub fn ahead(case: &Case<'_>, zones: &[ZonePasses<'_>], now: Timestamp) -> Option<PaintAhead> {
    const NOTHING_ML: f64 = 1e-6;
    let aim = case.aim().filter(|aim| aim.sheet.charge == ChargeKind::Pot)?;
    let passes = case.passes_ahead(zones)?;
    let mut live: Vec<&Charge> = case.charges.iter().filter(|c| c.closed.is_none() && c.mixed_ml(&aim.sheet) > 0.0).collect();
    if live.is_empty() || passes.is_empty() {
        return None;
    }
    live.sort_by_key(|c| (c.started.is_none(), case.clock(c, now).map(|k| k.spent_at), c.no));
    let mut reckoned = false;
    let mut pots: Vec<Pot<'_>> = live
        .into_iter()
        .map(|charge| {
            let (left_ml, guessed) = case.unsprayed_ml(charge, zones);
            reckoned |= guessed;
            let spent_at = case.clock(charge, now).map(|k| k.spent_at);
            Pot { charge, left_ml, rest_ml: left_ml, spent_at, ends: None, dies: None }
        })
        .collect();
    let flow = case.flow_ml_min();
    let until = |at: Timestamp| at.duration_since(now).as_secs_f64();
    // When each zone may be gone over, in seconds from now; without a flow no time goes by.
    let mut ready: Vec<f64> = zones.iter().map(|z| z.wait.and_then(|w| w.earliest).map_or(0.0, until)).collect();
    let (mut at, mut t, mut short_ml, mut runs_out) = (0, 0.0_f64, 0.0, None);
    for pass in &passes {
        t = t.max(ready[pass.place]);
        let mut wants = pass.ml;
        while let Some(pot) = pots.get_mut(at).filter(|_| wants > NOTHING_ML) {
            let alive_s = flow.and(pot.spent_at).map_or(f64::INFINITY, |spent| (until(spent) - t).max(0.0));
            let takes = wants.min(pot.rest_ml).min(flow.map_or(f64::INFINITY, |flow| alive_s / 60.0 * flow));
            if takes > 0.0 {
                pot.ends = Some((pass.zone.clone(), pass.no));
            }
            (wants, pot.rest_ml) = (wants - takes, pot.rest_ml - takes);
            t += flow.map_or(0.0, |flow| takes / flow * 60.0);
            if wants > NOTHING_ML {
                // It is empty, or it died.
                pot.dies = pot.spent_at.filter(|_| pot.rest_ml > NOTHING_ML).map(|spent| (spent, pass.zone.clone(), pot.rest_ml));
                at += 1;
            }
        }
        if wants > NOTHING_ML {
            short_ml += wants;
            runs_out.get_or_insert_with(|| (pass.zone.clone(), t));
        }
        ready[pass.place] = t + flow.map_or(0.0, |_| pass.gap_s);
    }
    // The pot as mixed now has its induction before it may be sprayed.
    let material_c = case.conditions_at(now).map(|c| c.it.material_c).or(aim.sheet.pot_life_at_c).unwrap_or(20.0);
    let induction_s = aim.sheet.induction_curve().map_or(0.0, |c| c.induction_s(material_c));
    let timeless = flow.is_none() && pots.iter().any(|p| p.spent_at.is_some());
    let reach = |pot: Pot<'_>| PotReach {
        charge: pot.charge.id,
        no: pot.charge.no,
        left_ml: pot.left_ml,
        ends: pot.ends,
        spare_ml: if short_ml > NOTHING_ML || pot.dies.is_some() { 0.0 } else { pot.rest_ml },
        dies: pot.dies,
    };
    Some(PaintAhead {
        wants_ml: passes.iter().map(|p| p.ml).sum(),
        pots: pots.into_iter().map(reach).collect(),
        short_ml,
        mix_by: flow.and(runs_out.as_ref()).map(|(_, s)| after(now, s - induction_s - HANDLING_S)),
        short_in: runs_out.map(|(zone, _)| zone),
        next_no: case.charges.iter().map(|c| c.no).max().unwrap_or(0) + 1,
        reckoned,
        timeless,
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
        if self.timeless {
            said.push("Whether pots live so long is not known: plan the flow at Mix.".into());
        }
        if self.reckoned {
            said.push("A pass that said nothing is taken by area and film.".into());
        }
        said.join(" ")
    }
}
