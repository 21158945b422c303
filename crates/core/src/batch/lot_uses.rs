//! What a batch took of which lots, by its book. Struck pours are not in the record, so a strike gives back.

use crate::batch::charge::Charge;
use crate::batch::entries::Ended;
use crate::batch::record::{Record, TakenLot};
use crate::component::Component;
use crate::sheets::ChargeKind;
use jiff::Timestamp;
use uuid::Uuid;

/// Taken from a lot at one time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LotUse {
    /// The lot.
    pub lot: Uuid,
    /// The entry that says so.
    pub entry: Uuid,
    /// So much.
    pub used_g: f64,
    /// When.
    pub at: Timestamp,
}

/// Every use of a batch: each pour by the difference it made on the scale; at the gun each pass by the paint it used,
/// divided as the ratio says between the lots taken. Of a product that is measured by volume alone no weight is known: its uses
/// stand there with nothing, so that the lot is traced.
pub fn uses(record: &Record) -> Vec<LotUse> {
    let mut all = Vec::new();
    let by_volume = record.aim().is_some_and(|b| b.sheet.by_volume_alone());
    // What came from another pot was taken from the stores there.
    for charge in record.charges.iter().filter(|c| c.born.is_none()) {
        let mut back_g = back_g(record, charge);
        // What went back is of what was poured last.
        for pour in charge.pours.iter().rev() {
            let Some(lot) = &pour.it.lot else { continue };
            let taken_g = pour.it.taken_g.max(0.0);
            let used_g = (taken_g - back_g).max(0.0);
            back_g -= taken_g - used_g;
            all.push(LotUse { lot: lot.id, entry: pour.entry, used_g: if by_volume { 0.0 } else { used_g }, at: pour.at });
        }
    }
    all.sort_by_key(|u| u.at);
    let Some(sheet) = record.aim().map(|b| &b.sheet).filter(|s| s.charge == ChargeKind::AtGun) else { return all };
    let b_per_a = sheet.hardener().map_or(0.0, |h| h.b_per_a);
    let base_ml_per_g = 1.0 / sheet.base_kg_l();
    let hardener_ml_per_g = sheet.density_kg_l(Component::Hardener).map_or(0.0, |d| b_per_a / d);
    for pass in &record.passes {
        let Some(used_ml) = pass.it.used_ml else { continue };
        let base_g = used_ml / (base_ml_per_g + hardener_ml_per_g);
        for taken in record.lots_at(pass.at).into_iter().rev().fold(Vec::new(), newest_of_each) {
            let used_g = match taken.component {
                Component::Base => base_g,
                Component::Hardener => base_g * b_per_a,
                Component::Thinner | Component::Additive1 | Component::Additive2 | Component::Additive3 => continue,
            };
            all.push(LotUse { lot: taken.lot.id, entry: pass.entry, used_g, at: pass.at });
        }
    }
    all
}

/// What went back to its can.
fn back_g(record: &Record, charge: &Charge) -> f64 {
    let back = charge.closed.as_ref().filter(|c| c.it.how == Ended::BackToCan).and_then(|c| c.it.waste_ml);
    let density = record.aim().map_or(0.0, |aim| aim.sheet.base_kg_l());
    back.unwrap_or(0.0) * density
}

fn newest_of_each<'a>(mut kept: Vec<TakenLot<'a>>, next: TakenLot<'a>) -> Vec<TakenLot<'a>> {
    if kept.iter().all(|k| k.component != next.component) {
        kept.push(next);
    }
    kept
}
