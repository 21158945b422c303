//! A time that follows temperature: through the values a sheet states, and on the safe side outside them.

use super::Sheet;
use crate::quantity::{Prefs, QuantityKind, Shown, show, show_duration};
use serde::Serialize;
use utoipa::ToSchema;

/// Kelvin of 0 °C.
const ZERO_C_K: f64 = 273.15;

/// Stated values of one clock, coldest first.
#[derive(Debug, Clone, PartialEq)]
pub struct Curve(Vec<(f64, f64)>);

impl Curve {
    /// A curve through `(°C, seconds)`; `None` without any, or where one is not a time.
    pub fn through(points: impl IntoIterator<Item = (f64, f64)>) -> Option<Curve> {
        let mut points: Vec<(f64, f64)> =
            points.into_iter().filter(|(c, s)| c.is_finite() && *s > 0.0 && s.is_finite()).collect();
        points.sort_by(|a, b| a.0.total_cmp(&b.0));
        points.dedup_by(|b, a| (a.0 - b.0).abs() < 1e-9);
        (!points.is_empty()).then_some(Curve(points))
    }

    /// What was stated, coldest first.
    ///
    /// **Units:** °C with s. **Source:** the sheet. **Rule:** as stated.
    pub fn points(&self) -> &[(f64, f64)] {
        &self.0
    }

    /// Halving for every 10 °C from one point.
    fn halved((c, s): (f64, f64), temp_c: f64) -> f64 {
        s * 2f64.powf((c - temp_c) / 10.0)
    }

    /// Arrhenius through two points: `ln t = a + b/T`.
    fn fitted((c1, s1): (f64, f64), (c2, s2): (f64, f64), temp_c: f64) -> f64 {
        let inverse = |c: f64| 1.0 / (c + ZERO_C_K);
        let slope = (s2.ln() - s1.ln()) / (inverse(c2) - inverse(c1));
        (s1.ln() + slope * (inverse(temp_c) - inverse(c1))).exp()
    }

    /// The value inside the stated temperatures, or what both rules say at the nearest of them.
    fn at(&self, temp_c: f64) -> At {
        let (first, last) = (self.0[0], self.0[self.0.len() - 1]);
        if self.0.len() == 1 {
            let halved = Self::halved(first, temp_c);
            return At::Outside { nearest: first, fit: halved, halved, colder: temp_c < first.0 };
        }
        if temp_c < first.0 {
            let fit = Self::fitted(first, self.0[1], temp_c);
            return At::Outside { nearest: first, fit, halved: Self::halved(first, temp_c), colder: true };
        }
        if temp_c > last.0 {
            let fit = Self::fitted(self.0[self.0.len() - 2], last, temp_c);
            return At::Outside { nearest: last, fit, halved: Self::halved(last, temp_c), colder: false };
        }
        let i = self.0.windows(2).position(|w| temp_c <= w[1].0).unwrap_or(0);
        At::Inside(Self::fitted(self.0[i], self.0[i + 1], temp_c))
    }

    /// A time that must not be overrun (pot life, latest recoat of life).
    ///
    /// **Formula:** one stated value halves for every 10 °C; between two stated values Arrhenius,
    /// `ln t = a + b/T`. Outside them the shorter of the two; colder never more than twice the nearest stated value.
    /// **Units:** °C, seconds. **Source:** Arrhenius; common practice in the trade for the halving and the safe side.
    /// **Example:** 6 h at 10 °C and 2.5 h at 25 °C → 3.72 h at 18 °C.
    ///
    /// ```
    /// use level_keel_core::sheets::times::Curve;
    /// let life = Curve::through([(10.0, 6.0 * 3600.0), (25.0, 2.5 * 3600.0)]).unwrap();
    /// assert!((life.life_s(18.0) / 3600.0 - 3.72).abs() < 0.01);
    /// ```
    pub fn life_s(&self, temp_c: f64) -> f64 {
        match self.at(temp_c) {
            At::Inside(s) => s,
            At::Outside { nearest, fit, halved, colder } => {
                let shorter = fit.min(halved);
                if colder { shorter.min(2.0 * nearest.1) } else { shorter }
            }
        }
    }

    /// A time that must be waited out (earliest recoat): outside the stated values the longer of fit and halving when
    /// colder, without limit; hotter never shortens it below the hottest stated value.
    ///
    /// **Source:** common practice in the trade, the safe side. **Check:** 6 h at 20 °C → 12 h at 10 °C, 6 h at 30 °C.
    /// **Rule:** as said. **Units:** °C, s.
    pub fn wait_s(&self, temp_c: f64) -> f64 {
        match self.at(temp_c) {
            At::Inside(s) => s,
            At::Outside { nearest, fit, halved, colder } => {
                if colder {
                    fit.max(halved)
                } else {
                    nearest.1
                }
            }
        }
    }

    /// A time that must not be overrun and that cold does not lengthen (latest recoat): colder than stated, the coldest
    /// stated value stands; hotter the shorter of fit and halving.
    ///
    /// **Rule:** as said. **Units:** °C, s. **Source:** common practice in the trade, the safe side.
    pub fn latest_s(&self, temp_c: f64) -> f64 {
        match self.at(temp_c) {
            At::Inside(s) => s,
            At::Outside { nearest, fit, halved, colder } => {
                if colder {
                    nearest.1
                } else {
                    fit.min(halved)
                }
            }
        }
    }

    /// An induction: colder than stated it is longer, to at most twice; hotter never shorter than the hottest stated.
    ///
    /// **Source:** common practice in the trade, the safe side.
    /// **Rule:** as said. **Units:** °C, s.
    pub fn induction_s(&self, temp_c: f64) -> f64 {
        match self.at(temp_c) {
            At::Inside(s) => s,
            At::Outside { nearest, fit, halved, colder } => {
                if colder {
                    fit.max(halved).min(2.0 * nearest.1)
                } else {
                    nearest.1
                }
            }
        }
    }

    /// Whether a temperature lies outside the stated ones, so that the value is an estimate.
    pub fn is_estimate(&self, temp_c: f64) -> bool {
        self.0.iter().all(|p| (p.0 - temp_c).abs() > 1e-9) && matches!(self.at(temp_c), At::Outside { .. })
    }
}

enum At {
    Inside(f64),
    Outside { nearest: (f64, f64), fit: f64, halved: f64, colder: bool },
}

/// Temperatures drawn beyond what a sheet works in.
const BEYOND_C: f64 = 5.0;
const DRAWN: usize = 25;

/// A point of a drawn clock; places run from 0 to 1.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CurvePoint {
    /// Across, from cold to hot.
    pub x: f64,
    /// Up, as a part of the longest time drawn.
    pub y: f64,
    /// The temperature.
    pub at: Shown,
    /// The time, in words.
    pub time: String,
    /// The sheet states this one.
    pub stated: bool,
    /// Outside what the sheet states.
    pub estimate: bool,
}

/// One clock over temperature.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CurveView {
    /// Which clock.
    pub name: String,
    /// From cold to hot.
    pub points: Vec<CurvePoint>,
}

/// The clocks of a sheet over temperature, by the rules that run the pots.
pub fn drawn(sheet: &Sheet, prefs: Prefs) -> Vec<CurveView> {
    type Rule = fn(&Curve, f64) -> f64;
    let all: [(&str, Option<Curve>, Rule); 4] = [
        ("Pot life", sheet.life_curve(), Curve::life_s),
        ("Induction", sheet.induction_curve(), Curve::induction_s),
        ("Recoat, earliest", sheet.recoat_min_curve(), Curve::wait_s),
        ("Recoat, latest", sheet.recoat_max_curve(), Curve::latest_s),
    ];
    let (lo, hi) = (sheet.temp_min_c - BEYOND_C, sheet.temp_max_c + BEYOND_C);
    let one = |(name, curve, rule): (&str, Option<Curve>, Rule)| {
        let curve = curve?;
        let steps = (0..DRAWN).map(|i| (lo + (hi - lo) * i as f64 / (DRAWN - 1) as f64, false));
        let mut places: Vec<(f64, bool)> = steps.chain(curve.points().iter().map(|p| (p.0, true))).collect();
        places.sort_by(|a, b| a.0.total_cmp(&b.0));
        let longest = places.iter().map(|(c, _)| rule(&curve, *c)).fold(0.0, f64::max);
        let point = |(c, stated): (f64, bool)| CurvePoint {
            x: (c - lo) / (hi - lo),
            y: rule(&curve, c) / longest,
            at: show(c, QuantityKind::Temperature, prefs),
            time: show_duration(rule(&curve, c)),
            stated,
            estimate: curve.is_estimate(c),
        };
        Some(CurveView { name: name.into(), points: places.into_iter().map(point).collect() })
    };
    all.into_iter().filter_map(one).collect()
}

/// Where recoat times are taken to be stated when a sheet gives no temperature, from memory.
const USUAL_AT_C: f64 = 20.0;

impl Sheet {
    fn curve(&self, own: Option<f64>, own_at_c: Option<f64>, further: fn(&super::TimesAt) -> Option<f64>) -> Option<Curve> {
        let own = own.map(|s| (own_at_c.unwrap_or(USUAL_AT_C), s));
        Curve::through(own.into_iter().chain(self.times.iter().filter_map(|t| further(t).map(|s| (t.at_c, s)))))
    }

    /// Pot life by temperature.
    pub fn life_curve(&self) -> Option<Curve> {
        self.curve(self.pot_life_s, self.pot_life_at_c, |t| t.pot_life_s)
    }

    /// Induction by temperature; it is stated where the pot life is.
    pub fn induction_curve(&self) -> Option<Curve> {
        self.curve(self.induction_s, self.pot_life_at_c, |t| t.induction_s)
    }

    /// Earliest recoat by temperature.
    pub fn recoat_min_curve(&self) -> Option<Curve> {
        self.curve(self.recoat_min_s, self.recoat_at_c, |t| t.recoat_min_s)
    }

    /// Latest recoat by temperature.
    pub fn recoat_max_curve(&self) -> Option<Curve> {
        self.curve(self.recoat_max_s, self.recoat_at_c, |t| t.recoat_max_s)
    }
}
