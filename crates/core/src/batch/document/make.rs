//! The document of a batch, list by list.

use super::{
    CardDocument, DocBond, DocCatch, DocCharge, DocCheck, DocClosed, DocConditions, DocDeviation, DocFill, DocFilm, DocFlow,
    DocHappening, DocLine, DocLot, DocPass, DocPour, DocRatio, DocRelease, DocRun, DocSetUp, FORMAT, FORMAT_VERSION,
};
use crate::batch::beside::window_of;
use crate::batch::case::Case;
use crate::batch::charge::Charge;
use crate::batch::entries::Begin;
use crate::batch::passes::names_of;
use crate::conditions::dew_point_c;
use crate::mixing::{self, PlannedPour, Weighed};
use crate::quantity::{Prefs, QuantityKind};
use crate::sheets::Sheet;
use crate::verdict::Measured;
use crate::worded::Worded;
use crate::{CORE_VERSION, film, ratio_check};
use uuid::Uuid;

/// The document of a batch; `None` before its first entry.
pub fn document(batch: Uuid, case: &Case<'_>) -> Option<CardDocument> {
    let begin = case.begin.as_ref()?;
    let aim = &begin.it;
    Some(CardDocument {
        format: FORMAT.into(),
        format_version: FORMAT_VERSION,
        core_version: CORE_VERSION.into(),
        batch,
        number: aim.number,
        part: aim.part_name.clone(),
        coat: aim.coat_name.clone(),
        zones: aim.zones.iter().map(|z| z.name.clone()).collect(),
        area_m2: aim.area_m2,
        wet_aim_um: case.wet_aim_um(),
        dry_asked_um: aim.dry_um,
        transfer_pct: aim.transfer_pct,
        thinner_pct: aim.thinner_pct,
        sheet: aim.sheet.clone(),
        sheet_edition: aim.sheet_edition,
        begun: begin.at,
        conditions: conditions(case),
        substrate: aim.substrate,
        method: aim.method,
        lots: lots(case),
        checks: checks(case, aim),
        guards: case.guards.iter().copied().collect(),
        charges: case.charges.iter().map(|c| charge(case, &aim.sheet, c)).collect(),
        rig: case.rig().cloned(),
        set_ups: set_ups(case),
        last_good: case.beside.last_good.clone(),
        flows: flows(case),
        catches: catches(case, aim),
        runs: runs(case, aim),
        bonds: bonds(case),
        passes: passes(case, aim),
        happenings: happenings(case, aim),
        films: films(case, aim),
        acceptance: super::acceptance::acceptance(case),
        deviations: deviations(case),
        releases: releases(case),
        recoat: window_of(case),
        signed: case.signature.clone(),
        accepted: case.acceptance.clone(),
        log: log(case),
        head_seq: case.log.head_seq,
        head_hash: case.log.head_hash.clone(),
    })
}

/// The name of a zone.
fn zone(aim: &Begin, id: Uuid) -> String {
    aim.zones.iter().find(|z| z.id == id).map_or(String::new(), |z| z.name.clone())
}

fn conditions(case: &Case<'_>) -> Vec<DocConditions> {
    let all = case.conditions.iter().map(|c| DocConditions {
        at: c.at,
        by: c.by.clone(),
        air_c: c.it.air_c,
        surface_c: c.it.surface_c,
        material_c: c.it.material_c,
        rh_pct: c.it.rh_pct,
        dew_point_c: dew_point_c(c.it.air_c, c.it.rh_pct),
        margin_dk: c.it.margin_dk().value,
    });
    all.collect()
}

fn set_ups(case: &Case<'_>) -> Vec<DocSetUp> {
    let all = case.set_ups.iter().map(|s| DocSetUp {
        at: s.at,
        by: s.by.clone(),
        pot_kpa: s.it.pot_kpa,
        b_kpa: s.it.b_kpa,
        atomizing_kpa: s.it.atomizing_kpa,
        stream_mm: s.it.stream_mm,
        catalyst_kpa: s.it.catalyst_kpa,
        pattern: s.it.pattern.map(|p| p.word().into()),
        step: s.it.step.clone(),
        fan_turns: s.it.fan_turns_count,
        needle_turns: s.it.needle_turns_count,
        air_at: s.it.air_at.map(|at| at.word().into()),
        air_how: s.it.air_how.map(|how| how.word().into()),
        refine_turns: s.it.refine_turns_count,
        a_valve_turns: s.it.a_valve_turns_count,
        b_valve_turns: s.it.b_valve_turns_count,
        flowed: s.it.flowed.map(|flowed| flowed.word().into()),
        cap_kpa: s.it.cap_kpa,
        supply_kpa: s.it.supply_kpa,
        texture_grit: s.it.texture_grit_count,
        gauge_pot_kpa: s.it.gauge_pot_kpa,
        gauge_gun_kpa: s.it.gauge_gun_kpa,
        photo_sha256: s.it.photo.as_ref().map(|p| p.sha256.clone()),
    });
    all.collect()
}

fn flows(case: &Case<'_>) -> Vec<DocFlow> {
    let all = case.flow_catches.iter().map(|c| DocFlow {
        at: c.at,
        by: c.by.clone(),
        pot_kpa: c.it.pot_kpa,
        flow_ml_min: c.it.flow_ml_min(case.density_kg_l().unwrap_or(1.0)),
    });
    all.collect()
}

fn catches(case: &Case<'_>, aim: &Begin) -> Vec<DocCatch> {
    let all = case.catches.iter().map(|c| DocCatch {
        at: c.at,
        by: c.by.clone(),
        a_g: c.it.a_g,
        b_g: c.it.b_g,
        a_kpa: c.it.a_kpa,
        b_kpa: c.it.b_kpa,
        time_s: c.it.caught_watch_s,
        setting: c.it.setting_count,
        ratio: ratio(&aim.sheet, ratio_check::b_per_a_of(c.it.a_g, c.it.b_g, c.it.resolution_g)),
    });
    all.collect()
}

fn runs(case: &Case<'_>, aim: &Begin) -> Vec<DocRun> {
    let all = case.runs.iter().filter_map(|r| {
        let run = r.it.run(Prefs::METRIC).ok()?;
        let ratio = ratio(&aim.sheet, run.b_per_a());
        Some(DocRun { at: r.at, by: r.by.clone(), a_g: run.a_g.value, b_g: run.b_g.value, ratio })
    });
    all.collect()
}

fn bonds(case: &Case<'_>) -> Vec<DocBond> {
    let all = case.bonds.iter().map(|b| DocBond {
        at: b.at,
        by: b.by.clone(),
        result: b.it.result,
        substrate: b.it.substrate.clone(),
        text: b.it.text.clone(),
        photo_sha256: b.it.photo.as_ref().map(|p| p.sha256.clone()),
    });
    all.collect()
}

fn passes(case: &Case<'_>, aim: &Begin) -> Vec<DocPass> {
    let zones = case.zone_passes();
    let all = (1..).zip(&case.passes).map(|(no, p)| DocPass {
        no,
        at: p.at,
        by: p.by.clone(),
        charge: case.charge(p.it.charge).map_or(0, |c| c.no),
        zones: p.it.zones.iter().map(|id| zone(aim, *id)).collect(),
        step: p.it.step.clone(),
        way: p.it.way.map(|w| w.word().into()),
        used_ml: p.it.used_ml,
        out_of_order: names_of(&zones, p.entry),
    });
    all.collect()
}

fn happenings(case: &Case<'_>, aim: &Begin) -> Vec<DocHappening> {
    let all = case.happenings.iter().map(|h| DocHappening {
        at: h.at,
        by: h.by.clone(),
        what: h.it.what.word().into(),
        zone: h.it.zone.map(|id| zone(aim, id)),
        pass_no: h.it.pass_no,
        text: h.it.text.clone(),
    });
    all.collect()
}

fn films(case: &Case<'_>, aim: &Begin) -> Vec<DocFilm> {
    let (by_zone, solids) = (case.film_by_zone(None), case.finished_solids_pct());
    let all = case.combs.iter().map(|c| {
        let said = by_zone.iter().flat_map(|z| &z.reads).find(|r| r.entry == c.entry);
        let total_um = said.map_or(c.it.read_um, |r| r.total_um);
        let dry = total_um.map(|um| film::dry_of_wet_um(um, solids));
        DocFilm {
            at: c.at,
            by: c.by.clone(),
            zone: c.it.zone.as_ref().map(|id| zone(aim, *id)),
            after_pass: said.map_or(0, |r| r.after_pass),
            wet_least_um: total_um.lo,
            wet_most_um: total_um.hi,
            dry_least_um: dry.lo,
            dry_most_um: dry.hi,
            open_ended: said.is_none_or(|r| r.open_ended),
        }
    });
    all.collect()
}

fn lots(case: &Case<'_>) -> Vec<DocLot> {
    let all = case.lots.iter().map(|l| DocLot {
        at: l.at,
        by: l.by.clone(),
        component: l.it.component,
        code: l.it.lot.code.clone(),
        reason: l.it.reason.clone(),
        known: l.it.lot.known.clone(),
    });
    all.collect()
}

fn checks(case: &Case<'_>, aim: &Begin) -> Vec<DocCheck> {
    let all = case.ticks.iter().map(|t| DocCheck {
        at: t.at,
        by: t.by.clone(),
        item: t.it.item.clone(),
        text: aim.items.iter().find(|i| i.key == t.it.item).map_or(t.it.item.clone(), |i| i.text.clone()),
        did: t.it.did,
        read_um: t.it.read_um,
        remark: t.it.text.clone(),
        photo: t.it.photo.as_ref().map(|p| p.sha256.clone()),
    });
    all.collect()
}

fn releases(case: &Case<'_>) -> Vec<DocRelease> {
    let all = case.releases.iter().map(|r| DocRelease {
        at: r.at,
        by: r.by.clone(),
        gate: r.it.gate,
        item: r.it.item.clone(),
        reason: r.it.reason.clone(),
    });
    all.collect()
}

fn deviations(case: &Case<'_>) -> Vec<DocDeviation> {
    let all =
        case.deviations.iter().map(|d| DocDeviation { code: d.code.clone(), text: d.text.clone(), answer: d.answer.clone() });
    all.collect()
}

fn log(case: &Case<'_>) -> Vec<DocLine> {
    let all = crate::batch::log_line::lines(case, Prefs::METRIC).rev().map(|l| DocLine {
        seq: l.seq,
        at: l.at,
        by: l.by,
        kind: l.kind,
        text: l.text,
        struck: l.struck,
    });
    all.collect()
}

fn charge(case: &Case<'_>, sheet: &Sheet, c: &Charge) -> DocCharge {
    let weighed = c.weighed();
    let is_weight = |w: &Weighed| sheet.said_in(w.component) == QuantityKind::Mass;
    let weight = |w: &Weighed, g: f64| is_weight(w).then_some(g);
    let volume = |w: &Weighed, ml: f64| (!is_weight(w)).then_some(ml);
    // No weight is said of what is measured by volume alone.
    let planned = |p: PlannedPour| match sheet.said_in(p.component) {
        QuantityKind::Mass => p,
        _ => PlannedPour { mass_g: 0.0, running_g: 0.0, ..p },
    };
    let pours = c.pours.iter().enumerate().map(|(i, p)| DocPour {
        at: p.at,
        by: p.by.clone(),
        component: p.it.weighed.component,
        name: sheet.component_name(p.it.weighed.component),
        poured_g: weight(&p.it.weighed, mixing::poured_g(&weighed, i)),
        reading_g: weight(&p.it.weighed, p.it.weighed.reading_g),
        tared: p.it.weighed.tared,
        resolution_g: weight(&p.it.weighed, p.it.weighed.resolution_g),
        poured_ml: volume(&p.it.weighed, mixing::poured_g(&weighed, i)),
        lot: p.it.lot.as_ref().map(|l| l.code.clone()),
    });
    DocCharge {
        no: c.no,
        kind: c.kind,
        wanted_ml: c.wanted_ml,
        opened: c.opened,
        pours: pours.collect(),
        ratio: ratio(sheet, mixing::b_per_a(&weighed)),
        combined: c.combined(),
        stirred: c.stirred,
        started: c.started,
        over: c.over.clone(),
        closed: c.closed.as_ref().map(|x| DocClosed {
            at: x.at,
            by: x.by.clone(),
            how: x.it.how,
            reason: x.it.reason.clone(),
            waste_ml: x.it.waste_ml,
            waste_g: x.it.waste_g,
        }),
        planned: case.plan(c).into_iter().map(planned).collect(),
        rescued: c.rescues.iter().map(|r| r.at).collect(),
        temperatures: if c.combined().is_some() { case.temperatures(c) } else { Vec::new() },
        age: c.closed.as_ref().and_then(|x| case.clock(c, x.at)).map(|x| x.age),
        fills: fills(c),
    }
}

/// What went to the gun, out of the pot and out of a can, in time order.
fn fills(c: &Charge) -> Vec<DocFill> {
    let of_pot = c.fills.iter().map(|f| (f.seq, f.at, f.by.clone(), f.it.into, f.it.fill_ml, f.it.dose_g));
    let of_can = c.ready_fills.iter().map(|f| (f.seq, f.at, f.by.clone(), f.it.into, f.it.fill_ml, f.it.dose_g));
    let mut all: Vec<_> = of_pot.chain(of_can).collect();
    all.sort_by_key(|(seq, at, ..)| (*at, *seq));
    all.into_iter().map(|(_, at, by, into, fill_ml, dose_g)| DocFill { at, by, into, fill_ml, dose_g }).collect()
}

fn ratio(sheet: &Sheet, b_per_a: Option<Measured>) -> Option<DocRatio> {
    let said = mixing::said(sheet, b_per_a?)?;
    let m = said.measured;
    Some(DocRatio {
        said_in: if said.kind == QuantityKind::Percent { "per_cent" } else { "parts" }.into(),
        least: m.lo,
        value: m.value,
        most: m.hi.min(f64::MAX),
        limit_low: said.tolerance.lo.unwrap_or(0.0),
        limit_high: said.tolerance.hi.unwrap_or(f64::MAX),
        verdict: said.tolerance.judge(m),
    })
}
