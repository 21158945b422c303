//! What a coat warns of: the hazards of its sheet, as it is put on.

use super::record::Record;
use crate::coat_system::Method;
use crate::rigs::RigKind;
use crate::sheets::Hazard;

impl Record {
    /// Hazards of this coat: those of its sheet, less pressure that nothing has here.
    ///
    /// **Rule:** by brush and roller and out of the gun's own cup there is neither a vessel under pressure nor a jet; a rig without a
    /// vessel has no pot under pressure. Where neither method nor rig is known all stand. **Source:** common practice in the trade.
    pub fn hazards(&self) -> Vec<Hazard> {
        let Some(aim) = self.aim() else { return Vec::new() };
        let rig = self.rig().map(|rig| rig.kind);
        let unpressed = match rig {
            Some(kind) => !kind.is_pressed(),
            None => aim.method.is_some_and(|m| !m.sprays() || m == Method::GunCup),
        };
        let has = |hazard: &Hazard| match hazard {
            Hazard::PressureVessel => !unpressed && rig.is_none_or(RigKind::has_vessel),
            Hazard::HighPressureFluid => !unpressed,
            Hazard::Isocyanate | Hazard::Peroxide | Hazard::Solvent | Hazard::Styrene | Hazard::Chromate | Hazard::Exotherm => {
                true
            }
        };
        aim.sheet.hazards.iter().copied().filter(has).collect()
    }
}
