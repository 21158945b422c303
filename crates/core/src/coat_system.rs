//! The coat system of a part: ordered coats, each with its product, method, film, and the preparation before it.

use crate::film::FilmIs;
use crate::limits::{self, check_text};
use crate::quantity::Prefs;
use crate::refusal::Refusal;
use crate::sheets::ChargeKind;
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// How a coat is put on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum Method {
    /// Pressure pot and gun.
    #[strum(serialize = "pressure pot")]
    Pot,
    /// A gun with its own cup.
    #[strum(serialize = "gun cup")]
    GunCup,
    /// Airless, with or without air assist, from a mixed pail.
    #[strum(serialize = "airless")]
    Airless,
    /// A machine that adds the catalyst at the gun.
    #[strum(serialize = "gel-coat machine")]
    GelCoatMachine,
    /// Two pots, mixed at the gun.
    #[strum(serialize = "twin feed")]
    TwinFeed,
    /// Brush.
    #[strum(serialize = "brush")]
    Brush,
    /// Roller or foam.
    #[strum(serialize = "roller")]
    Roller,
}

impl Worded for Method {}

impl Method {
    /// Where the two components meet.
    pub fn charge(self) -> ChargeKind {
        match self {
            Method::GelCoatMachine | Method::TwinFeed => ChargeKind::AtGun,
            Method::Pot | Method::GunCup | Method::Airless | Method::Brush | Method::Roller => ChargeKind::Pot,
        }
    }

    /// Whether it sprays: by brush and roller there is nothing to set and nothing to prove.
    pub fn sprays(self) -> bool {
        !matches!(self, Method::Brush | Method::Roller)
    }
}

/// The words of putting a coat on: a gun sprays, a brush and a roller coat.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PutOn {
    /// The station it is done at.
    pub station: &'static str,
    /// “spray it”.
    pub verb: &'static str,
    /// “while spraying”.
    pub doing: &'static str,
    /// “was sprayed”.
    pub done: &'static str,
}

impl PutOn {
    /// As a coat is put on by this method; where none is stated, by a gun.
    ///
    /// ```
    /// use level_keel_core::coat_system::{Method, PutOn};
    /// assert_eq!(PutOn::by(Some(Method::Roller)).done, "coated");
    /// assert_eq!(PutOn::by(None).done, "sprayed");
    /// ```
    pub fn by(method: Option<Method>) -> PutOn {
        if method.is_none_or(Method::sprays) {
            PutOn { station: "Spray", verb: "spray", doing: "spraying", done: "sprayed" }
        } else {
            PutOn { station: "Coat", verb: "coat", doing: "coating", done: "coated" }
        }
    }
}

/// One coat of a system as planned.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CoatPlan {
    /// Its id, when it stands already.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// Primer, finish …
    pub name: String,
    /// Its product.
    #[serde(default)]
    pub sheet: Option<Uuid>,
    /// How it is put on.
    #[serde(default)]
    pub method: Option<Method>,
    /// Film aimed at; the sheet's when missing.
    #[serde(default)]
    pub film_um: Option<f64>,
    /// Wet or dry.
    #[serde(default)]
    pub film_is: Option<FilmIs>,
    /// Preparation before it.
    #[serde(default)]
    pub prepare: Option<String>,
}

/// A coat of a part as far as what comes next goes.
#[derive(Debug, Clone, PartialEq)]
pub struct CoatState {
    /// Its name.
    pub name: String,
    /// Number of the batch that puts it on now.
    pub in_work: Option<i64>,
    /// A batch put it on, or is about to.
    pub begun: bool,
    /// The window to the coat after it, in words.
    pub window: Option<String>,
}

/// Which coat comes next, and what is said of it; `None`: every coat is on.
///
/// ```
/// use level_keel_core::coat_system::{CoatState, next};
/// let on = CoatState { name: "Primer".into(), in_work: None, begun: true, window: Some("from 14:10".into()) };
/// let bare = CoatState { name: "Finish".into(), in_work: None, begun: false, window: None };
/// assert_eq!(next(&[on, bare]), (Some(1), "Finish: from 14:10".into()));
/// ```
pub fn next(coats: &[CoatState]) -> (Option<usize>, String) {
    if let Some((i, coat, number)) = coats.iter().enumerate().find_map(|(i, c)| c.in_work.map(|n| (i, c, n))) {
        return (Some(i), format!("{}: in work, batch {number:04}", coat.name));
    }
    let Some(i) = coats.iter().position(|c| !c.begun) else { return (None, "every coat is on".into()) };
    let beneath = i.checked_sub(1).and_then(|b| coats[b].window.as_deref());
    (Some(i), format!("{}: {}", coats[i].name, beneath.unwrap_or("may begin")))
}

/// Coats of one part.
pub const MOST_COATS: usize = 12;

/// Checks a system: names once each, films inside sense.
///
/// **Errors:** a [`Refusal`] naming the field by its path.
///
/// ```
/// use level_keel_core::coat_system::{CoatPlan, check};
/// let coat: CoatPlan = serde_json::from_str(r#"{ "name": "Primer", "method": "roller" }"#).unwrap();
/// assert!(check(vec![coat.clone()], Default::default()).is_ok());
/// assert_eq!(check(vec![coat.clone(), coat], Default::default()).unwrap_err().field.as_deref(), Some("coats[1].name"));
/// ```
pub fn check(coats: Vec<CoatPlan>, prefs: Prefs) -> Result<Vec<CoatPlan>, Refusal> {
    if coats.is_empty() || coats.len() > MOST_COATS {
        return Err(Refusal::bad_input("too-many", "coats", format!("A part has 1 to {MOST_COATS} coats.")));
    }
    let mut checked: Vec<CoatPlan> = Vec::new();
    for (i, mut coat) in coats.into_iter().enumerate() {
        let at = |field: &str| format!("coats[{i}].{field}");
        coat.name = check_text(&at("name"), &coat.name, limits::LABEL_CHARS)?;
        if checked.iter().any(|c| c.name.to_lowercase() == coat.name.to_lowercase()) {
            return Err(Refusal::bad_input("twice", &at("name"), "Two coats of a part cannot have the same name."));
        }
        limits::FILM.check_optional(&at("film_um"), coat.film_um, prefs)?;
        coat.prepare = match coat.prepare.filter(|p| !p.trim().is_empty()) {
            Some(text) => Some(check_text(&at("prepare"), &text, limits::TEXT_CHARS)?),
            None => None,
        };
        checked.push(coat);
    }
    Ok(checked)
}
