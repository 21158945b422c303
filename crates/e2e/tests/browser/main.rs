//! The real interface, driven in a headless browser: one program, so that a whole run links it once.

mod access;
mod asking;
mod board;
mod dialogs;
mod faults;
mod finding;
mod first_hour;
mod forms;
mod glass;
mod hands;
mod journeys;
mod keeping;
mod offline;
mod people;
mod pictures;
mod pot;
mod pots;
mod proving;
mod ready;
mod ready_to_use;
mod rig_care;
mod setting;
mod setting_by_gun;
mod trade;
mod units;
mod weighing;
