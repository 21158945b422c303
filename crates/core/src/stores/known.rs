//! What a lot means for a batch: pinned where it is taken, asked anew while the work goes on.

use crate::component::Component;
use crate::quantity::show_duration;
use crate::sheets::Sheet;
use crate::verdict::Severity;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What the stores know of a lot.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LotKnown {
    /// The stores received it.
    pub received: bool,
    /// This code belongs to another product or component: which.
    #[serde(default)]
    pub belongs_to: Option<String>,
    /// Its colour.
    #[serde(default)]
    pub colour: Option<String>,
    /// The end of its last good day; missing: not known.
    #[serde(default)]
    pub expires_at: Option<Timestamp>,
    /// Why nobody may take it.
    #[serde(default)]
    pub quarantined: Option<String>,
    /// How its container is damaged.
    #[serde(default)]
    pub damaged: Option<String>,
    /// It has a certificate.
    #[serde(default)]
    pub certified: bool,
    /// The lot that is first in, when it is another.
    #[serde(default)]
    pub first: Option<String>,
    /// Another lot of the same component already on this part.
    #[serde(default)]
    pub on_part: Option<String>,
    /// Left of it then.
    #[serde(default)]
    pub left_g: Option<f64>,
}

/// The end of a lot's last good day, in the shop's own time.
///
/// ```
/// let zone = jiff::tz::TimeZone::fixed(jiff::tz::offset(2));
/// let end = level_keel_core::stores::good_until("2026-03-20".parse().unwrap(), &zone).unwrap();
/// assert_eq!(end.to_string(), "2026-03-20T22:00:00Z");
/// ```
pub fn good_until(last: Date, zone: &TimeZone) -> Option<Timestamp> {
    last.tomorrow().ok()?.to_zoned(zone.clone()).ok().map(|z| z.timestamp())
}

/// Something wrong with a lot.
#[derive(Debug, Clone, PartialEq)]
pub struct Trouble {
    /// Hold or stop.
    pub severity: Severity,
    /// Scopes a release: a release of one trouble is none of another.
    pub code: &'static str,
    /// What, and what to do.
    pub text: String,
}

impl LotKnown {
    /// What is wrong with taking this lot, worst first; empty when nothing is.
    pub fn troubles(&self, code: &str, sheet: &Sheet, component: Component, now: Timestamp) -> Vec<Trouble> {
        let mut found = Vec::new();
        let mut add = |severity, key, text: String| found.push(Trouble { severity, code: key, text });
        if let Some(whose) = &self.belongs_to {
            add(Severity::Stop, "wrong-lot", format!("Lot {code} is {whose}. Take the lot of this product."));
            return found;
        }
        if let Some(why) = &self.quarantined {
            add(Severity::Stop, "quarantined-lot", format!("Lot {code} is in quarantine: {why}. Take another lot."));
        }
        if self.expires_at.is_some_and(|end| end <= now) {
            let since = self.expires_at.map_or(0.0, |end| now.duration_since(end).as_secs_f64());
            add(
                Severity::Stop,
                "expired-lot",
                format!("Lot {code} is past its date by {}. Take another lot.", show_duration(since)),
            );
        }
        let aged = matches!(component, Component::Base | Component::Hardener);
        if !self.received {
            add(
                Severity::Hold,
                "unknown-lot",
                format!("Lot {code} is not received in the stores: its age cannot be told. Receive it there."),
            );
        } else if aged && self.expires_at.is_none() {
            add(Severity::Hold, "undated-lot", format!("Lot {code} has no date: its age cannot be told. Ask the maker."));
        }
        if let Some(how) = &self.damaged {
            add(
                Severity::Hold,
                "damaged-lot",
                format!("The container of lot {code} is damaged: {how}. Take another, or a lead looks at it."),
            );
        }
        if component == Component::Base
            && let Some(wanted) = &sheet.colour
        {
            match &self.colour {
                Some(is) if wanted.trim().to_lowercase() == is.trim().to_lowercase() => {}
                Some(is) => add(Severity::Hold, "other-colour", format!("Lot {code} is {is}; the sheet says {wanted}.")),
                None if self.received => {
                    let text = format!(
                        "Lot {code} has no colour written; the sheet says {wanted}. Read its label: strike its receipt and receive it with its colour, or a lead releases it."
                    );
                    add(Severity::Hold, "colour-unknown", text);
                }
                // A lot nobody received is said to be unknown, with all that is not known of it.
                None => {}
            }
        }
        if sheet.certificate_needed && aged && self.received && !self.certified {
            add(
                Severity::Hold,
                "no-certificate",
                format!("Lot {code} has no certificate. The sheet asks for it: enter it in the stores."),
            );
        }
        if let Some(other) = &self.on_part {
            add(
                Severity::Hold,
                "second-lot",
                format!("Lot {code} would be the second on this part, after {other}. One lot for the whole part."),
            );
        }
        found.sort_by_key(|t| t.severity != Severity::Stop);
        found
    }
}
