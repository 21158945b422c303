//! A batch as it is judged: what its book adds up to, with what the shop knows beside it.

use super::beside::Beside;
use super::record::Record;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use std::ops::Deref;
use std::sync::LazyLock;

/// A record and its neighbours, looked at together. It owns neither, so making one costs nothing; it reads like its record.
#[derive(Debug, Clone, Copy)]
pub struct Case<'a> {
    /// What the book adds up to.
    pub record: &'a Record,
    /// What the shop knows beside it.
    pub beside: &'a Beside,
}

impl<'a> Case<'a> {
    /// A record with its neighbours.
    pub fn new(record: &'a Record, beside: &'a Beside) -> Case<'a> {
        Case { record, beside }
    }

    /// An instant as a clock of the shop shows it.
    pub fn shop_time(&self, at: Timestamp) -> String {
        let named = self.beside.zone.as_deref().or(self.record.aim().and_then(|aim| aim.zone.as_deref()));
        let zone = named.and_then(|name| TimeZone::get(name).ok()).unwrap_or(TimeZone::UTC);
        at.to_zoned(zone).strftime("%H:%M").to_string()
    }

    /// A record by itself: for what only the book can tell.
    pub fn alone(record: &'a Record) -> Case<'a> {
        static NOTHING: LazyLock<Beside> = LazyLock::new(Beside::default);
        Case { record, beside: &NOTHING }
    }
}

impl Deref for Case<'_> {
    type Target = Record;

    fn deref(&self) -> &Record {
        self.record
    }
}
