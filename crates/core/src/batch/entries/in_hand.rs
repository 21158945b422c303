//! Who is on a batch: it is taken in hand, or handed to somebody. Nothing of the work hangs on it.

use super::{Asked, Statement, Told, everyone, stamp};
use crate::batch::Entry;
use crate::batch::record::Record;
use crate::limits::check_name;
use crate::people::{May, Role};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

/// A batch is in the hands of this person from now on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct InHand {
    /// Who: the one who writes it takes it, another is handed it.
    pub person: Uuid,
    /// Their name; the server fills it in.
    #[serde(default)]
    #[schema(read_only)]
    pub name: String,
}

impl Statement for InHand {
    const WAITS_AS: Option<&'static str> = None;
    const WHO: fn(Role) -> May = everyone;
    const IS_WORK: bool = false;

    fn well_formed(&self, _prefs: Prefs) -> Result<(), Refusal> {
        check_name("person", &self.name).map(drop)
    }

    fn may(&self, asked: &Asked<'_>, _value: &mut Value) -> Result<(), Refusal> {
        match asked.case.on_it() {
            Some(now) if now.said && now.person == self.person => {
                Err(Refusal::conflict("in-hand", format!("{} has it in hand already.", self.name)))
            }
            Some(_) | None => Ok(()),
        }
    }

    fn apply(self, record: &mut Record, entry: &Entry) {
        record.in_hand = Some(stamp(entry, self));
    }

    fn words(&self, _told: &Told<'_>) -> String {
        format!("In the hands of {}", self.name)
    }
}

/// Who is on a batch.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OnIt<'a> {
    /// Who.
    pub person: Uuid,
    /// Their name.
    pub name: &'a str,
    /// Somebody said so; else it is who worked on it last.
    pub said: bool,
}

impl Record {
    /// Who is on this batch.
    ///
    /// **Rule:** who took it or was handed it, last; where nobody did, who wrote the newest act or fact of the work that stands.
    /// **Source:** ours.
    pub fn on_it(&self) -> Option<OnIt<'_>> {
        if let Some(taken) = &self.in_hand {
            return Some(OnIt { person: taken.it.person, name: &taken.it.name, said: true });
        }
        let worked = self.log.iter().rev().find(|line| line.kind.is_work() && line.struck.is_none())?;
        Some(OnIt { person: worked.who, name: &worked.by, said: false })
    }
}
