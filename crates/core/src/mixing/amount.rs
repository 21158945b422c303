//! How much finished paint: from what is wanted, what is in hand, the area, the pieces, or kits.

use super::{Component, shares};
use crate::film::need_ml;
use crate::limits;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::sheets::Sheet;
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a figure per piece counted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FigureIs {
    /// The base alone, out of its can.
    Base,
    /// Finished paint, everything in.
    Finished,
}

/// One way of saying how much. A plain wanted volume needs none of these.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "snake_case", deny_unknown_fields)]
#[allow(missing_docs)]
pub enum Amount {
    /// Finished paint by mass.
    Mass { mass_g: f64 },
    /// All the base in hand, by mass.
    BaseMass { base_g: f64 },
    /// All the base in hand, by volume.
    BaseVolume { base_ml: f64 },
    /// All the hardener in hand, by mass.
    HardenerMass { hardener_g: f64 },
    /// All the hardener in hand, by volume.
    HardenerVolume { hardener_ml: f64 },
    /// An area at the film of the batch.
    Area { area_m2: f64 },
    /// Pieces at a known figure: it must be said which sides and coats the figure counted, and of what it is.
    Pieces {
        piece_count: f64,
        per_piece_ml: f64,
        figure_is: FigureIs,
        figure_side_count: f64,
        side_count: f64,
        figure_coat_count: f64,
        coat_count: f64,
    },
    /// Factory kits: whole ones as they come, part of one by weight.
    Kits { kit_count: f64 },
}

/// The film and the waste of the batch, for an amount asked by area.
#[derive(Debug, Clone, Copy)]
pub struct OnThePart {
    /// Wet film aimed at.
    pub wet_um: f64,
    /// What stays on the part.
    pub transfer_pct: f64,
    /// Thinner.
    pub thinner_pct: f64,
}

/// Finished paint for an amount, with its sum.
///
/// **Formula:** everything is turned to millilitres of base by the sheet's shares ([`shares`]), then to finished
/// paint. Pieces: `count × figure × sides ÷ sides counted × coats ÷ coats counted`.
/// **Errors:** a refusal naming the field: outside limits, hardener asked of a product that has none, kits of a
/// sheet that states no kit.
/// **Units:** mL. **Source:** arithmetic of the ratio; volumes are taken to add.
pub fn wanted_ml(sheet: &Sheet, amount: &Amount, on: OnThePart, prefs: Prefs) -> Result<(f64, Working), Refusal> {
    let shares = shares(sheet, on.thinner_pct);
    let finished: f64 = shares.iter().map(|s| s.volume).sum();
    let mass: f64 = shares.iter().map(|s| s.mass_g).sum();
    let say = |v: f64, k: QuantityKind| show(v, k, prefs).text;
    let part = |c| shares.iter().find(|s| s.component == c);
    let no_hardener = |field| Refusal::bad_input("no-hardener", field, "This product has no second component.");
    let mut w = Working::new("How much", "Arithmetic of the ratio; volumes taken to add");
    // Each arm ends in millilitres of base, or in finished paint as it is.
    let base_ml = match *amount {
        Amount::Mass { mass_g } => {
            limits::SCALE_READING.check("amount.mass_g", mass_g, prefs)?;
            weighable(sheet, "amount.mass_g")?;
            let density = mass / finished;
            w.line("Density of the mix", "masses ÷ volumes", density, QuantityKind::Density, prefs);
            mass_g / mass
        }
        Amount::BaseMass { base_g } => {
            limits::SCALE_READING.check("amount.base_g", base_g, prefs)?;
            let density = weighable(sheet, "amount.base_g")?;
            let figures = format!("{} ÷ {}", say(base_g, QuantityKind::Mass), say(density, QuantityKind::Density));
            w.line("Base in hand", figures, base_g / density, QuantityKind::Volume, prefs)
        }
        Amount::BaseVolume { base_ml } => {
            limits::AMOUNT.check("amount.base_ml", base_ml, prefs)?;
            w.line("Base in hand", "as measured", base_ml, QuantityKind::Volume, prefs)
        }
        Amount::HardenerMass { hardener_g } => {
            limits::SCALE_READING.check("amount.hardener_g", hardener_g, prefs)?;
            let b = part(Component::Hardener).ok_or_else(|| no_hardener("amount.hardener_g"))?;
            weighable(sheet, "amount.hardener_g")?;
            w.line(
                "Base to it",
                format!("for {} hardener", say(hardener_g, QuantityKind::Mass)),
                hardener_g / b.mass_g,
                QuantityKind::Volume,
                prefs,
            )
        }
        Amount::HardenerVolume { hardener_ml } => {
            limits::AMOUNT.check("amount.hardener_ml", hardener_ml, prefs)?;
            let b = part(Component::Hardener).ok_or_else(|| no_hardener("amount.hardener_ml"))?;
            let figures = format!("for {} hardener", say(hardener_ml, QuantityKind::Volume));
            w.line("Base to it", figures, hardener_ml / b.volume, QuantityKind::Volume, prefs)
        }
        Amount::Area { area_m2 } => {
            limits::AREA.check("amount.area_m2", area_m2, prefs)?;
            let figures = format!(
                "{} × {} ÷ {}",
                say(area_m2, QuantityKind::Area),
                say(on.wet_um, QuantityKind::Film),
                say(on.transfer_pct, QuantityKind::Percent)
            );
            let need = need_ml(area_m2, on.wet_um, on.transfer_pct);
            return Ok((w.line("To put on", figures, need, QuantityKind::Volume, prefs), w));
        }
        Amount::Pieces { figure_is, .. } => {
            let (total, figures) = for_pieces(amount, prefs)?;
            match figure_is {
                FigureIs::Finished => return Ok((w.line("For all pieces", figures, total, QuantityKind::Volume, prefs), w)),
                FigureIs::Base => w.line("Base for all pieces", figures, total, QuantityKind::Volume, prefs),
            }
        }
        Amount::Kits { kit_count } => {
            limits::COUNT.check("amount.kit_count", kit_count, prefs)?;
            let kit = sheet.kit().ok_or_else(|| {
                Refusal::bad_input("no-kit", "amount.kit_count", "The sheet states no kit. Enter what its two cans hold.")
            })?;
            let (in_what, how) = match sheet.said_in(Component::Base) {
                QuantityKind::Volume => (QuantityKind::Volume, "whole ones by volume"),
                _ => (QuantityKind::Mass, "by weight"),
            };
            if in_what == QuantityKind::Volume && kit_count.fract() != 0.0 {
                let text = "Part of a kit goes by weight, and the sheet states no densities: whole kits only.";
                return Err(Refusal::bad_input("density-missing", "amount.kit_count", text));
            }
            let figures = format!("{} × {}, {how}", say(kit_count, QuantityKind::Count), say(kit.base_g, in_what));
            let base_g = w.line("Base of the kits", figures, kit_count * kit.base_g, in_what, prefs);
            base_g / sheet.base_kg_l()
        }
    };
    let figures = format!("base {} with all that goes to it", say(base_ml, QuantityKind::Volume));
    Ok((w.line("Finished paint", figures, base_ml * finished, QuantityKind::Volume, prefs), w))
}

/// The density of the base, where the product can be weighed at all.
///
/// **Errors:** `density-missing` at the field that was given as a weight.
fn weighable(sheet: &Sheet, field: &str) -> Result<f64, Refusal> {
    let stated = sheet.base_density_kg_l.filter(|_| !sheet.by_volume_alone());
    stated.ok_or_else(|| {
        let text = "The sheet states no density: a weight says nothing of this product. Say it by volume, or complete the sheet.";
        Refusal::bad_input("density-missing", field, text)
    })
}

/// Paint for pieces, by a figure for one of them: so many, with sides and coats in proportion.
///
/// **Formula:** `n · v · (sides / sides of the figure) · (coats / coats of the figure)`. **Units:** mL. **Errors:** a refusal at the
/// count or the volume that is outside its limit. **Source:** arithmetic.
fn for_pieces(amount: &Amount, prefs: Prefs) -> Result<(f64, String), Refusal> {
    let Amount::Pieces { piece_count, per_piece_ml, figure_side_count, side_count, figure_coat_count, coat_count, .. } = *amount
    else {
        return Ok((0.0, String::new()));
    };
    for (field, n) in [
        ("amount.piece_count", piece_count),
        ("amount.figure_side_count", figure_side_count),
        ("amount.side_count", side_count),
        ("amount.figure_coat_count", figure_coat_count),
        ("amount.coat_count", coat_count),
    ] {
        limits::COUNT.check(field, n, prefs)?;
    }
    limits::AMOUNT.check("amount.per_piece_ml", per_piece_ml, prefs)?;
    let times = (side_count / figure_side_count) * (coat_count / figure_coat_count);
    let n = |v: f64| show(v, QuantityKind::Count, prefs).text;
    let figures = format!(
        "{} × {} × {} of {} sides × {} of {} coats",
        n(piece_count),
        show(per_piece_ml, QuantityKind::Volume, prefs).text,
        n(side_count),
        n(figure_side_count),
        n(coat_count),
        n(figure_coat_count)
    );
    Ok((piece_count * per_piece_ml * times, figures))
}

/// One way of asking, as a form draws it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Way {
    /// The `from` of an [`Amount`]; `volume` is the plain wanted volume.
    pub from: String,
    /// In words.
    pub label: String,
    /// What it asks.
    pub fields: Vec<AskField>,
    /// It asks besides whether the figure is of base or of finished paint.
    pub asks_of_what: bool,
}

/// A field of a way of asking.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct AskField {
    pub name: String,
    pub label: String,
    /// What its lot in the stores still holds.
    pub in_stores: Option<String>,
}

/// The ways a product can be asked for: none that it cannot answer.
pub fn ways(sheet: &Sheet) -> Vec<Way> {
    let way = |from: &str, label: &str, fields: &[(&str, &str)]| Way {
        from: from.into(),
        label: label.into(),
        fields: fields.iter().map(|(n, l)| AskField { name: (*n).into(), label: (*l).into(), in_stores: None }).collect(),
        asks_of_what: from == "pieces",
    };
    let weighed = !sheet.by_volume_alone();
    let mut all = vec![way("volume", "finished paint, by volume", &[("wanted_ml", "Pot")])];
    if weighed {
        all.push(way("mass", "finished paint, by weight", &[("mass_g", "Pot")]));
        all.push(way("base_mass", "the base in hand, by weight", &[("base_g", "Base")]));
    }
    all.push(way("base_volume", "the base in hand, by volume", &[("base_ml", "Base")]));
    if sheet.has_hardener && weighed {
        all.push(way("hardener_mass", "the hardener in hand, by weight", &[("hardener_g", "Hardener")]));
    }
    if sheet.has_hardener {
        all.push(way("hardener_volume", "the hardener in hand, by volume", &[("hardener_ml", "Hardener")]));
    }
    all.push(way("area", "an area at this film", &[("area_m2", "Area")]));
    all.push(way(
        "pieces",
        "a figure per piece",
        &[
            ("piece_count", "Pieces"),
            ("per_piece_ml", "Figure per piece"),
            ("figure_side_count", "Sides it counts"),
            ("side_count", "Sides to spray"),
            ("figure_coat_count", "Coats it counts"),
            ("coat_count", "Coats to spray"),
        ],
    ));
    if sheet.kit().is_some() {
        all.push(way("kits", "factory kits, whole or part by weight", &[("kit_count", "Kits")]));
    }
    all
}
