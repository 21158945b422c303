//! Simulated devices. A scale that sends lines of text over TCP ([`scale`]); and transmitters: a day's weather made of sines, sent over Modbus TCP, with faults
//! on demand; and two pressures of a pot ([`plant`]), moved by core's own line physics.
//!
//! Input and holding registers 0–5 hold tenths: air °C, humidity %, surface °C, material °C, paint store °C, peroxide
//! cabinet °C; 6 and 7 pot and gun in kPa. Writing a number to holding register 100 + n gives register n a fault: 0 none, 1 stuck, 2 no answer,
//! 3 leap, 4 nonsense.

pub mod film_gauge;
pub mod modbus;
pub mod plant;
pub mod scale;
pub mod weather;
