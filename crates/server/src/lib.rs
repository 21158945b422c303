//! Keeps the log, asks core, tells the browsers. One folder per concept; `routes` is the whole table.

// The demo writes whole sheets as one JSON value each.
#![recursion_limit = "256"]

pub mod acceptance;
pub mod atomizing;
pub mod auth;
pub mod board;
pub mod books;
pub mod checkpoints;
pub mod clock;
pub mod conditions;
pub mod delivery;
pub mod demo;
pub mod diagnosis;
pub mod edge;
pub mod export;
pub mod film;
pub mod film_gauges;
pub mod find;
pub mod house;
pub mod instruments;
pub mod labels;
pub mod lines;
pub mod lists;
pub mod live;
pub mod mixing;
pub mod openapi;
pub mod parts;
pub mod patterns;
pub mod people;
pub mod photos;
pub mod printing;
pub mod problem;
pub mod ratio_check;
pub mod records;
pub mod rigs;
pub mod routes;
pub mod scales;
pub mod serve;
pub mod settings;
pub mod sheets;
pub mod shop;
pub mod sorted;
pub mod state;
pub mod stores;
pub mod trace;
