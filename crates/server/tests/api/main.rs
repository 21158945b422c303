//! The real server on a free port, a real client, a database of its own for each test.

mod client;
mod closed;
mod coats;
mod conforms;
mod demo;
mod documents;
mod door;
mod edge;
mod entries;
mod exports;
mod find;
mod kill;
mod labels;
mod log;
mod mixing;
mod people;
mod permissions;
mod probes;
mod program;
mod records;
mod rigs;
mod setting;
mod sheets;
mod stores;
mod upgrade;
mod wire;
