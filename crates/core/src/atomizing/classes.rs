//! Classes of guns, and what each allows. A single gun's figures are its own; these are common practice in the trade.

use crate::quantity::{Prefs, QuantityKind, show};
use crate::verdict::{is_over, is_under};
use crate::worded::Worded;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Pounds a square inch in kilopascal.
const PSI: f64 = 6.894_757_293_168_361;

/// A class of guns.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum GunClass {
    /// High pressure at the cap.
    #[strum(serialize = "conventional")]
    Conventional,
    /// High volume, low pressure: at most 10 psi at the cap.
    #[strum(serialize = "high volume, low pressure")]
    Hvlp,
    /// Reduced pressure, delivering more than HVLP.
    #[strum(serialize = "reduced pressure")]
    ReducedPressure,
    /// Low volume, low pressure.
    #[strum(serialize = "low volume, low pressure")]
    Lvlp,
    /// Airless, with air around it.
    #[strum(serialize = "airless with air assist")]
    AirAssisted,
    /// Airless.
    #[strum(serialize = "airless")]
    Airless,
    /// Two streams that meet outside.
    #[strum(serialize = "twin feed, mixing outside")]
    TwinFeed,
    /// Heavy fillers.
    #[strum(serialize = "filler")]
    Filler,
    /// Textures: pressure sets the texture.
    #[strum(serialize = "texture")]
    Texture,
    /// Release films.
    #[strum(serialize = "release film")]
    ReleaseFilm,
}

impl Worded for GunClass {}

/// What the air of a class is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct AirRule {
    /// Where one starts.
    pub start_kpa: f64,
    /// Least, where less does not do.
    pub least_kpa: Option<f64>,
    /// Most.
    pub most_kpa: Option<f64>,
}

impl GunClass {
    /// Its atomizing air as read at the gun's inlet.
    ///
    /// **Source:** common practice in the trade; a gun's printed limit rules over it. **Units:** kPa.
    pub fn air(self) -> Option<AirRule> {
        let rule = |start: f64, least: Option<f64>, most: Option<f64>| {
            Some(AirRule { start_kpa: start * PSI, least_kpa: least.map(|p| p * PSI), most_kpa: most.map(|p| p * PSI) })
        };
        match self {
            GunClass::Conventional => rule(45.0, None, Some(60.0)),
            // Ten at the cap; about thirty at the inlet gives it.
            GunClass::Hvlp => rule(25.0, None, Some(30.0)),
            GunClass::ReducedPressure => rule(32.0, None, Some(40.0)),
            GunClass::Lvlp => rule(27.0, None, Some(30.0)),
            GunClass::AirAssisted => rule(12.0, Some(10.0), Some(15.0)),
            GunClass::Airless => None,
            GunClass::TwinFeed => rule(35.0, Some(35.0), Some(60.0)),
            GunClass::Filler => rule(20.0, None, Some(30.0)),
            GunClass::Texture => rule(45.0, Some(35.0), Some(70.0)),
            // Ten at the cap; what that is at the inlet is the gun's own.
            GunClass::ReleaseFilm => rule(10.0, None, None),
        }
    }

    /// Most at the cap, where the class has such a limit: 10 psi. Never compared with a figure of the inlet.
    ///
    /// **Source:** common practice in the trade. **Units:** kPa.
    /// **Rule:** 10 psi for HVLP and release film; no limit elsewhere.
    ///
    /// ```
    /// use level_keel_core::atomizing::classes::GunClass;
    /// assert!((GunClass::Hvlp.cap_most_kpa().unwrap() - 68.9476).abs() < 1e-3);
    /// assert_eq!(GunClass::Conventional.cap_most_kpa(), None);
    /// ```
    pub fn cap_most_kpa(self) -> Option<f64> {
        matches!(self, GunClass::Hvlp | GunClass::ReleaseFilm).then_some(10.0 * PSI)
    }

    /// Most fluid pressure of the class where it is sprayed by airless pump: 600 psi with air assist.
    ///
    /// **Source:** common practice in the trade. **Units:** kPa.
    /// **Rule:** 600 psi with air assist; no limit of the class elsewhere.
    pub fn fluid_most_kpa(self) -> Option<f64> {
        (self == GunClass::AirAssisted).then_some(600.0 * PSI)
    }

    /// The fluid goes by pump at hundreds of psi: a jet of it goes through skin.
    pub fn is_high_pressure(self) -> bool {
        matches!(self, GunClass::AirAssisted | GunClass::Airless)
    }
}

/// Where the air was read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ReadAt {
    /// At the cap, by a test cap.
    #[strum(serialize = "at the cap")]
    Cap,
    /// On the gun.
    #[strum(serialize = "at the gun")]
    Gun,
    /// At the end of the hose.
    #[strum(serialize = "at the hose")]
    Hose,
    /// On the wall.
    #[strum(serialize = "at the wall")]
    Wall,
}

impl Worded for ReadAt {}

/// How it was read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[derive(strum::IntoStaticStr, strum::VariantArray)]
#[serde(rename_all = "snake_case")]
pub enum ReadHow {
    /// Trigger pulled.
    #[strum(serialize = "trigger pulled")]
    Pulled,
    /// Trigger half pulled.
    #[strum(serialize = "half pulled")]
    Half,
    /// Trigger at its air stage, fluid shut.
    #[strum(serialize = "air stage, fluid shut")]
    AirStage,
    /// Trigger closed: the reading is no pressure of work.
    #[strum(serialize = "trigger closed")]
    Closed,
}

impl Worded for ReadHow {}

/// An atomizing pressure as it was read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AirRead {
    /// The figure.
    pub kpa: f64,
    /// Where.
    pub at: Option<ReadAt>,
    /// How.
    pub how: Option<ReadHow>,
    /// Inlet limit printed on the gun or cap.
    pub printed_kpa: Option<f64>,
    /// What a figure read at the wall is at the gun, where the air hose and its flow are known.
    pub at_gun_kpa: Option<f64>,
}

/// Where a figure of air can be judged.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum AirFigure {
    /// At the gun's inlet: by what is printed, else by the class.
    Inlet(f64),
    /// At the cap: by the cap's limit and by nothing else.
    Cap(f64),
    /// At the wall, and what the hose costs is not known.
    NotKnown,
}

/// Air that is over a limit the tool knows.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AirOver {
    /// The figure at the place it is judged.
    pub kpa: f64,
    /// The limit.
    pub most_kpa: f64,
    /// Printed on the gun; else the limit of the class.
    pub printed: bool,
}

impl AirRead {
    /// The figure where it can be judged: at the wall it is first carried to the gun by what the hose costs.
    pub fn figure(&self) -> AirFigure {
        match (self.at, self.at_gun_kpa) {
            (Some(ReadAt::Cap), _) => AirFigure::Cap(self.kpa),
            (Some(ReadAt::Wall), Some(kpa)) => AirFigure::Inlet(kpa),
            (Some(ReadAt::Wall), None) => AirFigure::NotKnown,
            (Some(ReadAt::Gun | ReadAt::Hose) | None, _) => AirFigure::Inlet(self.kpa),
        }
    }

    /// What it is over, if it is: an inlet figure over what is printed, else over the class; a cap figure over the cap's limit.
    pub fn over(&self, class: GunClass) -> Option<AirOver> {
        let past = |kpa: f64, most_kpa: Option<f64>, printed| {
            most_kpa.filter(|most| is_over(kpa, *most)).map(|most_kpa| AirOver { kpa, most_kpa, printed })
        };
        match self.figure() {
            AirFigure::Inlet(kpa) if self.printed_kpa.is_some() => past(kpa, self.printed_kpa, true),
            AirFigure::Inlet(kpa) => past(kpa, class.air().and_then(|rule| rule.most_kpa), false),
            AirFigure::Cap(kpa) => past(kpa, class.cap_most_kpa(), false),
            AirFigure::NotKnown => None,
        }
    }
}

/// What is to say of an atomizing pressure, worst first; empty where nothing is.
pub fn air_notes(class: GunClass, read: AirRead, prefs: Prefs) -> Vec<String> {
    let say = |kpa: f64| show(kpa, QuantityKind::Pressure, prefs).text;
    let mut notes = Vec::new();
    if let Some(over) = read.over(class) {
        let carried = if read.at == Some(ReadAt::Wall) { " at the gun" } else { "" };
        notes.push(if over.printed {
            format!(
                "{}{carried} is over the {} printed on this gun. More wanted than that means a wrong or dirty cap, a thin or kinked hose, or too much fluid.",
                say(over.kpa),
                say(over.most_kpa)
            )
        } else {
            format!("{}{carried} is more than a {} gun usually wants ({} at most).", say(over.kpa), class.word(), say(over.most_kpa))
        });
    }
    if read.figure() == AirFigure::NotKnown {
        notes.push(format!(
            "{} at the wall: what reaches the gun is not known. Read it at the gun, or write the air hose and its flow down at the rig.",
            say(read.kpa)
        ));
    }
    let inlet = if let AirFigure::Inlet(kpa) = read.figure() { Some(kpa) } else { None };
    let least = class.air().and_then(|rule| rule.least_kpa);
    if let (Some(kpa), Some(least)) = (inlet, least)
        && is_under(kpa, least)
    {
        let why = if class == GunClass::TwinFeed { ": under it the two parts do not blend" } else { "" };
        notes.push(format!("{} is under the {} a {} gun wants{why}.", say(kpa), say(least), class.word()));
    }
    if read.how == Some(ReadHow::Closed) {
        notes.push("Read with the trigger closed: with the air flowing it is less. Read it again, pulled.".into());
    }
    if read.how == Some(ReadHow::Half) {
        notes.push("Read with the trigger half pulled: fully pulled it is less.".into());
    }
    notes
}
