//! The balance of a whole run: both supplies weighed before and after.

use crate::mixing::said;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use crate::sheets::Sheet;
use crate::verdict::{Measured, is_over};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// One supply over a run, in grams.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Supply {
    /// Weighed before.
    pub before_g: f64,
    /// Weighed after.
    pub after_g: f64,
    /// Filled in between.
    #[serde(default)]
    pub added_g: Option<f64>,
    /// Purged and thrown away: it was never mixed.
    #[serde(default)]
    pub purged_g: Option<f64>,
    /// Gone back to its can, and not weighed with the supply after.
    #[serde(default)]
    pub returned_g: Option<f64>,
}

impl Supply {
    /// What of it was sprayed, with what the scale may be off.
    ///
    /// **Formula:** `before + added − after − purged − returned`, each reading ± half the resolution. **Units:** g.
    /// **Errors:** a refusal naming the field: a supply heavier after than before, more purged and returned than was taken.
    /// **Source:** interval arithmetic.
    pub fn used_g(&self, side: &str, resolution_g: f64, prefs: Prefs) -> Result<Measured, Refusal> {
        let name = side.to_lowercase();
        let say = |g: f64| show(g, QuantityKind::Mass, prefs).text;
        let taken = self.before_g + self.added_g.unwrap_or(0.0) - self.after_g;
        if taken <= 0.0 {
            let text = format!(
                "The supply of {side} weighs {} after and {} before: nothing was taken. Say what was filled in between, or mend the figure.",
                say(self.after_g),
                say(self.before_g + self.added_g.unwrap_or(0.0))
            );
            return Err(Refusal::bad_input("supply-heavier", &format!("{name}.after_g"), text));
        }
        let lost = self.purged_g.unwrap_or(0.0) + self.returned_g.unwrap_or(0.0);
        if is_over(lost, taken) || lost == taken {
            let text = format!("{} of {side} purged and returned is all of the {} that was taken.", say(lost), say(taken));
            let field = if self.purged_g.is_some() { "purged_g" } else { "returned_g" };
            return Err(Refusal::bad_input("purged-over-use", &format!("{name}.{field}"), text));
        }
        let more = [self.added_g, self.purged_g, self.returned_g].into_iter().flatten().count();
        Ok(Measured::pm(taken - lost, resolution_g / 2.0 * (2 + more) as f64))
    }
}

/// A whole run, weighed on one scale.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Run {
    /// A that was sprayed.
    pub a_g: Measured,
    /// B that was sprayed.
    pub b_g: Measured,
}

impl Run {
    /// B per A by weight; `None` where the scale could have read nothing.
    ///
    /// **Formula:** `B/A`, worst case of both. Its relative width falls as one over the mass. **Units:** none.
    /// **Source:** interval arithmetic.
    ///
    /// ```
    /// use level_keel_core::{ratio_check::Run, verdict::Measured};
    /// // A 48.62 to 31.40 kg, B 6.85 to 4.72 kg, on a scale of 20 g.
    /// let run = Run { a_g: Measured::pm(17_220.0, 20.0), b_g: Measured::pm(2_130.0, 20.0) };
    /// let a_per_b = 1.0 / run.b_per_a().unwrap().value;
    /// assert!((a_per_b - 8.085).abs() < 5e-4);
    /// ```
    pub fn b_per_a(&self) -> Option<Measured> {
        (self.a_g.lo > 0.0 && self.b_g.lo > 0.0).then(|| Measured {
            lo: self.b_g.lo / self.a_g.hi,
            value: self.b_g.value / self.a_g.value,
            hi: self.b_g.hi / self.a_g.lo,
        })
    }

    /// The ratio of the run in the words of its sheet, as a sum.
    pub fn working(&self, sheet: &Sheet, prefs: Prefs) -> Option<Working> {
        let ratio = said(sheet, self.b_per_a()?)?;
        let mut w =
            Working::new("Ratio of the whole run", "Supplies before and after, each reading ± half the scale’s resolution");
        w.line("A sprayed", "before + filled in − after − purged − returned", self.a_g.value, QuantityKind::Mass, prefs);
        w.line("B sprayed", "the same of B", self.b_g.value, QuantityKind::Mass, prefs);
        w.line("At the least", "worst case of the scale", ratio.measured.lo, ratio.kind, prefs);
        w.line("At the most", "worst case of the scale", ratio.measured.hi, ratio.kind, prefs);
        w.line("Over the run", sheet.ratio_words(prefs), ratio.measured.value, ratio.kind, prefs);
        Some(w)
    }
}

/// Whether a run and its catches say the same, and which to doubt where they do not.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Agreement {
    /// Their intervals meet.
    Agree,
    /// The catches are the wider of the two: they are to be doubted.
    DoubtTheCatches,
    /// The run is the wider of the two.
    DoubtTheRun,
}

impl Agreement {
    /// Of a run and the mean of its catches, each with its interval.
    ///
    /// **Rule:** intervals that meet agree; else the one that is wider for its size is suspect. **Units:** those of the ratio.
    /// **Source:** interval arithmetic.
    ///
    /// ```
    /// use level_keel_core::{ratio_check::Agreement, verdict::Measured};
    /// let (run, catches) = (Measured::pm(8.085, 0.086), Measured::pm(7.70, 0.20));
    /// assert_eq!(Agreement::of(run, catches), Agreement::DoubtTheCatches);
    /// ```
    pub fn of(run: Measured, catches: Measured) -> Agreement {
        let wide = |m: Measured| (m.hi - m.lo) / m.value;
        if run.lo <= catches.hi && catches.lo <= run.hi {
            Agreement::Agree
        } else if wide(catches) >= wide(run) {
            Agreement::DoubtTheCatches
        } else {
            Agreement::DoubtTheRun
        }
    }

    /// In words, with what to look at.
    pub fn words(self) -> &'static str {
        match self {
            Agreement::Agree => "The run and its catches agree.",
            Agreement::DoubtTheCatches => {
                "The run and its catches do not agree. Doubt the catches: outlets not wiped, half a trigger, cups not tared, or caught at another pressure."
            }
            Agreement::DoubtTheRun => {
                "The run and its catches do not agree. Doubt the run: a supply weighed with its lid or hose, something spilled, purged or filled in and not written."
            }
        }
    }
}

/// Where the paint went: what was taken, beside what area, film and transfer ask.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Account {
    /// Paint that was sprayed.
    pub went_ml: Measured,
    /// Area.
    pub area_m2: Measured,
    /// Wet film.
    pub wet_um: Measured,
    /// Transfer efficiency.
    pub transfer_pct: Measured,
}

impl Account {
    /// What area, film and transfer ask.
    ///
    /// **Formula:** `V = A·WFT / TE`. **Units:** m², µm, per cent; mL. **Source:** arithmetic.
    pub fn reckoned_ml(&self) -> Measured {
        let ml = |area: f64, um: f64, pct: f64| area * um / (pct / 100.0);
        Measured {
            lo: ml(self.area_m2.lo, self.wet_um.lo, self.transfer_pct.hi),
            value: ml(self.area_m2.value, self.wet_um.value, self.transfer_pct.value),
            hi: ml(self.area_m2.hi, self.wet_um.hi, self.transfer_pct.lo),
        }
    }

    /// The two intervals meet.
    ///
    /// **Rule:** they agree where neither lies wholly past the other. **Units:** mL. **Source:** interval arithmetic.
    pub fn agrees(&self) -> bool {
        let reckoned = self.reckoned_ml();
        reckoned.lo <= self.went_ml.hi && self.went_ml.lo <= reckoned.hi
    }

    /// How much more went than was reckoned, as a factor.
    fn more(&self) -> f64 {
        self.went_ml.value / self.reckoned_ml().value
    }

    /// What transfer would have to be for the rest to agree.
    ///
    /// **Formula:** `TE·reckoned/went`. **Units:** per cent. **Source:** arithmetic.
    pub fn transfer_then_pct(&self) -> f64 {
        self.transfer_pct.value / self.more()
    }

    /// What the film would have to be.
    ///
    /// **Formula:** `WFT·went/reckoned`. **Units:** µm. **Source:** arithmetic.
    pub fn wet_then_um(&self) -> f64 {
        self.wet_um.value * self.more()
    }

    /// What the area would have to be.
    ///
    /// **Formula:** `A·went/reckoned`. **Units:** m². **Source:** arithmetic.
    pub fn area_then_m2(&self) -> f64 {
        self.area_m2.value * self.more()
    }

    /// What would have to stand in hose and supply still, or have gone there unseen.
    ///
    /// **Formula:** `went − reckoned`. **Units:** mL. **Source:** arithmetic.
    pub fn unaccounted_ml(&self) -> f64 {
        self.went_ml.value - self.reckoned_ml().value
    }

    /// What B per A, by volume, would have to be, were all of A right and the rest B.
    ///
    /// **Formula:** `(reckoned − A)/A`; `None` where A alone is more than was reckoned. **Units:** mL. **Source:** arithmetic.
    pub fn b_per_a_then(&self, a_ml: f64) -> Option<f64> {
        let b_ml = self.reckoned_ml().value - a_ml;
        (b_ml > 0.0).then_some(b_ml / a_ml)
    }

    /// In one sentence. `a_ml`: A that was sprayed, where the ratio may be what is off.
    pub fn words(&self, a_ml: Option<f64>, prefs: Prefs) -> String {
        let say = |v: f64, kind| show(v, kind, prefs).text;
        let (went, reckoned) =
            (say(self.went_ml.value, QuantityKind::Volume), say(self.reckoned_ml().value, QuantityKind::Volume));
        if self.agrees() {
            return format!("{went} went where {reckoned} was reckoned: area, film and transfer agree with it.");
        }
        let mut ways = Vec::new();
        // A transfer over all of it is no way it could have been.
        let transfer = self.transfer_then_pct();
        if transfer <= 100.0 {
            ways.push(format!("transfer {}", say(transfer, QuantityKind::Percent)));
        }
        ways.push(format!("film {}", say(self.wet_then_um(), QuantityKind::Film)));
        ways.push(format!("area {}", say(self.area_then_m2(), QuantityKind::Area)));
        if let Some(b_per_a) = a_ml.and_then(|a_ml| self.b_per_a_then(a_ml)) {
            ways.push(format!("A to B by volume {}", say(1.0 / b_per_a, QuantityKind::Ratio)));
        }
        let unseen = self.unaccounted_ml();
        ways.push(if unseen > 0.0 {
            format!("{} still in hose and supply", say(unseen, QuantityKind::Volume))
        } else {
            format!("{} more taken than was weighed", say(-unseen, QuantityKind::Volume))
        });
        format!("{went} went where {reckoned} was reckoned: {}.", ways.join(", or "))
    }
}
