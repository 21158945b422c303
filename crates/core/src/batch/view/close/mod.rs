//! The Close station: deviations with their answers, signatures, the recoat window.

mod accepting;
mod gauge;

pub use accepting::{AcceptView, LookSeen, MethodSeen, SampleSeen, StageSeen, StagesView};
pub use gauge::{AreaSeen, FoilSeen, GaugeSeen, NextSpot, ReadSeen, SpotSeen};

use super::{Viewer, prove, ready, spray};
use crate::batch::EntryKind;
use crate::batch::beside;
use crate::batch::case::Case;
use crate::batch::check::permitted;
use crate::batch::deviations;
use crate::batch::entries::{may_sign, signs_alone};
use crate::batch::gates::{self, Act};
use crate::batch::record::{Deviation, Signature};
use crate::recoat::{self, RecoatClock};
use crate::verdict::Level;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The Close station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CloseView {
    pub deviations: Vec<Deviation>,
    pub signature: Option<Signature>,
    pub acceptance: Option<Signature>,
    /// Why this person cannot sign now; missing: they can.
    pub cannot_sign: Option<String>,
    /// Why this person cannot accept now.
    pub cannot_accept: Option<String>,
    pub can_reopen: bool,
    /// Who looks works alone: their signature closes the card.
    #[serde(default)]
    pub alone: bool,
    /// The rig that is to be shut down.
    #[serde(default)]
    pub rig: Option<Uuid>,
    /// What will stand on the card: ratio, film wet and dry, dew margin.
    #[serde(default)]
    pub levels: Vec<Level>,
    /// What accepts it, and how each of it stands.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub accept: Option<AcceptView>,
    /// The window of this coat, with the batch of the next one once it is begun.
    pub recoat: Option<RecoatClock>,
}

pub(super) fn close(case: &Case<'_>, viewer: &Viewer, now: Timestamp) -> CloseView {
    let w = &viewer.writer;
    let cannot_sign = match &case.signature {
        Some(_) => Some("The work is signed.".to_string()),
        None => permitted(case, EntryKind::Sign, None, w)
            .and_then(|()| may_sign(case, case.log.head_seq, now, w.prefs))
            .err()
            .map(|r| r.text),
    };
    let cannot_accept = match (&case.signature, &case.acceptance) {
        (_, Some(_)) => Some("The card is closed.".to_string()),
        (None, _) => Some("The work is not signed yet.".to_string()),
        (Some(_), None) => permitted(case, EntryKind::Accept, None, w)
            .and_then(|()| gates::before(case, Act::Accept, None, now, w.prefs).refuse())
            .err()
            .map(|r| r.text),
    };
    let (_, wet, dry, _) = spray::levels(case, w.prefs);
    CloseView {
        rig: case.rig.as_ref().map(|r| r.it.rig),
        levels: [prove::newest(case, w.prefs), wet, dry, ready::margin(case, w.prefs)].into_iter().flatten().collect(),
        deviations: deviations::find(case, w.prefs),
        accept: Some(accepting::accepting(case, w)),
        signature: case.signature.clone(),
        acceptance: case.acceptance.clone(),
        cannot_sign,
        cannot_accept,
        recoat: beside::window_of(case).map(|w| recoat::clock(Some(w), beside::ended(case), case.beside.next.clone(), now)),
        alone: signs_alone(case, w),
        can_reopen: case.signature.is_some() && permitted(case, EntryKind::Reopen, None, w).is_ok(),
    }
}
