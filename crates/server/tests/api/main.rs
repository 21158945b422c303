//! The real server on a free port, a real client, a database of its own for each test.

mod client;
mod demo;
mod entries;
mod kill;
mod people;
mod sheets;
mod wire;
