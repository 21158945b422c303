//! The defects of a batch as the screen draws them: what was seen, its causes with their evidence, what to look at next, what it came
//! of, and what mends it.

use crate::batch::case::Case;
use crate::batch::check::permitted;
use crate::batch::diagnosis::diagnosed;
use crate::batch::entries::{DefectSeen, EntryKind};
use crate::batch::record::Stamped;
use crate::diagnosis::{Cause, Evidence, Found, Look, Ranked, Side, Strength, Symptom, next_look};
use crate::limits::LABEL_CHARS;
use crate::people::Writer;
use crate::quantity::Prefs;
use crate::stores::Attached;
use crate::worded::{VariantArray, Worded, capital};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// Every defect of a batch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DefectsView {
    /// Newest first.
    pub defects: Vec<DefectView>,
    /// What can be seen, for choosing.
    pub symptoms: Vec<SymptomSeen>,
    /// This person may settle what it came of.
    pub can_settle: bool,
    /// The part, its coat and its sheet, for beginning a repair.
    pub part: Option<Uuid>,
    pub part_name: String,
    /// What the coat of a repair is called.
    pub repair_coat: String,
    #[serde(default)]
    pub sheet: Option<Uuid>,
    /// The batch and the defect this one repairs.
    pub repairs: Option<RepairsSeen>,
}

/// A symptom, to be chosen by its picture.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SymptomSeen {
    pub symptom: Symptom,
    pub name: String,
    pub seen_as: String,
    pub at_the_gun: bool,
}

/// What this batch repairs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct RepairsSeen {
    pub batch: Uuid,
    pub text: String,
}

/// A defect.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct DefectView {
    pub entry: Uuid,
    pub at: Timestamp,
    pub by: String,
    pub symptom: Symptom,
    pub name: String,
    pub zone: Option<Uuid>,
    pub zone_name: Option<String>,
    pub text: Option<String>,
    pub photo: Option<Attached>,
    /// How it is mended.
    pub mend: String,
    /// What stands out, in a sentence.
    pub says: String,
    /// The likeliest first.
    pub causes: Vec<CauseSeen>,
    /// What to look at next.
    pub next: Option<NextLookSeen>,
    pub settled: Option<SettledSeen>,
    /// Batches that repair it.
    pub repaired_by: Vec<RepairSeen>,
}

/// A cause with its evidence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct CauseSeen {
    pub cause: Cause,
    pub name: String,
    pub strength: Strength,
    /// What that is called.
    pub word: String,
    pub evidence: Vec<EvidenceSeen>,
    /// So many pieces speak for it, against it, and are not recorded.
    pub counts: [usize; 3],
    /// What the shop found before, where that was weighed in.
    pub shop: Option<String>,
    /// What is done so that it does not come again.
    pub next_time: String,
}

/// A piece of evidence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct EvidenceSeen {
    pub side: Side,
    /// Where it was read, in a word.
    pub from: String,
    pub text: String,
    /// The entry it stands in.
    pub entry: Option<Uuid>,
}

/// What to look at next.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct NextLookSeen {
    pub look: Look,
    pub question: String,
    /// What its answer parts, in words.
    pub why: String,
}

/// What it came of.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SettledSeen {
    pub cause: Cause,
    pub name: String,
    pub text: String,
    pub by: String,
    pub at: Timestamp,
}

/// A batch that repairs a defect.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct RepairSeen {
    pub batch: Uuid,
    pub text: String,
}

fn evidence(e: Evidence) -> EvidenceSeen {
    EvidenceSeen { side: e.side, from: e.from.word().into(), text: e.text, entry: e.entry }
}

fn shop(found: Found, symptom: Symptom) -> String {
    format!("{} of the {} settled here for {} were this; weighed in.", found.count, found.of, symptom.word())
}

fn cause(ranked: Ranked, symptom: Symptom) -> CauseSeen {
    let count = |side| ranked.evidence.iter().filter(|e| e.side == side).count();
    CauseSeen {
        cause: ranked.cause,
        name: capital(ranked.cause.word()),
        strength: ranked.strength,
        word: ranked.strength.word().into(),
        counts: [count(Side::For), count(Side::Against), count(Side::NotRecorded)],
        shop: ranked.shop.map(|found| shop(found, symptom)),
        next_time: ranked.cause.next_time().into(),
        evidence: ranked.evidence.into_iter().map(evidence).collect(),
    }
}

/// What stands out; never that it is certain.
fn says(ranked: &[Ranked]) -> String {
    let of = |strength: Strength| ranked.iter().filter(move |r| r.strength == strength).map(|r| r.cause.word());
    let strong: Vec<&str> = of(Strength::Strong).collect();
    let some: Vec<&str> = of(Strength::Some).take(2).collect();
    match (strong.as_slice(), some.as_slice()) {
        ([one], _) => format!("The record speaks strongly for one: {one}."),
        ([], []) => "Nothing in the record speaks for any cause. Look.".into(),
        ([], some) => format!("The record speaks a little for {}. Look.", some.join(" and ")),
        (several, _) => format!("The record speaks strongly for {}. Look which.", several.join(" and ")),
    }
}

fn defect(case: &Case<'_>, seen: &Stamped<DefectSeen>, prefs: Prefs) -> DefectView {
    let symptom = seen.it.symptom;
    let ranked = diagnosed(case, seen, prefs);
    let next = next_look(symptom, &ranked, &case.record.looked_for(seen.entry)).map(|(row, [a, b])| NextLookSeen {
        look: row.look,
        question: row.question.into(),
        why: format!("It parts “{}” from “{}”.", a.word(), b.word()),
    });
    let settled = case.defects_settled.iter().rev().find(|s| s.it.defect == seen.entry).map(|s| SettledSeen {
        cause: s.it.cause,
        name: capital(s.it.cause.word()),
        text: s.it.text.clone(),
        by: s.by.clone(),
        at: s.at,
    });
    let zone_name = seen.it.zone.and_then(|zone| case.zones().into_iter().find(|(id, _)| *id == Some(zone)));
    let repairs = case.beside.repairs.iter().filter(|r| r.defect == seen.entry);
    DefectView {
        entry: seen.entry,
        at: seen.at,
        by: seen.by.clone(),
        symptom,
        name: capital(symptom.word()),
        zone: seen.it.zone,
        zone_name: zone_name.map(|(_, name)| name),
        text: seen.it.text.clone(),
        photo: seen.it.photo.clone(),
        mend: symptom.mend().into(),
        says: says(&ranked),
        causes: ranked.into_iter().map(|r| cause(r, symptom)).collect(),
        // Once it is settled nothing is left to part.
        next: next.filter(|_| settled.is_none()),
        settled,
        repaired_by: repairs
            .map(|r| RepairSeen { batch: r.batch, text: format!("Batch {:04}, {}", r.number, r.stands.replace('_', " ")) })
            .collect(),
    }
}

const MEND: &str = " mend";

/// What the coat of a repair is called: the coat it mends, cut so that both words fit.
fn repair_coat(coat: &str) -> String {
    let mended = coat.strip_suffix(MEND).unwrap_or(coat);
    let cut: String = mended.chars().take(LABEL_CHARS - MEND.len()).collect();
    format!("{}{MEND}", cut.trim_end())
}

/// The defects of a begun batch, as one person sees them.
pub fn defects(case: &Case<'_>, writer: &Writer) -> DefectsView {
    let mut defects: Vec<DefectView> = case.record.defects.iter().map(|d| defect(case, d, writer.prefs)).collect();
    defects.sort_by_key(|d| std::cmp::Reverse(d.at));
    let symptom = |symptom: &Symptom| SymptomSeen {
        symptom: *symptom,
        name: capital(symptom.word()),
        seen_as: symptom.seen_as().into(),
        at_the_gun: symptom.is_at_the_gun(),
    };
    let repairs = case
        .aim()
        .and_then(|aim| aim.repairs.as_ref())
        .map(|r| RepairsSeen { batch: r.batch, text: format!("It repairs {} of batch {:04}", r.symptom.word(), r.number) });
    DefectsView {
        defects,
        symptoms: Symptom::VARIANTS.iter().map(symptom).collect(),
        part: case.aim().map(|aim| aim.part),
        part_name: case.aim().map_or(String::new(), |aim| aim.part_name.clone()),
        repair_coat: case.aim().map_or(String::new(), |aim| repair_coat(&aim.coat_name)),
        sheet: None,
        can_settle: permitted(case, EntryKind::DefectSettled, None, writer).is_ok(),
        repairs,
    }
}
