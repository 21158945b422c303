//! The rules of the trade and every computation of Level Keel: no I/O, no clock, no interface.
//!
//! A map of the rooms, in the order data flows through them:
//!
//! | module | answers |
//! |---|---|
//! | [`quantity`] | what a person typed, as a number in one base unit; a number, as that person reads it |
//! | [`limits`] | the bounds of every input, each stated once |
//! | [`refusal`] | the one public error: what, why, which field, and the way out |
//! | [`verdict`] | a value with its uncertainty against a tolerance: in, out, cannot tell; the level |
//! | [`working`] | a sum as one would write it on paper |
//! | [`sheets`] | a product: ratio, densities, life, band, hazards |
//! | [`sheet_form`] | what a new sheet asks by its kind, what it comes to while it is typed |
//! | [`takeoff`] | the area of a job from simple shapes |
//! | [`mixing`] | need, pots, pour plan, scale honesty, ratio as weighed, rescue, marked cups, confusions |
//! | [`weighing`] | lines of a scale, what happens on the pan, the pour in hand |
//! | [`pot_life`] | life at a temperature, age, state of a pot |
//! | [`conditions`] | dew point, margin, go / hold / stop |
//! | [`delivery`] | hose, lift, nozzle: flow and stream from pressure and back; viscosity; what catch and stream teach |
//! | [`atomizing`] | air hose, classes of guns, tips, the pattern ladder |
//! | [`rigs`] | what stands between supply and nozzle, and what it bears |
//! | [`care`] | shutting a rig down, never opened under pressure, flushing, what is due |
//! | [`instruments`] | scales and gauges, checked and found off |
//! | [`ratio_check`] | the ratio of two streams: catches, ledger, trend, balance |
//! | [`film`] | wet, dry, need, comb |
//! | [`acceptance`] | the dry film by gauge: spots drawn by lot, 80/20, the gauge on its foil |
//! | [`diagnosis`] | from a symptom to its likely causes, and what to look at next |
//! | [`coat_system`] | the coat system of a part, and how a coat is put on |
//! | [`recoat`] | recoat window, of a product and of a pair |
//! | [`stores`] | lots: what is left, which first, how they are kept |
//! | [`lists`] | what is checked before a coat, from data a lead edits |
//! | [`forms`] | the words people choose from, the units they tap |
//! | [`people`] | roles and what each may do |
//! | [`shop`] | what a shop says of itself, its first visit, its first steps |
//! | [`trace`] | what else went through a tip, or was weighed on a scale in doubt |
//! | [`book`] | the one engine of every log book: fold, strike, canonical bytes |
//! | [`batch`] | the log book of a batch: entries, gates, view, stations |
//! | [`rig_book`] | the log book of a rig |
//!
//! **Units policy.** Every `f64` carries its unit in its name (`_g _ml _mm _um _m2 _c _dk _kpa _pct _s
//! _ml_min _kg_l`); pressure is gauge; `_c` is a temperature, `_dk` a difference of two.

pub mod acceptance;
pub mod atomizing;
pub mod batch;
pub mod book;
pub mod care;
pub mod checkpoint;
pub mod coat_system;
pub mod component;
pub mod conditions;
pub mod day_end;
pub mod delivery;
pub mod diagnosis;
pub mod film;
pub mod forms;
pub mod instruments;
pub mod labels;
pub mod limits;
pub mod lists;
pub mod mixing;
pub mod people;
pub mod pot_life;
pub mod quantity;
pub mod ratio_check;
pub mod recoat;
pub mod refusal;
pub mod rig_book;
pub mod rigs;
pub mod scan;
pub mod sheet_form;
pub mod sheets;
pub mod shop;
pub mod shop_time;
pub mod stores;
pub mod takeoff;
pub mod trace;
pub mod trends;
pub mod verdict;
pub mod weighing;
pub mod wire;
pub mod worded;
pub mod working;

/// The version printed on every signed card, so that a later fix never silently changes a signed verdict.
pub const CORE_VERSION: &str = env!("CARGO_PKG_VERSION");
