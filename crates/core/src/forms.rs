//! What forms are made of: the words people choose from, the units they tap, how long a list may be, what a shape asks. A page
//! takes them from here and keeps no list of its own.

use crate::acceptance::{AcceptBy, Roughness};
use crate::atomizing::classes::{GunClass, ReadAt, ReadHow};
use crate::atomizing::fan::CapTurn;
use crate::atomizing::ladder::LadderSchool;
use crate::batch::entries::{FillInto, Flowed, Happened};
use crate::batch::stations::StationState;
use crate::coat_system::Method;
use crate::component::Component;
use crate::conditions::Gate;
use crate::delivery::viscosity::FlowCup;
use crate::film::UsualComb;
use crate::film::laps::FanProfile;
use crate::instruments::Overdue;
use crate::lists::{Group, Has, Substrate, WhatKind};
use crate::mixing::Printed;
use crate::people::Role;
use crate::quantity::{CHIPS, UnitSet};
use crate::ratio_check::BondResult;
use crate::rig_book::ExchangedPiece;
use crate::rigs::RigKind;
use crate::sheets::{
    Basis, ChargeKind, FilmProof, Hazard, LookStage, MOST_ADDITIVES, MOST_STEPS, MOST_TIMES, OverlapSchool, PassWay, ReadyLook,
    Stir, StreamSchool, ThinnerBasis,
};
use crate::stores::LotState;
use crate::takeoff::{ShapeAsked, shapes_asked};
use crate::worded::{VariantArray, Worded};
use serde::Serialize;
use utoipa::ToSchema;

/// A value as it is sent, and what it is called.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Word<T> {
    /// As it is sent.
    pub value: T,
    /// What it is called.
    pub word: &'static str,
}

fn words<T: Worded + VariantArray + Copy>() -> Vec<Word<T>> {
    T::VARIANTS.iter().map(|v| Word { value: *v, word: v.word() }).collect()
}

macro_rules! chosen {
    ($($(#[$doc:meta])* $name:ident: $from:ty,)*) => {
        /// Everything chosen by a word, by what is chosen.
        #[derive(Debug, Clone, Serialize, ToSchema)]
        pub struct Words {
            $($(#[$doc])* pub $name: Vec<Word<$from>>,)*
        }

        impl Words {
            fn all() -> Words {
                Words { $($name: words(),)* }
            }
        }
    };
}

chosen! {
    /// What a coat is accepted by.
    accept_by: AcceptBy,
    /// How A and B are proportioned.
    basis: Basis,
    /// How a bonded test piece parted.
    bond_result: BondResult,
    /// What a lop-sided pattern did.
    cap_turn: CapTurn,
    /// Where paint and hardener meet.
    charge_kind: ChargeKind,
    /// Combs as they are usually cut.
    comb: UsualComb,
    /// Components.
    component: Component,
    /// What is exchanged for another alike.
    exchanged_piece: ExchangedPiece,
    /// Profiles of a fan.
    fan_profile: FanProfile,
    /// Where a fill goes.
    fill_into: FillInto,
    /// What proves the film.
    film_proof: FilmProof,
    /// Flow cups.
    flow_cup: FlowCup,
    /// Which streams of a twin feed were looked at.
    flowed: Flowed,
    /// What the conditions allow.
    gate: Gate,
    /// Headings of the lists.
    group: Group,
    /// What an overdue check of a scale does.
    overdue: Overdue,
    /// Classes of gun.
    gun_class: GunClass,
    /// What happens while it is sprayed.
    happened: Happened,
    /// What a batch must have for an item of the lists.
    has: Has,
    /// Hazards.
    hazard: Hazard,
    /// Schools of the ladder of pressure.
    ladder_school: LadderSchool,
    /// Stages of a coat at which it is looked at.
    look_stage: LookStage,
    /// How a lot stands.
    lot_state: LotState,
    /// How a coat is put on.
    method: Method,
    /// Schools of overlap.
    overlap_school: OverlapSchool,
    /// What is printed on a cup.
    printed: Printed,
    /// What a pass looks like when the next may go over it.
    ready_look: ReadyLook,
    /// Where the air was read.
    read_at: ReadAt,
    /// How it was read.
    read_how: ReadHow,
    /// Kinds of rig.
    rig_kind: RigKind,
    /// Roles.
    role: Role,
    /// Roughness of a blasted surface.
    roughness: Roughness,
    /// How a station stands.
    station_state: StationState,
    /// How a component is stirred.
    stir: Stir,
    /// Schools of the stream.
    stream_school: StreamSchool,
    /// What is coated.
    substrate: Substrate,
    /// What a per cent of thinner is of.
    thinner_basis: ThinnerBasis,
    /// Ways of a pass over the part.
    way: PassWay,
    /// What is done for an item of the lists.
    what_kind: WhatKind,
}

/// The units offered beside a field, by the end of its name; the first that fits holds.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Chips {
    /// The end of the field's name.
    pub suffix: &'static str,
    /// The units.
    pub units: &'static [&'static str],
}

/// A set of units as it is offered.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
pub struct UnitSetOffered {
    /// As it is sent.
    pub value: UnitSet,
    /// What it is called.
    pub word: &'static str,
    /// The units it is made of.
    pub units: &'static str,
}

/// How many rows the lists of a sheet may have.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Most {
    pub additives: usize,
    pub times: usize,
    pub steps: usize,
}

/// All of it.
#[derive(Debug, Clone, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Forms {
    pub words: Words,
    pub unit_sets: Vec<UnitSetOffered>,
    pub chips: Vec<Chips>,
    pub most: Most,
    pub shapes: Vec<ShapeAsked>,
}

/// What forms are made of today.
///
/// ```
/// let forms = level_keel_core::forms::forms();
/// assert_eq!(forms.words.rig_kind[0].word, "pressure pot");
/// assert_eq!(forms.chips.iter().find(|c| "pot_kpa".ends_with(c.suffix)).unwrap().units, ["psi", "bar", "kPa"]);
/// ```
pub fn forms() -> Forms {
    Forms {
        words: Words::all(),
        unit_sets: UnitSet::VARIANTS
            .iter()
            .map(|set| UnitSetOffered { value: *set, word: set.word(), units: set.units() })
            .collect(),
        chips: CHIPS.iter().map(|(suffix, units)| Chips { suffix, units }).collect(),
        most: Most { additives: MOST_ADDITIVES, times: MOST_TIMES, steps: MOST_STEPS },
        shapes: shapes_asked(),
    }
}
