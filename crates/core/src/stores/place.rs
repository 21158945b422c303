//! A place where lots stand, and its book: how it is to be kept, and what people read there.

use crate::book::{Asking, Carries, Entry, Ledger, LedgerKind, Log, Strike, kinds, own_or_lead};
use crate::limits::{self, check_name};
use crate::quantity::{Prefs, QuantityKind, show};
use crate::refusal::Refusal;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

/// How a place is called, the band it is to keep, and the probe that watches it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Place {
    pub name: String,
    #[serde(default)]
    pub store_min_c: Option<f64>,
    #[serde(default)]
    pub store_max_c: Option<f64>,
    #[serde(default)]
    pub probe: Option<String>,
}

impl Place {
    /// A place known by its name alone.
    pub fn named(name: &str) -> Place {
        Place { name: name.into(), store_min_c: None, store_max_c: None, probe: None }
    }

    /// Its name trimmed, its band in order and inside the limits; an empty probe is none.
    ///
    /// **Errors:** a refusal naming the field.
    pub fn validate(mut self, prefs: Prefs) -> Result<Place, Refusal> {
        self.name = check_name("name", &self.name)?;
        limits::TEMPERATURE.check_optional("store_min_c", self.store_min_c, prefs)?;
        limits::TEMPERATURE.check_optional("store_max_c", self.store_max_c, prefs)?;
        if self.store_min_c.zip(self.store_max_c).is_some_and(|(min, max)| min > max) {
            return Err(Refusal::bad_input("out-of-order", "store_max_c", "The warmest is colder than the coldest."));
        }
        self.probe = self.probe.filter(|p| !p.trim().is_empty());
        Ok(self)
    }
}

kinds! {
    /// Kinds of entry in the book of a place.
    enum PlaceKind;
    /// What an entry in the book of a place says, decoded.
    enum PlacePayload;

    /// How it is to be kept, put down or changed. The server writes it.
    Changed: PlaceChanged,
    /// A temperature, read by hand.
    Temperature: Temperature,
    /// An entry is struck.
    Strike: Strike,
}

impl LedgerKind for PlaceKind {
    const STRIKE: PlaceKind = PlaceKind::Strike;

    fn carries(self) -> Carries {
        self.carried()
    }

    fn written_inside(self) -> Option<&'static str> {
        (self == PlaceKind::Changed).then_some("A place is changed on the page of the stores.")
    }

    fn may_be_struck(self) -> Result<(), Refusal> {
        match self {
            PlaceKind::Temperature => Ok(()),
            PlaceKind::Changed => Err(Refusal::conflict("not-strikable", "A place is changed anew, not struck.")),
            PlaceKind::Strike => Err(Refusal::conflict("not-strikable", "A strike is not struck. Enter it again.")),
        }
    }
}

/// A temperature that was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Temperature {
    /// So warm.
    pub temp_c: f64,
}

/// A place as it is from then on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlaceChanged {
    /// As it is.
    pub place: Place,
    /// As it was; missing for a new one.
    #[serde(default)]
    pub before: Option<Place>,
}

/// A place as its book says.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct PlaceBook {
    /// How it is to be kept; `None`: its book tells of readings alone.
    pub place: Option<Place>,
    /// What was read and not struck, in the order it was written.
    pub readings: Vec<(Timestamp, f64)>,
    /// Every entry, and the head.
    pub log: Log<PlaceKind, PlacePayload>,
}

impl Ledger for PlaceBook {
    const BOOK: &'static str = "place";
    type Kind = PlaceKind;
    type Said = PlacePayload;
    type Beside = ();

    fn log(&self) -> &Log<PlaceKind, PlacePayload> {
        &self.log
    }

    fn log_mut(&mut self) -> &mut Log<PlaceKind, PlacePayload> {
        &mut self.log
    }

    fn decode(kind: PlaceKind, version: i32, payload: &Value) -> Result<PlacePayload, Refusal> {
        PlacePayload::decode(kind, version, payload)
    }

    fn strike(said: &PlacePayload) -> Option<&Strike> {
        if let PlacePayload::Strike(strike) = said { Some(strike) } else { None }
    }

    fn apply(&mut self, said: &PlacePayload, entry: &Entry<PlaceKind>) {
        match said {
            PlacePayload::Changed(c) => self.place = Some(c.place.clone()),
            PlacePayload::Temperature(t) => self.readings.push((entry.happened, t.temp_c)),
            PlacePayload::Strike(_) => {}
        }
    }

    fn may(&self, entry: &mut Entry<PlaceKind>, asked: &Asking<'_, ()>) -> Result<(), Refusal> {
        match PlaceBook::decode(entry.kind, entry.version, &entry.payload)? {
            PlacePayload::Changed(c) => c.place.validate(asked.writer.prefs).map(drop),
            PlacePayload::Temperature(t) => {
                limits::TEMPERATURE.check("temp_c", t.temp_c, asked.writer.prefs)?;
                if self.readings.iter().any(|(at, _)| *at == entry.happened) {
                    let text = "A reading of this very instant stands here already.";
                    return Err(Refusal::conflict("read-already", text));
                }
                Ok(())
            }
            PlacePayload::Strike(s) => {
                s.has_a_reason()?;
                own_or_lead(s.of(&self.log)?, asked.writer)
            }
        }
    }

    fn words(&self, said: &PlacePayload, prefs: Prefs) -> String {
        match said {
            PlacePayload::Changed(PlaceChanged { place, before: None }) => format!("Written down as {}", place.name),
            PlacePayload::Changed(PlaceChanged { place, .. }) => format!("Changed: {}", place.name),
            PlacePayload::Temperature(t) => format!("Read {}", show(t.temp_c, QuantityKind::Temperature, prefs).text),
            PlacePayload::Strike(s) => format!("Struck an entry: {}", s.reason),
        }
    }
}
