//! From a symptom to its causes: the tables are whole, the ranking keeps its rules, planted causes are found, clean records accused
//! of nothing.

mod data;
mod defects;
mod plant;
mod planted;
mod ranked;
mod signs;
