//! Readings of a file, as they go into the book: whole spots in the order they were drawn, or single readings by their zone.

use crate::acceptance::AcceptBy;
use crate::acceptance::file::FileReading;
use crate::acceptance::spots::READINGS_OF_SPOT;
use crate::batch::case::Case;
use crate::batch::entries::{GaugeRead, SpotRead, ZoneReads};
use crate::refusal::Refusal;
use uuid::Uuid;

impl Case<'_> {
    /// What a file of readings says of this coat.
    ///
    /// **Rule:** by spots, three readings after three to the spots that are not read yet, in the order they were drawn; else each to the
    /// zone it names. **Errors:** a refusal at the rows that make no whole spot, or at a zone the part has not.
    pub fn of_file(&self, readings: &[FileReading], gauge: &str, division_um: f64, name: &str) -> Result<GaugeRead, Refusal> {
        let Some(plan) = &self.acceptance_plan else {
            return Err(Refusal::conflict("not-planned", "Say first how it is measured, and against what."));
        };
        let (spots, reads) = match plan.it.by {
            AcceptBy::Spots => (self.whole_spots(readings)?, Vec::new()),
            _ => (Vec::new(), self.by_zone(readings)?),
        };
        Ok(GaugeRead { gauge: gauge.into(), division_um, spots, reads, from_file: Some(name.into()) })
    }

    fn whole_spots(&self, readings: &[FileReading]) -> Result<Vec<SpotRead>, Refusal> {
        let open = self.spots_now().into_iter().filter(|s| self.record.spot_readings(s.area_no, s.spot_no).is_none());
        let open: Vec<(u32, u32)> = open.map(|s| (s.area_no, s.spot_no)).collect();
        let (n, spots) = (readings.len(), readings.len() / READINGS_OF_SPOT);
        if n % READINGS_OF_SPOT != 0 {
            let text = format!("{n} readings are no whole spots: each has {READINGS_OF_SPOT}.");
            return Err(Refusal::bad_input("not-whole", "rows", text));
        }
        if spots > open.len() {
            let text = format!("{spots} spots are in the file, and {} are to be read yet.", open.len());
            return Err(Refusal::bad_input("too-many", "rows", text));
        }
        let of = |(spot, read): (&(u32, u32), &[FileReading])| SpotRead {
            area_no: spot.0,
            spot_no: spot.1,
            readings_um: read.iter().map(|r| r.um).collect(),
        };
        Ok(open.iter().zip(readings.chunks(READINGS_OF_SPOT)).map(of).collect())
    }

    fn by_zone(&self, readings: &[FileReading]) -> Result<Vec<ZoneReads>, Refusal> {
        let zones = self.zones();
        let mut reads: Vec<ZoneReads> = Vec::new();
        for reading in readings {
            let zone = reading.zone.as_deref().map(|name| zone_of(&zones, name, reading.row)).transpose()?.flatten();
            match reads.iter_mut().find(|r| r.zone == zone) {
                Some(read) => read.readings_um.push(reading.um),
                None => reads.push(ZoneReads { zone, readings_um: vec![reading.um] }),
            }
        }
        Ok(reads)
    }
}

fn zone_of(zones: &[(Option<Uuid>, String)], name: &str, row: usize) -> Result<Option<Uuid>, Refusal> {
    let found = zones.iter().find(|(_, zone)| zone.trim().eq_ignore_ascii_case(name));
    found.map(|(id, _)| *id).ok_or_else(|| {
        let names: Vec<&str> = zones.iter().map(|(_, n)| n.as_str()).collect();
        let text = format!("Row {row}, zone: the part has no zone “{name}”. It has {}.", names.join(", "));
        Refusal::bad_input("unknown-zone", &format!("rows[{row}].zone"), text)
    })
}
