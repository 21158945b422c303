//! What a gauge reads of the surface along with the coat.

use crate::lists::Substrate;

/// What lies under a coat that a gauge reads as if it were of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ReadAlong {
    /// The surface is rough: it is read bare, or its roughness is said.
    pub rough: bool,
    /// Coats lie beneath: how thick they are is said.
    pub coats: bool,
}

/// What a gauge reads along on a surface.
///
/// **Rule:** blasted steel is rough, and so is what stands in water, which is blasted steel as a rule; what is painted has coats beneath;
/// where nobody said the surface it may be either. **Source:** common practice in the trade.
///
/// ```
/// use level_keel_core::{batch::accepting::surface::read_along, lists::Substrate};
/// let unsaid = read_along(None);
/// assert!(unsaid.rough && unsaid.coats);
/// assert!(read_along(Some(Substrate::BlastedSteel)).rough && read_along(Some(Substrate::PaintedBodywork)).coats);
/// ```
pub fn read_along(substrate: Option<Substrate>) -> ReadAlong {
    let Some(substrate) = substrate else { return ReadAlong { rough: true, coats: true } };
    let (rough, coats) = match substrate {
        Substrate::BlastedSteel | Substrate::SplashZone | Substrate::UnderWater => (true, false),
        Substrate::AlreadyCoated | Substrate::PaintedBodywork | Substrate::DopedFabric => (false, true),
        Substrate::SandedAluminium
        | Substrate::SandedSteel
        | Substrate::BareBodywork
        | Substrate::GelCoatMould
        | Substrate::Fibreglass
        | Substrate::Wood
        | Substrate::Foam
        | Substrate::Masonry
        | Substrate::Plasterboard => (false, false),
    };
    ReadAlong { rough, coats }
}
