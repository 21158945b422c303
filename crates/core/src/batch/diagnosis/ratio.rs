//! The ratio as it was proved, and the drift of the rig's ledger.

use super::{Said, Scene, against, judged, of_all, unknown};
use crate::batch::gates::catch_said;
use crate::batch::proofs;
use crate::mixing::{self, Said as RatioSaid};
use crate::quantity::QuantityKind;
use crate::sheets::{ChargeKind, Sheet};
use crate::verdict::Verdict;
use jiff::Timestamp;
use uuid::Uuid;

/// The verdict of a figure that means too much hardener (`much`), or too little: parts of A to one of B run the other way.
fn asked(kind: QuantityKind, much: bool) -> Verdict {
    match (kind == QuantityKind::Ratio, much) {
        (true, true) | (false, false) => Verdict::Low,
        (true, false) | (false, true) => Verdict::High,
    }
}

fn said(s: &Scene<'_>, sheet: &Sheet, proof: Option<RatioSaid>, much: bool, entry: Uuid) -> Said {
    let Some(proof) = proof else { return unknown("The scale was too coarse to say anything of the ratio") };
    let figure = s.say(proof.measured.value, proof.kind);
    let text = format!("Ratio {figure}, the sheet {}", sheet.ratio_words(s.prefs));
    judged(proof.tolerance.judge(proof.measured), asked(proof.kind, much), text, Some(entry))
}

pub(super) fn proved(s: &Scene<'_>, much: bool) -> Said {
    let Some(aim) = s.case.aim() else { return unknown("Nothing is begun") };
    let sheet = &aim.sheet;
    if !sheet.has_hardener {
        return against("One component: no ratio", None);
    }
    if sheet.charge == ChargeKind::AtGun {
        return caught(s, sheet, much);
    }
    let used = |id: Uuid| s.passes.is_empty() || s.passes.iter().any(|p| p.it.charge == id);
    let one = |pot: &crate::batch::charge::Charge| {
        let entry = pot.pours.last().map_or(pot.id, |p| p.entry);
        let figure = mixing::b_per_a(&pot.weighed()).and_then(|b_per_a| mixing::said(sheet, b_per_a));
        if pot.pours.is_empty() {
            return unknown(format!("Nothing was weighed into pot {}", pot.no));
        }
        said(s, sheet, figure, much, entry)
    };
    of_all(s.case.charges.iter().filter(|c| used(c.id)).map(one).collect(), "The ratio was not proved")
}

/// What was caught before each pass, and whatever was caught after the first of them.
fn caught(s: &Scene<'_>, sheet: &Sheet, much: bool) -> Said {
    let first = s.first().unwrap_or(Timestamp::MAX);
    let catches = &s.case.record.catches;
    let before = catches.iter().rev().find(|c| c.at <= first);
    let after = catches.iter().filter(|c| c.at > first);
    let one = |c: &crate::batch::record::Stamped<crate::batch::entries::RatioCheck>| {
        said(s, sheet, catch_said(sheet, &c.it), much, c.entry)
    };
    of_all(before.into_iter().chain(after).map(one).collect(), "Nobody caught both streams")
}

pub(super) fn drifts(s: &Scene<'_>, much: bool) -> Said {
    let Some(aim) = s.case.aim().filter(|aim| aim.sheet.has_hardener) else { return against("One component: no ratio", None) };
    if aim.sheet.charge == ChargeKind::Pot {
        return against("Weighed pot by pot: no rig's ratio drifts", None);
    }
    let studied = proofs::studied(s.case, None);
    let Some((study, trend)) = studied.last().and_then(|study| Some((study, study.trend.as_ref()?))) else {
        return unknown("The ledger of this rig and product has too few catches for a trend");
    };
    let kind = study.catches.last().map_or(QuantityKind::Ratio, |c| c.figure.kind());
    let rises = trend.slope > 0.0;
    let toward = if rises { Verdict::High } else { Verdict::Low };
    let from = study.catches.first().map_or(trend.mean, |c| c.figure.value);
    let to = study.catches.last().map_or(trend.mean, |c| c.figure.value);
    let text = format!("The ledger went from {} to {} in {} catches", s.say(from, kind), s.say(to, kind), trend.n);
    match trend.is_real() {
        true => judged(toward, asked(kind, much), text, None),
        false => against(format!("{text}, which is chance"), None),
    }
}
