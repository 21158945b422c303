//! A pot on a printed cup: the line each pour is filled to, and what such lines can prove.

use crate::batch::case::Case;
use crate::mixing::{self, Component, PrintedCup};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::worded::capital;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A line to fill to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LineToFill {
    /// What is poured.
    pub component: Component,
    /// “Base to 6 fl oz”.
    pub text: String,
    /// The figure to read there, in what is printed on the cup.
    pub at: String,
    /// The same in the words on the cup.
    pub at_text: String,
    /// Its height, as a part of what the cup holds.
    pub level: f64,
    /// What is poured up to it may be off by, by how an eye reads the cup.
    pub off: String,
    /// It falls between two printed lines.
    pub between_lines: bool,
    /// It is in already.
    pub poured: bool,
}

/// A pot on a printed cup.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CupLines {
    /// The cup.
    pub cup: PrintedCup,
    /// From the floor up.
    pub lines: Vec<LineToFill>,
    /// Printed lines for the picture, each a part of what the cup holds.
    pub graduations: Vec<f64>,
    /// What this cup can prove of the ratio; missing where there is none.
    pub proves: Option<String>,
    /// It proves the ratio of this pot.
    pub proves_this: bool,
    /// The amount near this one for which every pour falls on a printed line.
    pub whole_lines: Option<String>,
    /// What is not measured in this cup.
    pub others: Vec<String>,
}

/// The plan of a pot as lines of a cup.
///
/// **Errors:** `cup-too-small`, `column-of-another-ratio`, and figures of the cup, each at its field of the cup; `unknown-charge`.
pub fn cup_lines(case: &Case<'_>, charge: Uuid, cup: PrintedCup, prefs: Prefs) -> Result<CupLines, Refusal> {
    let unknown = || Refusal::bad_input("unknown-charge", "charge", "There is no such pot in this batch.");
    let (Some(aim), Some(pot)) = (case.aim(), case.charge(charge)) else { return Err(unknown()) };
    let (sheet, thinner_pct, plan) = (&aim.sheet, case.thinner_pct(), case.plan(pot));
    let all = mixing::fill_lines(&cup, sheet, thinner_pct, &plan, prefs)?;
    let weighed = pot.weighed();
    let lines = all
        .iter()
        .map(|line| {
            let component = line.pour.component;
            let at_text = cup.in_words(line.column, line.at, prefs);
            LineToFill {
                text: capital(&format!("{} to {at_text}", sheet.component_name(component))),
                at: cup.digits(line.at, prefs),
                at_text,
                level: line.up_to_ml / cup.holds_ml,
                off: cup.said_ml(line.off_ml, prefs),
                between_lines: !line.on_a_line,
                poured: mixing::total_g(&weighed, component) > 0.0,
                component,
            }
        })
        .collect();
    let off = |c: Component| all.iter().find(|l| l.pour.component == c).map(|l| l.off_ml);
    let least = off(Component::Base).zip(off(Component::Hardener)).and_then(|(a, b)| mixing::least_by_cup_ml(sheet, a, b));
    let mixed_ml: f64 =
        plan.iter().filter(|p| matches!(p.component, Component::Base | Component::Hardener)).map(|p| p.volume_ml).sum();
    let wanted: f64 = plan.iter().map(|p| p.volume_ml).sum();
    let say = |ml: f64| cup.said_ml(ml, prefs);
    let whole = mixing::on_whole_lines_ml(&cup, sheet, thinner_pct, wanted);
    Ok(CupLines {
        lines,
        graduations: cup.graduations_ml().into_iter().map(|ml| ml / cup.holds_ml).collect(),
        // What cannot be reckoned is not proved; only a product without a ratio has nothing to prove.
        proves_this: !sheet.has_hardener || least.is_some_and(|ml| mixed_ml >= ml),
        proves: sheet.has_hardener.then(|| what_it_proves(least, cup.holds_ml, &say)),
        whole_lines: whole.filter(|ml| (ml / wanted - 1.0).abs() > 0.005).map(|ml| cup.said_ml(ml, prefs)),
        others: plan
            .iter()
            .filter(|p| all.iter().all(|l| l.pour.component != p.component))
            .map(|p| sheet.component_name(p.component))
            .collect(),
        cup,
    })
}

fn what_it_proves(least_ml: Option<f64>, holds_ml: f64, say: &impl Fn(f64) -> String) -> String {
    let Some(least_ml) = least_ml else { return "No mix in this cup proves the ratio: weigh it, or take another cup.".into() };
    let least = say(least_ml);
    if least_ml <= holds_ml {
        format!("An eye reads it to a quarter of a step: it proves the ratio from {least} of base and hardener on.")
    } else {
        format!("An eye reads it to a quarter of a step: the ratio would be proved from {least} on, more than it holds.")
    }
}
