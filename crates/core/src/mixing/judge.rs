//! Confusions named: a percentage read as an amount, volumes weighed as weights, one side counted for two.

use super::{
    Amount, Component, FigureIs, PlannedPour, Said, Weighed, b_per_a, least_read_ml, provable, said, thinner_ml, thinner_state,
    total_g,
};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::sheets::{Basis, Hardener, Sheet, ThinnerBasis};
use crate::verdict::Verdict;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How near an amount must be to a confusion's figure to be called one, as a part of it; from memory.
const LIKE: f64 = 0.025;

/// A kit further off its sheet's ratio than this is named, as a part of it; from memory.
const KIT_NAMED: f64 = 0.01;

/// How far the cans of a kit are off the ratio the sheet states, as a part of it; `None` without a kit or a ratio of its own.
///
/// **Formula:** `(mB/mA)/r − 1`. **Units:** a part. **Source:** arithmetic.
pub fn kit_off(sheet: &Sheet) -> Option<f64> {
    let (kit, h) = sheet.kit().zip(sheet.hardener())?;
    Some(kit.hardener_g / kit.base_g / h.b_per_a - 1.0)
}

/// Something about a mix that wants saying.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Judgement {
    /// Its code.
    pub code: String,
    /// What, why, and what to do instead.
    pub text: String,
    /// Nobody may go on with it.
    pub stop: bool,
}

/// What is judged.
#[derive(Debug, Clone, Copy)]
pub struct MixedPot<'a> {
    /// The sheet.
    pub sheet: &'a Sheet,
    /// The plan of the pot.
    pub plan: &'a [PlannedPour],
    /// What is in.
    pub pours: &'a [Weighed],
    /// How it was asked.
    pub amount: Option<&'a Amount>,
    /// Thinner planned.
    pub thinner_pct: f64,
    /// What the whole coat needs.
    pub need_ml: f64,
    /// What this pot is for.
    pub wanted_ml: f64,
    /// Resolution of the scale in use.
    pub resolution_g: f64,
    /// Read on a cup, not on a scale.
    pub by_cup: bool,
}

fn like(a: f64, b: f64) -> bool {
    b > 0.0 && (a / b - 1.0).abs() <= LIKE
}

/// Units a percentage is mistaken for an amount of: millilitres, fluid ounces, grams, ounces.
/// The factors are those of [`crate::quantity`].
fn amounts(g: f64, density_kg_l: Option<f64>, prefs: Prefs) -> Vec<(f64, QuantityKind, f64)> {
    let unit = |text: &str, kind| crate::quantity::parse(text, kind, prefs).ok();
    let ml = density_kg_l.map(|d| g / d);
    let by = |amount: Option<f64>, text: &str, kind| amount.zip(unit(text, kind)).map(|(a, one)| (a / one, kind, one));
    [
        by(ml, "1 fl oz", QuantityKind::Volume),
        by(ml, "1 mL", QuantityKind::Volume),
        by(Some(g), "1 oz", QuantityKind::Mass),
        by(Some(g), "1 g", QuantityKind::Mass),
    ]
    .into_iter()
    .flatten()
    .collect()
}

/// Everything worth saying of a mix, worst first.
///
/// **Rules:** the confusions of the trade, each told by the figure it makes: a percentage poured as so many units, volumes
/// weighed as weights, thinner of another base, one side or coat counted; catalyst outside its band is a stop.
/// **Units:** g, mL, per cent. **Errors:** none; what the sheet does not state is not judged. **Source:** common practice
/// in the trade; how near counts as alike, from memory.
/// **Example:** 10 % by volume on 40 US fl oz of base is 4 fl oz; with 10 fl oz in, the text says that this is 25 %, not
/// 10 %, and that 4 fl oz was meant (`tests/mix.rs`).
pub fn judgements(m: &MixedPot<'_>, prefs: Prefs) -> Vec<Judgement> {
    let mut found = Vec::new();
    ratio(m, prefs, &mut found);
    thinner(m, prefs, &mut found);
    sizes(m, prefs, &mut found);
    found.sort_by_key(|j| !j.stop);
    found
}

fn ratio(m: &MixedPot<'_>, prefs: Prefs, found: &mut Vec<Judgement>) {
    let (Some(hardener), Some(basis)) = (m.sheet.hardener(), m.sheet.basis) else { return };
    found.extend(order(m));
    found.extend(cans(m.sheet, prefs));
    found.extend(scale_before(m, prefs));
    let Some(now) = b_per_a(m.pours).and_then(|r| said(m.sheet, r)) else { return };
    let poured = Poured {
        sheet: m.sheet,
        hardener: &hardener,
        basis,
        now,
        verdict: now.tolerance.judge(now.measured),
        a_g: total_g(m.pours, Component::Base),
        b_g: total_g(m.pours, Component::Hardener),
        prefs,
    };
    found.extend(poured.percent_as_amount());
    found.extend(poured.volume_as_weight());
    found.extend(poured.outside_band());
    found.extend(poured.cannot_tell(m));
}

fn judged(code: &str, text: impl Into<String>) -> Judgement {
    Judgement { code: code.into(), text: text.into(), stop: false }
}

/// Hardener before base, where the plan has them the other way round.
fn order(m: &MixedPot<'_>) -> Option<Judgement> {
    let place = |c: Component| m.plan.iter().position(|p| p.component == c);
    let first = |c: Component| m.pours.iter().position(|p| p.component == c);
    let (a_in, b_in) = (first(Component::Base), first(Component::Hardener));
    let turned = b_in.is_some_and(|b| a_in.is_none_or(|a| b < a)) && place(Component::Base) < place(Component::Hardener);
    turned.then(|| {
        judged(
            "wrong-order",
            "Hardener went in before base. The ratio stays what it is: pour the base onto it, scrape the floor of the cup, stir longer.",
        )
    })
}

/// Cans of a kit that are filled off the ratio of the sheet.
fn cans(sheet: &Sheet, prefs: Prefs) -> Option<Judgement> {
    let off = kit_off(sheet).filter(|off| off.abs() >= KIT_NAMED)?;
    let off = show(100.0 * off, QuantityKind::Percent, prefs).text;
    Some(judged(
        "kit-off-ratio",
        format!(
            "The cans of the kit are {off} off the ratio of the sheet: mixed whole it is what the maker filled, part of it goes by weight."
        ),
    ))
}

/// Whether this scale can prove what is planned, said before hardener is in.
fn scale_before(m: &MixedPot<'_>, prefs: Prefs) -> Option<Judgement> {
    if m.by_cup || m.sheet.by_volume_alone() || m.plan.is_empty() || m.pours.iter().any(|p| p.component == Component::Hardener) {
        return None;
    }
    let say = |g: f64| show(g, QuantityKind::Mass, prefs).text;
    let planned = |c: Component| m.plan.iter().find(|p| p.component == c).map_or(0.0, |p| p.mass_g);
    let step = |g: f64| (g / m.resolution_g).round() * m.resolution_g;
    let (base_g, hardener_g) = (step(planned(Component::Base)), step(planned(Component::Hardener)));
    let can = |tared| provable::proves(m.sheet, provable::Pair { base_g, hardener_g, tared }, m.resolution_g);
    let d = say(m.resolution_g);
    if can(false) {
        return None;
    }
    if can(true) {
        let text = format!("On a {d} scale this ratio is proved only when the scale is tared before the hardener.");
        return Some(judged("tare-before-hardener", text));
    }
    let least = provable::least(m.sheet, m.resolution_g).map_or(String::new(), |p| {
        let how = if p.tared { ", tared between" } else { "" };
        format!(" The least it can: {} base with {} hardener{how}.", say(p.base_g), say(p.hardener_g))
    });
    let text = format!("A {d} scale cannot prove so small a pot.{least} Or take a finer scale.");
    Some(judged("scale-too-coarse", text))
}

/// Base and hardener that are in, and what their ratio says.
struct Poured<'a> {
    sheet: &'a Sheet,
    hardener: &'a Hardener,
    basis: Basis,
    now: Said,
    verdict: Verdict,
    a_g: f64,
    b_g: f64,
    prefs: Prefs,
}

impl Poured<'_> {
    fn say(&self, v: f64, kind: QuantityKind) -> String {
        show(v, kind, self.prefs).text
    }

    /// A percentage that was poured as if it were an amount: 2 fl oz for 2 %.
    fn percent_as_amount(&self) -> Option<Judgement> {
        if !self.verdict.is_out() || !matches!(self.basis, Basis::PercentByWeight | Basis::PercentByVolume) {
            return None;
        }
        let by_volume = self.basis == Basis::PercentByVolume;
        let density = by_volume.then_some(self.hardener.density_kg_l);
        let dense = if by_volume { self.sheet.base_kg_l() / self.hardener.density_kg_l } else { 1.0 };
        let target = 100.0 * self.hardener.b_per_a * dense;
        let (_, kind, _) = amounts(self.b_g, density, self.prefs)
            .into_iter()
            .find(|(amount, kind, _)| like(*amount, target) && (density.is_some() == (*kind == QuantityKind::Volume)))?;
        let base = if kind == QuantityKind::Volume { self.a_g / self.sheet.base_kg_l() } else { self.a_g };
        Some(judged(
            "percent-as-amount",
            format!(
                "This is {}, not {}; {} was meant. A percentage is of the base, not an amount.",
                self.say(self.now.measured.value, QuantityKind::Percent),
                self.say(target, QuantityKind::Percent),
                self.say(base * target / 100.0, kind)
            ),
        ))
    }

    /// A ratio by volume that was weighed as if it were by weight.
    fn volume_as_weight(&self) -> Option<Judgement> {
        if !self.verdict.is_out() || self.basis != Basis::ByVolume || self.hardener.density_kg_l <= 0.0 {
            return None;
        }
        let by_volume = self.hardener.b_per_a * self.sheet.base_kg_l() / self.hardener.density_kg_l;
        like(self.b_g / self.a_g, by_volume).then(|| {
            judged(
                "volume-as-weight",
                format!(
                    "{} by volume was weighed as if by weight. By weight it is {} hardener to {} base.",
                    self.say(1.0 / by_volume, QuantityKind::Ratio),
                    self.say(self.a_g * self.hardener.b_per_a, QuantityKind::Mass),
                    self.say(self.a_g, QuantityKind::Mass)
                ),
            )
        })
    }

    /// Catalyst outside its band: a stop.
    fn outside_band(&self) -> Option<Judgement> {
        if !self.hardener.is_stop(self.verdict) {
            return None;
        }
        let tolerance = self.now.tolerance;
        let (lo, hi) = (tolerance.lo.unwrap_or(0.0), tolerance.hi.unwrap_or(100.0));
        let effect = if self.verdict == Verdict::Low { "it may never cure through" } else { "it cures brittle and hot" };
        let text = format!(
            "Catalyst {} is outside {} to {}: {effect}. Catalyst is no control of gel time: take material of another gel time, or change the temperature.",
            self.say(self.now.measured.value, QuantityKind::Percent),
            self.say(lo, QuantityKind::Percent),
            self.say(hi, QuantityKind::Percent)
        );
        Some(Judgement { stop: true, ..judged("catalyst-outside-band", text) })
    }

    /// The scale cannot tell, and what could.
    fn cannot_tell(&self, m: &MixedPot<'_>) -> Option<Judgement> {
        if self.verdict != Verdict::CannotTell {
            return None;
        }
        if m.by_cup {
            let least = least_read_ml(self.sheet, m.pours).map_or(String::new(), |ml| {
                let ml = self.say(ml, QuantityKind::Volume);
                format!(" It would from {ml} of base and hardener on.")
            });
            let weigh = if self.sheet.by_volume_alone() { "" } else { ", or weigh it" };
            let text = format!("This cup cannot tell whether the ratio is in.{least} Mix more at once, take a finer cup{weigh}.");
            return Some(judged("cup-too-coarse", text));
        }
        let tared = m.pours.iter().skip(1).any(|p| p.tared);
        let near = provable::nearest(self.sheet, self.a_g, m.resolution_g, tared);
        let apart = (!tared).then(|| provable::nearest(self.sheet, self.a_g, m.resolution_g, true)).flatten();
        let pair = |p: provable::Pair| {
            format!(
                "{} base with {} hardener",
                self.say(p.base_g, QuantityKind::Mass),
                self.say(p.hardener_g, QuantityKind::Mass)
            )
        };
        let mut ways: Vec<String> = Vec::new();
        if let Some(p) = apart.filter(|p| near.is_none_or(|n| p.base_g + p.hardener_g < n.base_g + n.hardener_g)) {
            ways.push(format!("tare before the hardener: {}", pair(p)));
        }
        ways.extend(near.map(pair));
        ways.push("a finer scale".into());
        let text = format!("This scale cannot tell whether the ratio is in. What would: {}.", ways.join("; "));
        Some(judged("scale-too-coarse", text))
    }
}

fn thinner(m: &MixedPot<'_>, prefs: Prefs, found: &mut Vec<Judgement>) {
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    let mut add = |code: &str, text: String| found.push(Judgement { code: code.into(), text, stop: false });
    let Some(stand) = thinner_state(m.sheet, m.pours) else { return };
    let (Some(basis), Some(density), Some(most)) =
        (m.sheet.thinner_basis, m.sheet.density_kg_l(Component::Thinner), stand.allowed_ml)
    else {
        let text =
            format!("{} of thinner is in; the sheet allows none.", say(stand.poured_g, m.sheet.said_in(Component::Thinner)));
        return add("thinner-not-allowed", text);
    };
    let volume = |c: Component| m.sheet.density_kg_l(c).map_or(0.0, |d| total_g(m.pours, c) / d);
    let (a, b, poured) = (volume(Component::Base), volume(Component::Hardener), stand.poured_ml);
    if a <= 0.0 {
        return;
    }
    let planned = thinner_ml(a, b, m.thinner_pct, basis);
    if stand.over {
        add(
            "thinner-over-limit",
            format!(
                "{} thinner is in; the sheet allows {}. More base and hardener bring it back.",
                say(poured, QuantityKind::Volume),
                say(most, QuantityKind::Volume)
            ),
        );
    }
    let others = [ThinnerBasis::OfBase, ThinnerBasis::OfMixed, ThinnerBasis::OfFinished].into_iter().filter(|o| *o != basis);
    for other in others {
        let theirs = thinner_ml(a, b, m.thinner_pct, other);
        if like(poured, theirs) && !like(poured, planned) {
            add(
                "thinner-of-what",
                format!(
                    "{} is {} {}; the sheet means {}: {}.",
                    say(poured, QuantityKind::Volume),
                    say(m.thinner_pct, QuantityKind::Percent),
                    other.word(),
                    basis.word(),
                    say(planned, QuantityKind::Volume)
                ),
            );
            break;
        }
    }
    let as_amount =
        amounts(poured * density, Some(density), prefs).into_iter().find(|(amount, _, _)| like(*amount, m.thinner_pct));
    if let Some((_, kind, _)) = as_amount.filter(|_| !like(poured, planned)) {
        let right = if kind == QuantityKind::Volume { planned } else { planned * density };
        add(
            "percent-as-amount",
            format!(
                "{} of thinner reads like the {} taken as an amount; {} was meant.",
                say(if kind == QuantityKind::Volume { poured } else { poured * density }, kind),
                say(m.thinner_pct, QuantityKind::Percent),
                say(right, kind)
            ),
        );
    }
}

fn sizes(m: &MixedPot<'_>, prefs: Prefs, found: &mut Vec<Judgement>) {
    let (sheet, say) = (m.sheet, |v: f64, k: QuantityKind| show(v, k, prefs).text);
    let mut add = |code: &str, text: String| found.push(Judgement { code: code.into(), text, stop: false });
    if let Some(Amount::Pieces { figure_is, side_count, coat_count, .. }) = m.amount {
        for (times, word) in [(2.0, "half"), (3.0, "a third")] {
            if like(m.wanted_ml * times, m.need_ml) {
                let need = say(m.need_ml, QuantityKind::Volume);
                add(
                    "one-side-or-coat",
                    format!("This is {word} of what area and film need ({need}): were all sides and coats counted?"),
                );
            }
        }
        // Base out of its can and finished paint differ by what goes to it: taken for one another, that shows.
        let base: f64 = m.plan.iter().filter(|p| p.component == Component::Base).map(|p| p.volume_ml).sum();
        let (of, other) = match figure_is {
            FigureIs::Base => (m.wanted_ml * m.wanted_ml / base.max(f64::MIN_POSITIVE), "of finished paint"),
            FigureIs::Finished => (base, "of base"),
        };
        if like(of, m.need_ml) && !like(m.wanted_ml, m.need_ml) {
            add("base-or-finished", format!("The figure would agree with area and film if it were {other}: which was counted?"));
        }
        if *side_count < 2.0 && *coat_count < 2.0 && *side_count * *coat_count < 1.0 {
            add("part-of-a-side", "Less than one side in one coat is counted.".into());
        }
    }
    let planned: f64 = m.plan.iter().map(|p| p.mass_g).sum();
    if let Some(g) = sheet.pot_life_mass_g.filter(|g| planned > *g && !sheet.by_volume_alone()) {
        add(
            "heavier-than-sheet",
            format!(
                "{} is more than the {} the sheet's pot life was measured on: it will heat, and live shorter. Split it, or read the pot's own temperature.",
                say(planned, QuantityKind::Mass),
                say(g, QuantityKind::Mass)
            ),
        );
    }
    for p in m.plan.iter().filter(|p| p.volume_ml <= 0.0 && p.mass_g > 0.0) {
        add(
            "density-missing",
            format!(
                "The sheet states no density of {}: it is left out of volumes, solids and cup marks.",
                sheet.component_name(p.component)
            ),
        );
    }
}
