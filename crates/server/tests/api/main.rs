//! The real server on a free port, a real client, a database of its own for each test.

mod client;
mod coats;
mod demo;
mod edge;
mod entries;
mod exports;
mod kill;
mod people;
mod permissions;
mod records;
mod sheets;
mod upgrade;
mod wire;
