//! A sheet at work while it is typed: what its figures come to, which of them contradict each other, what is still missing.
//! Nothing here needs the sheet to be whole.

use crate::component::Component;
use crate::film::dry_of_wet_um;
use crate::mixing::{shares, thinned_solids_pct, thinner_ml};
use crate::quantity::{Prefs, QuantityKind, Shown, UnitSet, show, show_duration};
use crate::sheets::times::{CurveView, drawn};
use crate::sheets::{Basis, ChargeKind, Sheet, ThinnerBasis, propose_label};
use crate::verdict::{is_over, is_under};
use crate::wire::read;
use serde::Serialize;
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

/// A layer of the cup.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CupLayer {
    /// Which component.
    pub component: Component,
    /// Its letter or word.
    pub name: String,
    /// Where it ends, from the bottom (0) to the rim of what is in (1).
    pub to: f64,
    /// How much of it.
    pub amount: Shown,
}

/// A litre or a kilogram of the product, in layers.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CupAtWork {
    /// How much all of it is.
    pub title: String,
    /// From the bottom.
    pub layers: Vec<CupLayer>,
}

/// The film, from wet to dry.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FilmAtWork {
    /// Dry film as a part of the wet.
    pub dry_part: f64,
    /// The wet film.
    pub wet: Shown,
    /// What it dries to.
    pub dry: Shown,
    /// The sum in words.
    pub text: String,
}

/// Two figures that cannot both be right.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Contradiction {
    /// The field it is said at.
    pub field: &'static str,
    /// The other.
    pub other: &'static str,
    /// What is wrong with the two.
    pub text: String,
}

/// What a sheet comes to as far as it is typed.
#[derive(Debug, Clone, Default, PartialEq, Serialize, ToSchema)]
pub struct AtWork {
    /// A cup of it.
    pub cup: Option<CupAtWork>,
    /// Its clocks over temperature.
    pub clocks: Vec<CurveView>,
    /// Its film.
    pub film: Option<FilmAtWork>,
    /// Figures that contradict each other.
    pub contradictions: Vec<Contradiction>,
    /// Fields without which it cannot be kept.
    pub missing: Vec<&'static str>,
}

/// What stands in the form so far.
struct Typed<'a>(&'a Map<String, Value>);

impl Typed<'_> {
    fn figure(&self, field: &str) -> Option<f64> {
        self.0.get(field).and_then(Value::as_f64)
    }

    fn word<T: serde::de::DeserializeOwned>(&self, field: &str) -> Option<T> {
        self.0.get(field).cloned().and_then(|v| serde_json::from_value(v).ok())
    }

    fn has_hardener(&self) -> bool {
        self.0.get("has_hardener") == Some(&Value::Bool(true))
    }

    fn in_a_pot(&self) -> bool {
        self.word("charge") != Some(ChargeKind::AtGun)
    }

    /// A kit that is sold by volume.
    fn kit_by_volume(&self) -> bool {
        self.figure("kit_base_ml").or(self.figure("kit_hardener_ml")).is_some()
    }

    /// Whether the mix cannot be measured without a weight: by weight, a kit by weight, or caught at the gun. While nothing is said
    /// of the ratio, nothing is asked of the densities.
    fn wants_densities(&self) -> bool {
        let by_weight = match self.word("basis") {
            Some(Basis::ByWeight | Basis::PercentByWeight) => true,
            Some(Basis::ByKit) => !self.kit_by_volume(),
            Some(Basis::ByVolume | Basis::PercentByVolume) | None => false,
        };
        !self.in_a_pot() || (self.has_hardener() && by_weight)
    }

    /// What proportions A and B, given.
    fn proportion(&self) -> Option<Basis> {
        let basis: Basis = self.word("basis")?;
        let given = match basis {
            Basis::ByVolume | Basis::ByWeight => self.figure("ratio"),
            Basis::PercentByWeight | Basis::PercentByVolume => self.figure("hardener_pct"),
            Basis::ByKit => self
                .figure("kit_base_g")
                .and(self.figure("kit_hardener_g"))
                .or(self.figure("kit_base_ml").and(self.figure("kit_hardener_ml"))),
        };
        given.filter(|v| *v > 0.0).map(|_| basis)
    }

    /// A whole sheet of what is typed, for sums that ask nothing of the rest: a stand-in is water, 10 to 35 °C.
    fn sheet(&self) -> Option<Sheet> {
        let mut whole = json!({ "name": "typed", "label": "typed", "charge": "pot", "base_density_kg_l": 1.0, "solids_pct": 100.0,
            "has_hardener": false, "hardener_density_kg_l": 1.0, "wet_um": 100.0, "wet_min_um": 100.0, "wet_max_um": 100.0,
            "temp_min_c": 10.0, "temp_max_c": 35.0, "stream": "industrial" });
        let map = whole.as_object_mut()?;
        for (field, value) in self.0 {
            let known =
                QuantityKind::of_field(field).is_none() || value.as_f64().is_some_and(|v| v > 0.0 || field.ends_with("_c"));
            let listed = matches!(field.as_str(), "name" | "label" | "additives" | "steps" | "times" | "hazards");
            if known && !listed && !value.is_null() && value != "" {
                map.insert(field.clone(), value.clone());
            }
        }
        let times = self.0.get("times").and_then(Value::as_array).into_iter().flatten();
        let numbers = |t: &&Value| t["at_c"].is_number() && t.as_object().is_some_and(|t| t.values().all(|v| !v.is_string()));
        // A life is stated at a temperature, and one can has none.
        if !self.has_hardener() || self.figure("pot_life_at_c").is_none() {
            for clock in ["pot_life_s", "induction_s"] {
                map.remove(clock);
            }
        }
        map.insert("times".into(), times.filter(numbers).cloned().collect());
        if map["temp_min_c"].as_f64() >= map["temp_max_c"].as_f64() {
            (map["temp_min_c"], map["temp_max_c"]) = (10.0.into(), 35.0.into());
        }
        read(whole).ok()
    }
}

/// What a typed sheet comes to; `value` after its texts were read, those that could not be left as they are.
///
/// **Formula:** the cup by [`shares`], the film by [`dry_of_wet_um`], the clocks by the rules that run the pots. **Units:** of the
/// reader. **Source:** arithmetic; each clock names its own.
pub fn at_work(value: &Value, prefs: Prefs) -> AtWork {
    let Some(map) = value.as_object() else { return AtWork::default() };
    let typed = Typed(map);
    let sheet = typed.sheet();
    AtWork {
        cup: sheet.as_ref().and_then(|s| cup(&typed, s, prefs)),
        clocks: sheet.as_ref().map(|s| drawn(s, prefs)).unwrap_or_default(),
        film: sheet.as_ref().and_then(|s| film(&typed, s, prefs)),
        contradictions: contradictions(&typed, sheet.as_ref(), prefs),
        missing: missing(&typed),
    }
}

/// A pound and a US quart, exact by definition.
const POUND_G: f64 = 453.592_37;
const QUART_ML: f64 = 946.352_946;

fn cup(typed: &Typed<'_>, sheet: &Sheet, prefs: Prefs) -> Option<CupAtWork> {
    let basis = if typed.has_hardener() { Some(typed.proportion()?) } else { None };
    let densities = typed.figure("base_density_kg_l").and(typed.figure("hardener_density_kg_l")).is_some();
    let by_weight = matches!(basis, Some(Basis::ByWeight | Basis::PercentByWeight | Basis::ByKit));
    // A ratio by weight without the densities says nothing of volumes.
    let weighed = by_weight && !densities;
    let parts = shares(&Sheet { additives: Vec::new(), ..sheet.clone() }, 0.0);
    let of = |s: &crate::mixing::Share| if weighed { s.mass_g } else { s.volume };
    let total: f64 = parts.iter().map(of).sum();
    let kind = if weighed { QuantityKind::Mass } else { QuantityKind::Volume };
    let (title, whole) = match (weighed, prefs.units == UnitSet::Us) {
        (true, true) => ("One pound of it", POUND_G),
        (true, false) => ("One kilogram of it", 1000.0),
        (false, true) => ("One quart of it", QUART_ML),
        (false, false) => ("One litre of it", 1000.0),
    };
    let mut below = 0.0;
    let layers = parts.iter().map(|s| {
        below += of(s) / total;
        let name = match s.component {
            Component::Hardener => "B",
            _ if typed.has_hardener() => "A",
            _ => "",
        };
        CupLayer { component: s.component, name: name.into(), to: below, amount: show(whole * of(s) / total, kind, prefs) }
    });
    Some(CupAtWork { title: title.into(), layers: layers.collect() })
}

fn film(typed: &Typed<'_>, sheet: &Sheet, prefs: Prefs) -> Option<FilmAtWork> {
    let solids = typed.figure("solids_pct").filter(|s| *s > 0.0 && *s <= 100.0)?;
    let (least, most) = (typed.figure("wet_min_um"), typed.figure("wet_max_um"));
    let middle = least.zip(most).map(|(lo, hi)| (lo + hi) / 2.0);
    let wet = typed.figure("wet_um").or(middle).or(least).or(most).filter(|w| *w > 0.0)?;
    let say = |v: f64, kind| show(v, kind, prefs);
    let dry = dry_of_wet_um(wet, solids);
    let mut text = format!("{} wet dries to {}", say(wet, QuantityKind::Film).text, say(dry, QuantityKind::Film).text);
    if let (Some(max), Some(basis)) = (typed.figure("thinner_max_pct").filter(|p| *p > 0.0 && *p < 100.0), sheet.thinner_basis) {
        // Of two parts the share of the thinner is known once their ratio is.
        if !typed.has_hardener() || typed.proportion().is_some() {
            let mixed = shares(&Sheet { additives: Vec::new(), ..sheet.clone() }, 0.0).iter().map(|s| s.volume).sum();
            let thin = thinner_ml(1.0, mixed - 1.0, max, basis);
            let thinned = dry_of_wet_um(wet, thinned_solids_pct(sheet, mixed, thin));
            let pct = say(max, QuantityKind::Thinner).text;
            text.push_str(&format!(", with {pct} thinner to {}", say(thinned, QuantityKind::Film).text));
        }
    }
    let cover = say(1000.0 / wet, QuantityKind::AreaPerVolume).text;
    text.push_str(&format!("; it covers {cover} with nothing lost"));
    Some(FilmAtWork { dry_part: dry / wet, wet: say(wet, QuantityKind::Film), dry: say(dry, QuantityKind::Film), text })
}

/// Lightest and heaviest of what evaporates from a paint, kg/L; from memory: light hydrocarbons to water.
const LEAVES_KG_L: (f64, f64) = (0.65, 1.0);
/// Lightest and heaviest of what stays, kg/L; from memory: wax and resin to zinc.
const STAYS_KG_L: (f64, f64) = (0.85, 7.2);

/// Pairs where the one must not be under the other: lower, upper, and what is wrong when it is.
const IN_ORDER: [(&str, &str, &str); 11] = [
    ("wet_min_um", "wet_max_um", "The least wet film is more than the most."),
    ("wet_min_um", "wet_um", "The film aimed at is less than the least."),
    ("wet_um", "wet_max_um", "The film aimed at is more than the most."),
    ("temp_min_c", "temp_max_c", "The hottest is below the coldest."),
    ("recoat_min_s", "recoat_max_s", "The latest recoat is before the earliest."),
    ("band_low_pct", "band_high_pct", "The most of the band is less than its least."),
    ("band_low_pct", "hardener_pct", "The per cent aimed at is under its band."),
    ("hardener_pct", "band_high_pct", "The per cent aimed at is over its band."),
    ("profile_min_um", "profile_max_um", "The most profile is less than the least."),
    ("store_min_c", "store_max_c", "The warmest store is colder than the coldest."),
    ("drum_stir_min_s", "drum_stir_max_s", "The most stirring is less than the least."),
];

fn contradictions(typed: &Typed<'_>, sheet: Option<&Sheet>, prefs: Prefs) -> Vec<Contradiction> {
    let mut found = Vec::new();
    let mut say = |field, other, text: String| found.push(Contradiction { field, other, text });
    for (lower, upper, text) in IN_ORDER {
        if let (Some(lo), Some(hi)) = (typed.figure(lower), typed.figure(upper))
            && is_under(hi, lo)
        {
            say(upper, lower, text.into());
        }
    }
    if let (Some(induction), Some(life)) = (typed.figure("induction_s"), typed.figure("pot_life_s"))
        && life <= induction
    {
        let text = format!("It is dead after {} and may be used after {}.", show_duration(life), show_duration(induction));
        say("pot_life_s", "induction_s", text);
    }
    if let (Some(stays), Some(solids)) = (stays_kg_l(typed, sheet), typed.figure("solids_pct")) {
        let kg_l = |v: f64| show(v, QuantityKind::Density, prefs).text;
        let of = show(solids, QuantityKind::Percent, prefs).text;
        if is_under(stays.1, STAYS_KG_L.0) {
            let text = format!("With {of} solids what stays would weigh {} or less: lighter than any resin.", kg_l(stays.1));
            say("solids_pct", "base_density_kg_l", text);
        } else if is_over(stays.0, STAYS_KG_L.1) {
            let text = format!("With {of} solids what stays would weigh {} or more: heavier than any pigment.", kg_l(stays.0));
            say("solids_pct", "base_density_kg_l", text);
        }
        if let (Some(profile), Some(wet)) = (typed.figure("profile_max_um"), typed.figure("wet_max_um")) {
            let dry = dry_of_wet_um(wet, solids);
            if is_over(profile, dry) {
                let um = |v: f64| show(v, QuantityKind::Film, prefs).text;
                let text = format!("The peaks stand {} high; the most wet film dries to {}.", um(profile), um(dry));
                say("profile_max_um", "wet_max_um", text);
            }
        }
    }
    found
}

/// Least and most that what stays behind may weigh, from the density of the mix and its solids.
///
/// **Formula:** `ρs = (ρ − (1 − VS)·ρv) / VS`, for the lightest and the heaviest that evaporates. **Units:** kg/L. **Source:**
/// arithmetic of volumes that add; the bounds are from memory.
fn stays_kg_l(typed: &Typed<'_>, sheet: Option<&Sheet>) -> Option<(f64, f64)> {
    let solids = typed.figure("solids_pct").filter(|s| *s >= 1.0 && *s <= 100.0)? / 100.0;
    let base = typed.figure("base_density_kg_l")?;
    let density = if typed.has_hardener() {
        typed.proportion()?;
        typed.figure("hardener_density_kg_l")?;
        let parts = shares(&Sheet { additives: Vec::new(), ..sheet?.clone() }, 0.0);
        parts.iter().map(|s| s.mass_g).sum::<f64>() / parts.iter().map(|s| s.volume).sum::<f64>()
    } else {
        base
    };
    let stays = |leaves: f64| (density - (1.0 - solids) * leaves) / solids;
    Some((stays(LEAVES_KG_L.1), stays(LEAVES_KG_L.0)))
}

fn missing(typed: &Typed<'_>) -> Vec<&'static str> {
    let mut out = Vec::new();
    if typed.word::<String>("name").is_none_or(|n| n.trim().is_empty()) {
        out.push("name");
    }
    let mut wants = |field: &'static str| {
        if typed.figure(field).is_none() {
            out.push(field);
        }
    };
    if typed.has_hardener() {
        match typed.word::<Basis>("basis") {
            None => {}
            Some(Basis::ByVolume | Basis::ByWeight) => wants("ratio"),
            Some(Basis::PercentByWeight | Basis::PercentByVolume) => wants("hardener_pct"),
            Some(Basis::ByKit) if typed.kit_by_volume() => ["kit_base_ml", "kit_hardener_ml"].into_iter().for_each(&mut wants),
            Some(Basis::ByKit) => ["kit_base_g", "kit_hardener_g"].into_iter().for_each(&mut wants),
        }
        if typed.wants_densities() || typed.figure("base_density_kg_l").is_some() {
            wants("hardener_density_kg_l");
        }
        if typed.in_a_pot() {
            ["pot_life_s", "pot_life_at_c"].into_iter().for_each(&mut wants);
        }
    }
    if typed.wants_densities() || (typed.has_hardener() && typed.figure("hardener_density_kg_l").is_some()) {
        wants("base_density_kg_l");
    }
    ["solids_pct", "wet_min_um", "wet_max_um", "temp_min_c", "temp_max_c"].into_iter().for_each(&mut wants);
    let thinned = typed.figure("thinner_max_pct").is_some_and(|p| p != 0.0);
    if thinned {
        if typed.wants_densities() || typed.figure("base_density_kg_l").is_some() {
            wants("thinner_density_kg_l");
        }
        if typed.word::<ThinnerBasis>("thinner_basis").is_none() {
            out.push("thinner_basis");
        }
    }
    if typed.has_hardener() && typed.word::<Basis>("basis").is_none() {
        out.push("basis");
    }
    out
}

/// What a form leaves to us: a short label of the name, and the middle of the film's band as its aim.
///
/// **Rule:** only what is not typed is proposed; half a band has no middle. **Units:** µm. **Source:** ours.
pub fn propose(value: &mut Value) {
    let Some(map) = value.as_object_mut() else { return };
    let text = |map: &Map<String, Value>, key: &str| map.get(key).and_then(Value::as_str).unwrap_or_default().trim().to_string();
    let name = text(map, "name");
    if text(map, "label").is_empty() && !name.is_empty() {
        map.insert("label".into(), propose_label(&name).into());
    }
    let figure = |map: &Map<String, Value>, key: &str| map.get(key).and_then(Value::as_f64);
    if let (true, Some(lo), Some(hi)) =
        (map.get("wet_um").is_none_or(Value::is_null), figure(map, "wet_min_um"), figure(map, "wet_max_um"))
    {
        map.insert("wet_um".into(), ((lo + hi) / 2.0).into());
    }
}
