//! One line to a transmitter, and its registers turned into values by the map of the settings.

use crate::settings::{RegisterTable, RegisterType, Transmitter};
use std::time::Duration;
use tokio::net::TcpStream;
use tokio::time::timeout;
use tokio_modbus::client::{Context, tcp};
use tokio_modbus::prelude::{Reader, Slave};

/// An answer that takes longer is none.
const PATIENCE: Duration = Duration::from_secs(3);

/// An open line.
pub struct Line(Context);

impl Line {
    /// Connects. The error is in words, for the log.
    pub async fn open(transmitter: &Transmitter) -> Result<Line, String> {
        let stream = timeout(PATIENCE, TcpStream::connect(&transmitter.address)).await;
        let stream = stream.map_err(|_| "no answer in time".to_string())?.map_err(|e| e.to_string())?;
        Ok(Line(tcp::attach_slave(stream, Slave(transmitter.unit))))
    }

    /// Reads every probe of the map, in its order. A frame cut short, an exception, or silence is an error.
    pub async fn read(&mut self, transmitter: &Transmitter) -> Result<Vec<f64>, String> {
        let mut values = Vec::with_capacity(transmitter.probes.len());
        for probe in &transmitter.probes {
            let count = probe.holds.words();
            let answer = match probe.table {
                RegisterTable::Input => timeout(PATIENCE, self.0.read_input_registers(probe.register, count)).await,
                RegisterTable::Holding => timeout(PATIENCE, self.0.read_holding_registers(probe.register, count)).await,
            };
            let words =
                answer.map_err(|_| "no answer in time".to_string())?.map_err(|e| e.to_string())?.map_err(|e| e.to_string())?;
            values.push(value(&words, probe.holds).ok_or("an answer cut short")? * probe.scale + probe.offset);
        }
        Ok(values)
    }
}

/// Registers as one number, high word first.
fn value(words: &[u16], holds: RegisterType) -> Option<f64> {
    let long = || Some((u32::from(*words.first()?) << 16) | u32::from(*words.get(1)?));
    Some(match holds {
        RegisterType::U16 => f64::from(*words.first()?),
        RegisterType::I16 => f64::from(words.first()?.cast_signed()),
        RegisterType::U32 => f64::from(long()?),
        RegisterType::I32 => f64::from(long()?.cast_signed()),
        RegisterType::F32 => f64::from(f32::from_bits(long()?)),
    })
}

#[cfg(test)]
mod tests {
    use super::{RegisterType, value};

    #[test]
    fn registers_are_read_as_the_map_says() {
        // −12.3 °C as tenths; 21.5 as IEEE 754, 0x41AC0000 (worked by hand).
        assert_eq!(value(&[0xFF85], RegisterType::I16), Some(-123.0));
        assert_eq!(value(&[0xFF85], RegisterType::U16), Some(65_413.0));
        assert_eq!(value(&[0x41AC, 0x0000], RegisterType::F32), Some(21.5));
        assert_eq!(value(&[0xFFFF, 0xFFFE], RegisterType::I32), Some(-2.0));
        assert_eq!(value(&[0x0001, 0x0000], RegisterType::U32), Some(65_536.0));
        assert_eq!(value(&[0x41AC], RegisterType::F32), None, "half a number is none");
        assert_eq!(value(&[], RegisterType::I16), None);
    }
}
