//! Film: what comb and gauge read where the defect is.

use super::{Said, Scene, against, for_it, judged, of_all, unknown};
use crate::batch::film_zones::{ZoneRead, ZoneState};
use crate::diagnosis::Side;
use crate::quantity::QuantityKind;
use crate::verdict::{Measured, Tolerance, Verdict};
use crate::worded::Worded;
use uuid::Uuid;

/// Readings of one zone after one pass further apart than this, whatever the comb may be off, are uneven; from memory.
const UNEVEN: f64 = 1.25;
/// So many readings at the least say that a film is even; from memory.
const EVEN_FROM: usize = 3;

impl Scene<'_> {
    fn zones(&self) -> Vec<ZoneState> {
        let here = |z: &ZoneState| self.zone.is_none() || z.id == self.zone || z.id.is_none();
        self.case.film_by_zone(None).into_iter().filter(here).collect()
    }

    fn um(&self, um: f64) -> String {
        self.say(um, QuantityKind::Film)
    }

    fn between(&self, m: Measured) -> String {
        format!("{} to {}", self.um(m.lo), self.um(m.hi))
    }
}

pub(super) fn first_pass_heavy(s: &Scene<'_>) -> Said {
    let Some(most) = s.case.aim().and_then(|aim| aim.sheet.first_pass_max_um) else {
        return unknown("The sheet states no most for the first pass");
    };
    let of_zone = |zone: ZoneState| {
        let first = |r: &&ZoneRead| r.after_pass == 1;
        let one = |r: &ZoneRead| {
            let text = format!("First pass on {}: {}, {} at the most", zone.name, s.between(r.pass_um), s.um(most));
            judged(Tolerance::at_most(most).judge(r.pass_um), Verdict::High, text, Some(r.entry))
        };
        of_all(zone.reads.iter().filter(first).map(one).collect(), &format!("Nobody read the first pass on {}", zone.name))
    };
    of_all(s.zones().into_iter().filter(|z| z.passes > 0).map(of_zone).collect(), "Nobody read the first pass")
}

pub(super) fn heavy(s: &Scene<'_>) -> Said {
    let Some(most) = s.case.aim().map(|aim| aim.sheet.wet_max_um) else { return unknown("Nothing is begun") };
    let of_zone = |zone: ZoneState| {
        let one = |r: &ZoneRead| {
            let text = format!("{}: wet film {}, {} at the most", zone.name, s.between(r.total_um), s.um(most));
            let verdict = Tolerance::at_most(most).judge(r.total_um);
            // A pass that nobody measured may have put more on.
            let open = r.open_ended && verdict == Verdict::In;
            judged(if open { Verdict::CannotTell } else { verdict }, Verdict::High, text, Some(r.entry))
        };
        let mut said: Vec<Said> = zone.reads.iter().map(one).collect();
        if zone.last.is_empty() {
            said.push(unknown(format!("Nobody read the film on {} after its last pass", zone.name)));
        }
        of_all(said, "Nobody read the film")
    };
    let combs = of_all(s.zones().into_iter().filter(|z| z.passes > 0).map(of_zone).collect(), "Nobody read the film");
    if combs.side != Side::NotRecorded {
        return combs;
    }
    if let Some(dry) = by_gauge(s) {
        return dry;
    }
    // By use it is the mean over all that was sprayed: over the most, some place is over it; under it, one may be all the same.
    match s.case.film_by_use_um(s.prefs).map(|um| (um, Tolerance::at_most(most).judge(um))) {
        Some((um, Verdict::High)) => for_it(format!("Wet film by use {}, {} at the most", s.between(um), s.um(most)), None),
        Some((_, Verdict::In | Verdict::Low | Verdict::CannotTell)) | None => combs,
    }
}

/// The dry film where it was read by gauge and the figures say something.
fn by_gauge(s: &Scene<'_>) -> Option<Said> {
    let gauge = s.case.by_gauge()?;
    let verdict = gauge.figures?;
    let entry = Some(gauge.plan.entry);
    let proved = gauge.unproved.is_empty() || verdict == Verdict::High;
    let text = format!("Dry film by gauge, {}: {}", gauge.read_of_asked(), verdict.word());
    proved.then(|| judged(verdict, Verdict::High, text, entry))
}

/// Whether readings of one place lie apart, whatever each may be off.
fn apart(s: &Scene<'_>, what: &str, read: &[(Measured, Uuid)]) -> Said {
    let thick = read.iter().max_by(|a, b| a.0.lo.total_cmp(&b.0.lo));
    let thin = read.iter().min_by(|a, b| a.0.hi.total_cmp(&b.0.hi));
    let Some((thick, thin)) = thick.zip(thin) else { return unknown("Nobody read the film") };
    let text = format!("{what}: {} beside {}", s.between(thick.0), s.between(thin.0));
    match () {
        () if thick.0.lo > UNEVEN * thin.0.hi => for_it(text, Some(thick.1)),
        () if read.len() >= EVEN_FROM => against(text, Some(thick.1)),
        () => unknown(format!("{what}: {} of {EVEN_FROM} readings", read.len())),
    }
}

pub(super) fn uneven(s: &Scene<'_>) -> Said {
    let of_zone = |zone: ZoneState| {
        let read: Vec<(Measured, Uuid)> = zone.last.iter().map(|r| (r.total_um, r.entry)).collect();
        apart(s, &zone.name, &read)
    };
    let mut said: Vec<Said> = s.zones().into_iter().filter(|z| z.passes > 0).map(of_zone).collect();
    let spots: Vec<(Measured, Uuid)> = s
        .case
        .by_gauge()
        .into_iter()
        .flat_map(|g| g.areas)
        .flat_map(|a| a.spots)
        .filter(|spot| s.is_here(spot.drawn.zone))
        .filter_map(|spot| Some((spot.mean_um?, spot.read?.0)))
        .collect();
    if !spots.is_empty() {
        // Spots are drawn over all of it: they say what combs leave open.
        said.retain(|one| one.side == Side::For);
        said.push(apart(s, "Spots by gauge", &spots));
    }
    of_all(said, "Nobody read the film")
}
