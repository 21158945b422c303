//! The one list of gates, in the order they are asked. A new gate is a file beside this one, and a line here: it gives the gate its
//! name on the wire and its place.

use super::{
    Gate, acceptance, bond, conditions, coverage, film, guards, induction, life, lists, lots, pieces, ratio, recoat, rig, thinner,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

macro_rules! gates {
    ($($(#[$doc:meta])* $name:ident = $file:ident,)*) => {
        /// The gates of a batch.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
        #[derive(strum::VariantArray)]
        #[serde(rename_all = "snake_case")]
        pub enum GateName {
            $($(#[$doc])* $name,)*
        }

        impl GateName {
            pub(super) fn gate(self) -> &'static Gate {
                match self { $(GateName::$name => &$file::GATE,)* }
            }
        }

        pub(super) static ALL: &[&Gate] = &[$(&$file::GATE,)*];
    };
}

gates! {
    /// Dew margin, humidity, temperatures.
    Conditions = conditions,
    /// Guards by hazard.
    Guards = guards,
    /// A lot taken: date, quarantine, colour, certificate, one for the part.
    Lots = lots,
    /// An item of the Ready lists.
    Lists = lists,
    /// Recoat window of the coat beneath.
    Recoat = recoat,
    /// The rig, by the figures of the sheet.
    Rig = rig,
    /// Film at the end.
    Film = film,
    /// The most area of a litre, by use.
    Coverage = coverage,
    /// Every piece, every side.
    Pieces = pieces,
    /// Ratio as weighed, or as caught.
    Ratio = ratio,
    /// The bond test.
    Bond = bond,
    /// Thinner in a pot.
    Thinner = thinner,
    /// Life of a pot.
    Life = life,
    /// Induction of a pot.
    Induction = induction,
    /// What accepts the coat, once the work is signed.
    Acceptance = acceptance,
}
