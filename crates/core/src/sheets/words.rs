//! A sheet in words.

use super::{Basis, Sheet, ThinnerBasis};
use crate::component::Component;
use crate::quantity::{Prefs, QuantityKind, show};
use crate::worded::Worded;

impl Sheet {
    /// What a component is called: the trade's word, or the additive's own name.
    pub fn component_name(&self, component: Component) -> String {
        let own = component.additive().and_then(|i| self.additives.get(i)).map(|a| a.name.clone());
        own.unwrap_or_else(|| component.word().into())
    }

    /// The dose of an additive in words.
    pub fn dose_words(&self, component: Component, prefs: Prefs) -> String {
        let Some(additive) = component.additive().and_then(|i| self.additives.get(i)) else { return String::new() };
        match (additive.dose_g_l, additive.dose_pct) {
            (Some(g_l), _) => format!("{} of sprayable paint", show(g_l, QuantityKind::MassPerVolume, prefs).text),
            (_, Some(pct)) => format!("{} of the base by weight", show(pct, QuantityKind::Percent, prefs).text),
            _ => String::new(),
        }
    }

    /// What the thinner percentage is of, in words.
    pub fn thinner_words(&self) -> Option<&'static str> {
        self.thinner_basis.map(ThinnerBasis::word)
    }

    /// The ratio in words: `5 : 1 by volume`, `1.8 % by weight`, `no second component`.
    pub fn ratio_words(&self, prefs: Prefs) -> String {
        let trimmed =
            |r: f64| show(r, QuantityKind::Ratio, prefs).figure.trim_end_matches('0').trim_end_matches(['.', ',']).to_string();
        match (self.has_hardener, self.basis, self.ratio, self.hardener_pct) {
            (true, Some(Basis::ByVolume), Some(r), _) => format!("{} : 1 by volume", trimmed(r)),
            (true, Some(Basis::ByWeight), Some(r), _) => format!("{} : 1 by weight", trimmed(r)),
            (true, Some(Basis::PercentByWeight), _, Some(p)) => {
                format!("{} by weight", show(p, QuantityKind::Percent, prefs).text)
            }
            (true, Some(Basis::PercentByVolume), _, Some(p)) => {
                format!("{} by volume", show(p, QuantityKind::Percent, prefs).text)
            }
            (true, Some(Basis::ByKit), ..) => match self.kit_base_ml.zip(self.kit_hardener_ml) {
                Some((a, b)) => format!("kit, {} : 1 by volume", trimmed(a / b)),
                None => self.kit().map_or(String::new(), |k| format!("kit, {} : 1 by weight", trimmed(k.base_g / k.hardener_g))),
            },
            _ => "no second component".into(),
        }
    }
}
