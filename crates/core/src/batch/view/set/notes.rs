//! What wants saying of pressures, air, texture and transmitters; what the wall is to be set to.

use crate::atomizing::SUPPLY_OVER_KPA;
use crate::atomizing::classes::{GunClass, ReadAt, air_notes};
use crate::atomizing::texture;
use crate::batch::case::Case;
use crate::batch::entries::SetUp;
use crate::batch::paint::{KnownFrom, Paint};
use crate::delivery::choose::{FINE_MOST_KPA, LOOK_FROM_KPA, smallest_nozzle_mm};
use crate::delivery::{BEND_MM, FluidLine};
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_duration};
use crate::rigs::{Rig, RigKind, disagree};
use crate::verdict::{is_over, is_under};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a pump stands at over a fluid that is regulated under [`FINE_MOST_KPA`]: 30 to 40 psi; common practice in the trade.
const PUMP_STANDS_KPA: (f64, f64) = (206.842_718_795_050_8, 275.790_291_726_734_4);

/// Everything, worst first.
pub(super) fn notes(case: &Case<'_>, known: Option<(FluidLine, Paint)>, prefs: Prefs) -> Vec<String> {
    let Some(last) = case.tries().last().map(|s| &s.it) else { return Vec::new() };
    let mut found = Vec::new();
    if let (Some(read), Some(kpa)) = (last.gauge_pot_kpa, last.pot_kpa) {
        found.extend(disagree(kpa, read, prefs));
    }
    found.extend(air_is_void(case, prefs));
    if let Some(rig) = case.rig() {
        found.extend(air(rig, last, prefs));
        if let (Some(kpa), Some(aim)) = (last.catalyst_kpa.filter(|_| rig.kind == RigKind::GelCoatMachine), case.aim()) {
            let sheet = (aim.sheet.catalyst_air_min_kpa, aim.sheet.catalyst_air_max_kpa);
            found.extend(catalyst(kpa, sheet, rig, prefs));
        }
        found.extend(of_pressure(rig, last.fluid_kpa(), known.as_ref(), prefs));
    }
    if let Some(rig) = case.rig() {
        found.extend(change_over(rig, last, prefs));
    }
    if let (Some((line, paint)), Some(mm)) = (known, last.stream_mm.filter(|mm| *mm > 0.0))
        && paint.from == KnownFrom::Catch
    {
        let speed = line.at(&paint.fluid, last.fluid_kpa()).speed_m_s;
        if speed > 0.0 {
            let bend = show(crate::delivery::calibrate::bend_mm(mm, speed), QuantityKind::Length, prefs).text;
            let usual = show(BEND_MM, QuantityKind::Length, prefs).text;
            found.push(format!(
                "With the flow caught, this gun and this eye call it bent at {bend} of fall (usually {usual}): the next stream is reckoned with that."
            ));
        }
    }
    if let Some(grit) = last.texture_grit_count {
        found.push(texture::judge(grit, last.looked_after_s).into());
    }
    found
}

/// Of the air: the class, the printed limit, the supply, catalyst air, a fixed gun.
fn air(rig: &Rig, last: &SetUp, prefs: Prefs) -> Vec<String> {
    let say = |v: f64| show(v, QuantityKind::Pressure, prefs).text;
    let mut found = Vec::new();
    if let (Some(kpa), Some(read)) = (last.atomizing_kpa, last.air(rig)) {
        found.extend(air_notes(rig.class, read, prefs));
        if let Some(supply) = rig.supply_kpa.filter(|s| *s < kpa + SUPPLY_OVER_KPA) {
            found.push(format!(
                "The supply of {} is hardly over what the regulator gives: the fan will pulse when anything else draws air.",
                say(supply)
            ));
        }
        if rig.fixed_air {
            found.push("This gun's air is fixed: finer is got by less fluid, the needle in by a quarter turn.".into());
        }
    }
    if rig.class == GunClass::ReleaseFilm && last.needle_turns_count.is_some_and(|t| is_over(t, RELEASE_NEEDLE_COUNT)) {
        found.push("The needle of a release film opens half a turn at the most: more runs.".into());
    }
    found
}

/// The needle of a release film: at most half a turn open; common practice in the trade.
const RELEASE_NEEDLE_COUNT: f64 = 0.5;

/// Air that was read before the fan was moved says nothing of the fan as it is.
fn air_is_void(case: &Case<'_>, prefs: Prefs) -> Option<String> {
    let read = case.tries().rev().find(|s| s.it.atomizing_kpa.is_some()).filter(|_| case.air_in_force().is_none())?;
    let kpa = show(read.it.atomizing_kpa?, QuantityKind::Pressure, prefs).text;
    Some(format!(
        "The fan was moved since the air was read: {kpa} is no longer what it is (closing the fan lifts it). Read it again."
    ))
}

/// Of catalyst air: the sheet's band, else that of the ladder's school, with its most on long hoses.
fn catalyst(kpa: f64, sheet: (Option<f64>, Option<f64>), rig: &Rig, prefs: Prefs) -> Option<String> {
    let say = |v: f64| show(v, QuantityKind::Pressure, prefs).text;
    let (lo, hi, long) = rig.ladder.catalyst_air_kpa();
    let (lo, hi) = (sheet.0.unwrap_or(lo), sheet.1.unwrap_or(hi));
    if is_under(kpa, lo) {
        Some(format!("Catalyst air under {}: droplets, dimples, blisters.", say(lo)))
    } else if is_over(kpa, long.max(hi)) {
        Some(format!("Catalyst air over {}: fog, and large pits.", say(long.max(hi))))
    } else if is_over(kpa, hi) {
        Some(format!("Catalyst air over {} is for long hoses only.", say(hi)))
    } else {
        None
    }
}

/// Of the fluid pressure: too much for the nozzle, or for anything.
/// With line and paint known, the nozzle at hand that would do.
pub(super) fn of_pressure(rig: &Rig, pot_kpa: f64, known: Option<&(FluidLine, Paint)>, prefs: Prefs) -> Option<String> {
    // A tip works in hundreds of psi; heavy-bodied material is the declared exception.
    if !rig.kind.is_modelled() || rig.is_heavy_bodied() {
        return None;
    }
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    if is_over(pot_kpa, LOOK_FROM_KPA) {
        return Some(format!(
            "Past {} look for a small nozzle, a thin hose, a leak or a clog before more pressure.",
            say(LOOK_FROM_KPA, QuantityKind::Pressure)
        ));
    }
    if !is_over(pot_kpa, FINE_MOST_KPA) || rig.class.is_high_pressure() {
        return None;
    }
    let fine = say(FINE_MOST_KPA, QuantityKind::Pressure);
    let larger = known.and_then(|(line, paint)| {
        let flow = line.at(&paint.fluid, pot_kpa).flow_ml_min;
        smallest_nozzle_mm(line, &paint.fluid, &rig.spare_mm, flow, FINE_MOST_KPA)
    });
    let take = larger.map_or("Take a larger one.".into(), |mm| {
        format!("{} at hand gives the same at {fine} or less.", say(mm, QuantityKind::Nozzle))
    });
    Some(format!("Over {fine} on a fine-finish gun its nozzle is too small. {take}"))
}

/// Of a pump before its fluid regulator: too near, and each change-over is seen in the fan.
fn change_over(rig: &Rig, last: &SetUp, prefs: Prefs) -> Option<String> {
    let regulated = rig.kind == RigKind::Pump && !is_over(last.fluid_kpa(), FINE_MOST_KPA);
    let stands = last.supply_kpa.or(rig.pump_stands_kpa).filter(|_| regulated)?;
    let (lo, hi) = PUMP_STANDS_KPA;
    if !is_under(stands, lo) {
        return None;
    }
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs);
    Some(format!(
        "The pump stands at {}: its change-over will pulse the fan. {} to {} before the regulator keeps it out.",
        say(stands).text,
        say(lo).figure,
        say(hi).text
    ))
}

/// What the wall is to be set to for the air wanted at the gun.
pub(super) fn wall(case: &Case<'_>, prefs: Prefs) -> Option<String> {
    let rig = case.rig()?;
    let (hose, nl_min) = rig.air()?;
    let wanted = case.air_in_force().and_then(|s| Some((s.atomizing_kpa?, s.air_at)));
    let say = |v: f64| show(v, QuantityKind::Pressure, prefs).text;
    match wanted {
        Some((kpa, Some(ReadAt::Wall))) => Some(match hose.at_gun_kpa(kpa, nl_min) {
            Ok(gun) => format!("{} at the wall leaves {} at the gun: the hose costs {}.", say(kpa), say(gun), say(kpa - gun)),
            Err(r) => r.text,
        }),
        wanted => {
            let kpa = wanted.map(|(kpa, _)| kpa).or(rig.class.air().map(|a| a.start_kpa))?;
            Some(match hose.at_wall_kpa(kpa, nl_min) {
                Ok(wall) => {
                    format!("Set the wall to {} for {} at the gun: the hose costs {}.", say(wall), say(kpa), say(wall - kpa))
                }
                Err(r) => r.text,
            })
        }
    }
}

/// What was set last for a step of the coat.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct StepSetting {
    pub step: String,
    pub word: String,
    pub pot: Option<Shown>,
    pub atomizing: Option<Shown>,
    /// The air the sheet states for it.
    #[serde(default)]
    pub sheet_air: Option<Shown>,
    /// What else the sheet states: passes, then the wait.
    #[serde(default)]
    pub sheet_says: String,
    /// Its air is another than the sheet's.
    #[serde(default)]
    pub other_air: bool,
    /// Its fluid pressure is another than that of the first step: it should be the same.
    pub other_fluid: bool,
}

/// Fluid pressures of two steps this far apart are two pressures; a gauge shows no less. Half a psi; from memory.
const SAME_KPA: f64 = 3.447_378_646_584_18;

/// Airs of one step this far apart are two airs, as a part of the sheet's; from memory.
const SAME_AIR: f64 = 0.1;

/// The settings of each step: those of the sheet in its order, then what else was set. The fluid pressure stays, the air changes.
pub(super) fn steps(case: &Case<'_>, prefs: Prefs) -> Vec<StepSetting> {
    let stated = case.aim().map(|aim| aim.sheet.steps.as_slice()).unwrap_or_default();
    let same = |a: &str, b: &str| a.trim().eq_ignore_ascii_case(b.trim());
    let mut order: Vec<&str> = stated.iter().map(|s| s.name.as_str()).collect();
    for step in case.tries().filter_map(|s| s.it.step.as_deref()) {
        if !order.iter().any(|known| same(known, step)) {
            order.push(step);
        }
    }
    let newest =
        |step: &str| case.tries().rev().find(|s| s.it.step.as_deref().is_some_and(|said| same(said, step))).map(|s| &s.it);
    let first = order.iter().find_map(|s| newest(s)).map(SetUp::fluid_kpa);
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs);
    let one = |step: &str| {
        let (set, sheet) = (newest(step), stated.iter().find(|s| same(&s.name, step)));
        let passes = sheet.and_then(|s| s.passes_count).map(|n| match n {
            1.0 => "1 pass".to_string(),
            n => format!("{} passes", show(n, QuantityKind::Count, prefs).figure),
        });
        let wait = sheet.and_then(|s| s.wait_s).map(|s| format!("then wait {}", show_duration(s)));
        let asked = sheet.and_then(|s| s.atomizing_kpa);
        // Read at the wall or the cap it is not the air of the gun that the sheet means.
        let read = set.filter(|s| !matches!(s.air_at, Some(ReadAt::Wall | ReadAt::Cap))).and_then(|s| s.atomizing_kpa);
        StepSetting {
            step: step.into(),
            word: step.into(),
            pot: set.and_then(|s| s.pot_kpa).map(say),
            atomizing: set.and_then(|s| s.atomizing_kpa).map(say),
            sheet_air: asked.map(say),
            sheet_says: passes.into_iter().chain(wait).collect::<Vec<_>>().join(", "),
            other_air: asked.zip(read).is_some_and(|(asked, read)| is_over((read - asked).abs(), SAME_AIR * asked)),
            other_fluid: first.zip(set).is_some_and(|(kpa, s)| (kpa - s.fluid_kpa()).abs() > SAME_KPA),
        }
    };
    order.into_iter().map(one).collect()
}
