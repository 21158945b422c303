//! What accepts a coat by the eye: the stages of its sheet as they were seen last.

use crate::batch::case::Case;
use crate::batch::entries::StageLook;
use crate::batch::record::{Record, Stamped};
use crate::quantity::Prefs;
use crate::sheets::{FilmProof, LookStage};
use crate::verdict::Verdict;
use uuid::Uuid;

impl Record {
    /// Stages as they were seen last, each where it was looked at.
    pub fn stages_seen(&self) -> Vec<&Stamped<StageLook>> {
        let newest = |look: &&Stamped<StageLook>| {
            // A look everywhere is a look at each zone; one at a zone says nothing of the others.
            let later = |other: &Stamped<StageLook>| {
                let of_it = other.it.zone == look.it.zone || other.it.zone.is_none();
                other.it.stage == look.it.stage && of_it && (other.at, other.seq) > (look.at, look.seq)
            };
            // The finished film was another one before its last pass.
            let of_this_film = !look.it.stage.is_of_the_finished_film() || self.last_pass_at().is_none_or(|last| look.at >= last);
            of_this_film && !self.stage_looks.iter().any(later)
        };
        self.stage_looks.iter().filter(newest).collect()
    }

    /// Stages of the sheet that nobody looked at yet, everywhere or in each of the zones.
    pub fn stages_missing(&self) -> Vec<LookStage> {
        let (seen, zones) = (self.stages_seen(), self.zones());
        let asked = self.aim().into_iter().flat_map(|aim| aim.sheet.look_stages.iter().copied());
        let looked = |stage: LookStage, zone: Option<Uuid>| {
            seen.iter().any(|s| s.it.stage == stage && (s.it.zone.is_none() || s.it.zone == zone))
        };
        asked.filter(|stage| !zones.iter().all(|(zone, _)| looked(*stage, *zone))).collect()
    }
}

impl Case<'_> {
    /// Every stage of the sheet was looked at and is good as it was seen last; so it is where the sheet names none.
    pub(super) fn stages_in(&self) -> bool {
        self.stages_missing().is_empty() && self.stages_seen().iter().all(|s| s.it.good)
    }

    /// By the eye: every stage that was looked at stands as it was seen last, and the finished film among them.
    pub(super) fn looked_at(&self) -> Option<Verdict> {
        if self.stages_seen().iter().any(|s| !s.it.good) {
            return Some(Verdict::Low);
        }
        // Where the sheet names stages they are what is looked at; else the finished film is.
        let staged = self.aim().is_some_and(|aim| !aim.sheet.look_stages.is_empty());
        match (staged, self.stages_missing().is_empty()) {
            (true, true) => Some(Verdict::In),
            (true, false) => None,
            (false, _) => self.film_by(FilmProof::Look, Prefs::METRIC),
        }
    }
}
