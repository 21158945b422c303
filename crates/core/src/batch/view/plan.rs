//! The plan of the pots: how much, in how many, each with its mix-by time; what the stores are short of.

use crate::batch::case::Case;
use crate::batch::entries::PlanMix;
use crate::coat_system::Method;
use crate::mixing::{self, Component, Learned, PotLimits};
use crate::pot_life::after;
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_duration};
use crate::refusal::Refusal;
use crate::sheets::{ChargeKind, Sheet};
use crate::verdict::{Measured, is_over};
use crate::worded::Worded;
use crate::working::Working;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Stirring, straining, pouring in, when a plan does not say; from memory.
const HANDLING_S: f64 = 300.0;

/// One way to mix, asked beside another.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WayToMix {
    /// The plan.
    pub plan: PlanMix,
    /// Temperature of the material, where it is not as read last.
    #[serde(default)]
    pub temp_c: Option<f64>,
}

/// A pot of the plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PlannedPotView {
    pub amount: Shown,
    pub ml: f64,
    /// Hardener goes in by then, in words counted from the first spraying.
    pub mix_by: String,
    /// The instant, once spraying has begun.
    pub mix_at: Option<Timestamp>,
    /// For the picture, 0 to 1 of the whole time: mixed, sprayed from, empty, last call.
    pub mixed_x: f64,
    pub from_x: f64,
    pub to_x: f64,
    pub last_call_x: Option<f64>,
}

/// What goes into each pot of the plan; its pots are alike.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PotPourView {
    pub name: String,
    pub mass: Shown,
    /// Missing: an additive whose density the sheet does not state.
    pub volume: Option<Shown>,
    /// What one tared vessel on the scale shows when it is in.
    pub to_reading: Shown,
}

/// The plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct PlanView {
    /// The sheet allows thinner.
    pub may_thin: bool,
    /// As entered; missing: not planned yet.
    pub entered: Option<PlanMix>,
    /// Each entered quantity as a text to edit, by field.
    pub texts: std::collections::BTreeMap<String, String>,
    pub need: Shown,
    /// The wet film it is reckoned with, and what it dries to where that was asked.
    pub film: String,
    /// The interval of the need, when the area has one.
    pub span: Option<String>,
    pub working: Option<Working>,
    pub takeoff: Option<Working>,
    pub pots: Vec<PlannedPotView>,
    /// In the order poured.
    pub each_pot: Vec<PotPourView>,
    /// Why they are no larger.
    pub because: Option<String>,
    /// Life reckoned with, and at which temperature.
    pub life: Option<String>,
    /// Why there is no plan.
    pub refused: Option<String>,
    /// What such coats really took.
    pub learned: Option<String>,
    /// Short of stock, lots mixed.
    pub stock: Vec<String>,
}

/// One way of doing it, beside another.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct WhatIf {
    pub need: Shown,
    pub thinner: Option<Shown>,
    pub wet: Shown,
    pub solids: Shown,
    pub life: Option<String>,
    pub induction: Option<String>,
    pub pots: Vec<PlannedPotView>,
    pub because: String,
    pub sprayed_in: String,
}

/// A last call is drawn as far as this part of the whole work beyond its end.
const LAST_CALL_SHOWN: f64 = 0.35;

struct Split {
    need: Measured,
    working: Working,
    pots: Vec<mixing::PlannedPot>,
    because: mixing::Because,
    life_s: Option<f64>,
    induction_s: f64,
}

/// The temperature pots are planned at: the material's last reading, else the sheet's own.
fn temp_c(case: &Case<'_>) -> f64 {
    let at = case.aim().and_then(|b| b.sheet.pot_life_at_c).unwrap_or(20.0);
    case.conditions.iter().max_by_key(|c| (c.at, c.seq)).map_or(at, |c| c.it.material_c)
}

fn split(case: &Case<'_>, plan: &PlanMix, temp_c: f64, learned: Option<Learned>, prefs: Prefs) -> Result<Split, Refusal> {
    let aim = case.aim().ok_or_else(|| Refusal::conflict("not-begun", "This batch is not begun."))?;
    let (need, working) = case.need_by(plan, learned, prefs)?;
    let thinner = plan.thinner_pct.unwrap_or(aim.thinner_pct);
    let shares = mixing::shares(&aim.sheet, thinner);
    let density_kg_l = shares.iter().map(|s| s.mass_g).sum::<f64>() / shares.iter().map(|s| s.volume).sum::<f64>();
    let life_s = aim.sheet.life_curve().filter(|_| aim.sheet.has_hardener).map(|c| c.life_s(temp_c));
    let induction_s = aim.sheet.induction_curve().map_or(0.0, |c| c.induction_s(temp_c));
    let by = PotLimits {
        rate_ml_min: plan.rate_ml_min,
        life_s,
        induction_s,
        fill_ml: plan.fill_ml,
        life_mass_g: aim.sheet.pot_life_mass_g.filter(|_| !aim.sheet.by_volume_alone()),
        density_kg_l,
        handling_s: plan.handling_s.unwrap_or(HANDLING_S),
    };
    // What cannot be reached in the hose and the pot is mixed with the rest; a pot is planned on the middle of the need.
    let (pots, because) = mixing::split(need.value, &by, prefs)?;
    Ok(Split { need, working, pots, because, life_s, induction_s })
}

fn drawn(case: &Case<'_>, pots: &[mixing::PlannedPot], prefs: Prefs) -> Vec<PlannedPotView> {
    let (began, first) = (began(case), pots.first().map_or(0.0, |p| p.mix_by_s));
    let starts = if case.aim().and_then(|aim| aim.method).is_none_or(Method::sprays) { "the gun" } else { "the work" };
    let last = pots.iter().map(|p| p.to_s).fold(first + 1.0, f64::max);
    // A last call far off says nothing in the picture; it would only make the work small.
    let end = last + LAST_CALL_SHOWN * (last - first);
    let x = |s: f64| ((s - first) / (end - first)).clamp(0.0, 1.0);
    pots.iter()
        .map(|p| PlannedPotView {
            amount: show(p.ml, QuantityKind::Volume, prefs),
            ml: p.ml,
            mix_by: match p.mix_by_s {
                s if s < 0.0 => format!("{} before {starts} starts", show_duration(-s)),
                s if s < 30.0 => format!("as {starts} starts"),
                s => format!("{} after {starts} starts", show_duration(s)),
            },
            mix_at: began.map(|b| after(b, p.mix_by_s)),
            mixed_x: x(p.mix_by_s),
            from_x: x(p.from_s),
            to_x: x(p.to_s),
            last_call_x: p.last_call_s.filter(|s| *s <= end).map(x),
        })
        .collect()
}

/// What goes into a pot of so much, by the pouring plan. Nothing where the components meet in the gun.
///
/// **Errors:** what the pouring plan refuses, as thinner over the most.
fn each_pot(sheet: &Sheet, ml: f64, thinner_pct: f64, prefs: Prefs) -> Result<Vec<PotPourView>, Refusal> {
    if sheet.charge != ChargeKind::Pot {
        return Ok(Vec::new());
    }
    let pours = mixing::plan(sheet, ml, thinner_pct, prefs)?;
    let amount = |c, g| show(g, sheet.said_in(c), prefs);
    Ok(pours
        .into_iter()
        .map(|p| PotPourView {
            name: sheet.component_name(p.component),
            mass: amount(p.component, p.mass_g),
            volume: (p.volume_ml > 0.0).then(|| show(p.volume_ml, QuantityKind::Volume, prefs)),
            to_reading: amount(p.component, p.running_g),
        })
        .collect())
}

/// When the gun first started on this coat.
fn began(case: &Case<'_>) -> Option<Timestamp> {
    case.charges.iter().filter_map(|c| c.started).min()
}

/// The plan as it stands.
pub(super) fn plan(case: &Case<'_>, prefs: Prefs) -> Option<PlanView> {
    let aim = case.aim()?;
    let entered = case.plan_mix.as_ref().map(|p| p.it.clone());
    let learned = case.beside.learned;
    let by = entered.clone().unwrap_or(PlanMix {
        more: mixing::Allowances::default(),
        rate_ml_min: 0.0,
        in_an_hour_m2: None,
        fill_ml: None,
        handling_s: None,
        thinner_pct: None,
    });
    let result = entered.as_ref().map(|p| split(case, p, temp_c(case), learned, prefs));
    let (need, working) =
        case.need_by(&by, learned, prefs).map_or((mixing_need(case), None), |(need, working)| (need, Some(working)));
    let say = |v, k| show(v, k, prefs);
    let mut view = PlanView {
        may_thin: aim.sheet.thinner_max_pct.is_some(),
        texts: texts(case, &by, prefs),
        entered,
        need: say(need.value, QuantityKind::Volume),
        film: film_words(case, prefs),
        span: (need.hi - need.lo > need.value * 0.002)
            .then(|| format!("{} to {}", say(need.lo, QuantityKind::Volume).text, say(need.hi, QuantityKind::Volume).text)),
        working,
        takeoff: crate::takeoff::area(&aim.takeoff, prefs).ok().map(|(_, w)| w),
        pots: Vec::new(),
        each_pot: Vec::new(),
        because: None,
        life: None,
        refused: None,
        learned: learned.map(|l| l.words()),
        stock: stock(case, need.value, prefs),
    };
    match result {
        Some(Ok(s)) => {
            view.life = s
                .life_s
                .map(|l| format!("{} of life at {}", show_duration(l), say(temp_c(case), QuantityKind::Temperature).text));
            view.pots = drawn(case, &s.pots, prefs);
            let thinner = view.entered.as_ref().and_then(|p| p.thinner_pct).unwrap_or(aim.thinner_pct);
            match s.pots.first().map_or_else(|| Ok(Vec::new()), |p| each_pot(&aim.sheet, p.ml, thinner, prefs)) {
                Ok(pours) => view.each_pot = pours,
                Err(r) => view.refused = Some(r.text),
            }
            view.because = Some(s.because.word().into());
            view.working = Some(s.working);
        }
        Some(Err(r)) => view.refused = Some(r.text),
        None => {}
    }
    Some(view)
}

/// The wet film aimed at in words; where a dry one was asked, that too, and when it is more than one coat may be.
fn film_words(case: &Case<'_>, prefs: Prefs) -> String {
    let Some(aim) = case.aim() else { return String::new() };
    let say = |um| show(um, QuantityKind::Film, prefs).text;
    let wet_um = case.wet_aim_um();
    let dries = aim.dry_um.map_or(String::new(), |dry| format!(", dries to {}", say(dry)));
    let over = if is_over(wet_um, aim.sheet.wet_max_um) {
        format!("; over the sheet's {} for one coat: do it in two", say(aim.sheet.wet_max_um))
    } else {
        String::new()
    };
    let most = aim.sheet.area_max_m2_l;
    let most = most.map_or(String::new(), |m2_l| format!("; at most {}", show(m2_l, QuantityKind::AreaPerVolume, prefs).text));
    format!("{} wet{dries}{over}{most}", say(wet_um))
}

fn mixing_need(case: &Case<'_>) -> Measured {
    Measured::pm(case.need_ml(), 0.0)
}

/// Each figure as it was typed, where it was; else shown. What is edited again must not be rounded by the showing.
fn texts(case: &Case<'_>, by: &PlanMix, prefs: Prefs) -> std::collections::BTreeMap<String, String> {
    let entry = case.plan_mix.as_ref().and_then(|p| case.log.iter().rev().find(|l| l.entry == p.entry));
    let typed = |field: &str| {
        let all = entry?.payload.get("typed")?;
        let text = all.get(field).or_else(|| all.get(format!("more.{field}")))?;
        text.as_str().map(String::from)
    };
    let fields = [
        ("rate_ml_min", (by.rate_ml_min > 0.0 && by.in_an_hour_m2.is_none()).then_some(by.rate_ml_min), QuantityKind::Flow),
        ("in_an_hour_m2", by.in_an_hour_m2, QuantityKind::Area),
        ("fill_ml", by.fill_ml, QuantityKind::Volume),
        ("handling_s", by.handling_s, QuantityKind::Time),
        ("thinner_pct", by.thinner_pct, QuantityKind::Percent),
        ("hose_bore_mm", by.more.hose_bore_mm, QuantityKind::Bore),
        ("hose_length_mm", by.more.hose_length_mm, QuantityKind::Length),
        ("heel_ml", by.more.heel_ml, QuantityKind::Volume),
        ("profile_um", by.more.profile_um, QuantityKind::Film),
        ("extra_pct", by.more.extra_pct, QuantityKind::Percent),
    ];
    fields
        .into_iter()
        .map(|(f, v, k)| (f.into(), v.map_or(String::new(), |v| typed(f).unwrap_or_else(|| show(v, k, prefs).text))))
        .collect()
}

/// What the lots in use cannot give, said before mixing.
fn stock(case: &Case<'_>, need_ml: f64, prefs: Prefs) -> Vec<String> {
    let Some(aim) = case.aim().filter(|aim| !aim.sheet.by_volume_alone()) else { return Vec::new() };
    let mixed: f64 = case.charges.iter().filter(|c| c.born.is_none()).map(|c| c.mixed_ml(&aim.sheet)).sum();
    let to_mix = need_ml - mixed;
    if to_mix <= 0.0 {
        return Vec::new();
    }
    let shares = mixing::shares(&aim.sheet, case.thinner_pct());
    let finished: f64 = shares.iter().map(|s| s.volume).sum();
    let in_use = case.lots_at(Timestamp::MAX);
    let say = |g| show(g, QuantityKind::Mass, prefs).text;
    let mut found = Vec::new();
    for share in shares {
        let needs = share.mass_g / finished * to_mix;
        let Some(lot) = in_use.iter().rev().find(|l| l.component == share.component) else { continue };
        let Some(left) = case.beside.lots.get(&lot.lot.id).and_then(|s| s.left_g) else { continue };
        if left < needs {
            let name = aim.sheet.component_name(share.component);
            let second = if matches!(share.component, Component::Base | Component::Hardener) {
                " A second lot on one part holds: ask a lead before mixing, or do fewer parts."
            } else {
                ""
            };
            found.push(format!(
                "Lot {} holds {} of {name}, the rest of the coat needs {}: {} short.{second}",
                lot.lot.code,
                say(left),
                say(needs),
                say(needs - left)
            ));
        }
    }
    found
}

/// The coat done another way: thinner, temperature, vessel, rate.
///
/// **Errors:** a refusal naming the field.
pub fn what_if(case: &Case<'_>, way: &WayToMix, prefs: Prefs) -> Result<WhatIf, Refusal> {
    let WayToMix { plan, temp_c: at_c } = way;
    let (plan, at_c) = (&plan.clone().with_rate(case, prefs)?, *at_c);
    let aim = case.aim().ok_or_else(|| Refusal::conflict("not-begun", "This batch is not begun."))?;
    let temp = crate::limits::TEMPERATURE.check("temp_c", at_c.unwrap_or_else(|| temp_c(case)), prefs)?;
    let thinner = plan.thinner_pct.unwrap_or(aim.thinner_pct);
    mixing::check_thinner(&aim.sheet, thinner, prefs)?;
    let s = split(case, plan, temp, case.beside.learned, prefs)?;
    let say = |v, k| show(v, k, prefs);
    let shares = mixing::shares(&aim.sheet, thinner);
    let finished: f64 = shares.iter().map(|x| x.volume).sum();
    let solids_pct = mixing::finished_solids_pct(&aim.sheet, thinner);
    let thin = shares.iter().find(|x| x.component == Component::Thinner).map(|x| x.volume / finished * s.need.value);
    Ok(WhatIf {
        need: say(s.need.value, QuantityKind::Volume),
        thinner: thin.map(|ml| say(ml, QuantityKind::Volume)),
        wet: say(case.wet_um(solids_pct), QuantityKind::Film),
        solids: say(solids_pct, QuantityKind::Percent),
        life: s.life_s.map(show_duration),
        induction: (s.induction_s > 0.0).then(|| show_duration(s.induction_s)),
        pots: drawn(case, &s.pots, prefs),
        because: s.because.word().into(),
        sprayed_in: show_duration(s.need.value / plan.rate_ml_min * 60.0),
    })
}
