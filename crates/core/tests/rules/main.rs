//! Every rule of core, asked as a book would ask it: one program, so that it links once.

mod asked;
mod batch;
mod beginning;
mod book;
mod care;
mod circles;
mod coats;
mod delivery;
mod deviations;
mod gates;
mod hands_next;
mod judgements;
mod level;
mod limits_of_advice;
mod lists;
mod lots;
mod mix;
mod properties;
mod purity;
mod refusals;
mod resolve;
mod rig_books;
mod set;
mod stations;
mod words;
mod zones_and_steps;
