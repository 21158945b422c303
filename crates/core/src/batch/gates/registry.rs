//! The one list of gates, in the order they are asked. A new gate is a file beside this one, and a line here.

use super::{Gate, conditions, film, guards, induction, life, lists, lots, ratio, recoat, thinner};

pub(super) static ALL: [Gate; 10] = [
    conditions::GATE,
    guards::GATE,
    lots::GATE,
    lists::GATE,
    recoat::GATE,
    film::GATE,
    ratio::GATE,
    thinner::GATE,
    life::GATE,
    induction::GATE,
];
