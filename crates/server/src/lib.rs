//! Keeps the log, asks core, tells the browsers. One folder per concept; `routes` is the whole table.

pub mod auth;
pub mod board;
pub mod books;
pub mod clock;
pub mod demo;
pub mod edge;
pub mod export;
pub mod instruments;
pub mod live;
pub mod parts;
pub mod people;
pub mod problem;
pub mod records;
pub mod routes;
pub mod serve;
pub mod settings;
pub mod sheets;
pub mod state;
