//! What accepts the coat, as the screen draws it: by gauge on the part, by look beside the sample, and the others by their word.

use super::gauge::{self, GaugeSeen};
use crate::acceptance::AcceptBy;
use crate::batch::accepting::Method;
use crate::batch::case::Case;
use crate::batch::check::permitted;
use crate::batch::entries::{EntryKind, Phase};
use crate::batch::record::Stamped;
use crate::people::Writer;
use crate::sheets::LookStage;
use crate::stores::Attached;
use crate::verdict::Verdict;
use crate::worded::{Worded, capital};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What accepts the coat.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct AcceptView {
    pub methods: Vec<MethodSeen>,
    /// This person may say how it is measured.
    pub can_plan: bool,
    /// Readings may be taken now: the coat is on, and the card not closed.
    pub can_read: bool,
    pub gauge: GaugeSeen,
    pub look: StagesView,
}

/// One thing that accepts it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct MethodSeen {
    pub by: AcceptBy,
    pub name: String,
    pub verdict: Option<Verdict>,
    pub word: String,
}

/// The look of it at its stages.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct StagesView {
    pub stages: Vec<StageSeen>,
    pub sample: Option<SampleSeen>,
}

/// A stage.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct StageSeen {
    pub stage: LookStage,
    pub name: String,
    /// The sheet asks it.
    pub asked: bool,
    pub looks: Vec<LookSeen>,
}

/// A look at a stage.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct LookSeen {
    pub entry: Uuid,
    pub at: Timestamp,
    pub by: String,
    pub zone: Option<String>,
    pub good: bool,
    pub text: Option<String>,
    pub photo: Option<Attached>,
}

/// The sample it should match.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SampleSeen {
    pub text: String,
    pub photo: Option<Attached>,
}

fn method(m: Method) -> MethodSeen {
    let word = match (m.verdict, m.begun, m.released) {
        (Some(verdict), ..) if verdict == Verdict::In || !m.released => verdict.word().to_string(),
        (_, _, true) => "released by a lead".into(),
        (None, true, _) => "under way".into(),
        (Some(_), ..) | (None, false, _) => "not done".into(),
    };
    MethodSeen { by: m.by, name: capital(m.by.word()), verdict: m.verdict, word }
}

pub(super) fn accepting(case: &Case<'_>, writer: &Writer) -> AcceptView {
    let can_read = (Phase::Sprayed..=Phase::Signed).contains(&case.phase());
    AcceptView {
        methods: case.methods(writer.prefs).into_iter().map(method).collect(),
        can_plan: can_read && permitted(case, EntryKind::PlanAcceptance, None, writer).is_ok(),
        can_read,
        gauge: gauge::seen(case, writer.prefs),
        look: stages(case),
    }
}

/// Every stage the sheet asks, and every one that was looked at.
fn stages(case: &Case<'_>) -> StagesView {
    use crate::worded::VariantArray;
    let asked = case.aim().map(|aim| &aim.sheet.look_stages);
    let seen = case.stages_seen();
    let look = |l: &&&Stamped<crate::batch::entries::StageLook>| LookSeen {
        entry: l.entry,
        at: l.at,
        by: l.by.clone(),
        zone: l.it.zone.and_then(|zone| case.zones().into_iter().find(|(id, _)| *id == Some(zone)).map(|(_, name)| name)),
        good: l.it.good,
        text: l.it.text.clone(),
        photo: l.it.photo.clone(),
    };
    let stage = |stage: LookStage| StageSeen {
        stage,
        name: capital(stage.word()),
        asked: asked.is_some_and(|a| a.contains(&stage)),
        looks: seen.iter().filter(|l| l.it.stage == stage).map(|l| look(&l)).collect(),
    };
    StagesView {
        stages: LookStage::VARIANTS.iter().copied().map(stage).collect(),
        sample: case.control_sample.as_ref().map(|s| SampleSeen { text: s.it.text.clone(), photo: s.it.photo.clone() }),
    }
}
