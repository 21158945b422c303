//! How evidence is weighed, and what is asked next.

use level_keel_core::diagnosis::*;
use uuid::Uuid;

fn heard(sign: Sign, side: Side) -> Heard {
    Heard { sign, side, text: "as read".into(), entry: Some(Uuid::from_u128(1)) }
}

fn of(ranked: &[Ranked], cause: Cause) -> &Ranked {
    ranked.iter().find(|r| r.cause == cause).unwrap()
}

#[test]
fn strong_is_said_only_of_a_telling_sign_that_nothing_telling_contradicts() {
    use Sign::*;
    let strength = |heard: &[Heard]| of(&rank(Symptom::Blisters, heard, &[], &[]), Cause::SolventTrapped).strength;
    assert_eq!(strength(&[]), Strength::Open);
    assert_eq!(strength(&[heard(PassEarly, Side::NotRecorded)]), Strength::Open, "what nobody wrote is no evidence");
    assert_eq!(strength(&[heard(PassEarly, Side::For)]), Strength::Strong);
    assert_eq!(strength(&[heard(PassEarly, Side::Against)]), Strength::Against);
    assert_eq!(strength(&[heard(FilmHeavy, Side::For), heard(OverThinned, Side::For)]), Strength::Some, "lesser signs alone");
    assert_eq!(strength(&[heard(PassEarly, Side::For), heard(FilmHeavy, Side::Against)]), Strength::Strong);
    assert_eq!(strength(&[heard(PassEarly, Side::Against), heard(FilmHeavy, Side::For)]), Strength::Against);
    // Somebody looked, and it was not so: nothing strong is left.
    let no = Answered { look: Look::SmellsInside, yes: false, text: String::new(), entry: Uuid::from_u128(9) };
    let ranked = rank(Symptom::Blisters, &[heard(PassEarly, Side::For)], &[no], &[]);
    assert_eq!(of(&ranked, Cause::SolventTrapped).strength, Strength::Some);
}

#[test]
fn causes_stand_by_what_speaks_for_them_and_alike_in_the_order_of_the_trade() {
    let ranked = rank(Symptom::Porosity, &[], &[], &[]);
    let order: Vec<Cause> = causes_of(Symptom::Porosity).iter().map(|row| row.cause).collect();
    assert_eq!(ranked.iter().map(|r| r.cause).collect::<Vec<_>>(), order);
    let told = [heard(Sign::ByHand, Side::For), heard(Sign::FirstPassHeavy, Side::Against), heard(Sign::MaterialCold, Side::For)];
    let ranked = rank(Symptom::Porosity, &told, &[], &[]);
    assert_eq!((ranked[0].cause, ranked[1].cause), (Cause::ColdMaterial, Cause::FastBrushing));
    assert_eq!(ranked.last().unwrap().cause, Cause::FirstPassHeavy);
    assert_eq!((ranked[0].score, ranked[1].score, ranked.last().unwrap().score), (3.0, 2.0, -3.0));
    assert_eq!(ranked[0].evidence[0].entry, Some(Uuid::from_u128(1)), "each piece names its entry");
}

#[test]
fn an_answer_moves_the_causes_it_names() {
    let answer = |yes: bool| Answered { look: Look::AirOnGlass, yes, text: "oily film".into(), entry: Uuid::from_u128(2) };
    let score = |answered: &[Answered], cause: Cause| of(&rank(Symptom::FishEyes, &[], answered, &[]), cause).score;
    assert_eq!(score(&[answer(true)], Cause::WetAir), 2.0);
    assert_eq!(score(&[answer(true)], Cause::Dirt), -2.0);
    assert_eq!(score(&[answer(false)], Cause::WetAir), -2.0);
    assert_eq!(score(&[answer(false)], Cause::Dirt), 0.0, "a no speaks of none but the cause that was asked");
    let ranked = rank(Symptom::FishEyes, &[], &[answer(true)], &[]);
    assert!(ranked[0].evidence[0].text.ends_with("Yes. oily film"), "{:?}", ranked[0].evidence);
    assert_eq!(ranked[0].strength, Strength::Some, "a look alone is not strong");
}

/// What the shop found before is weighed in from five outcomes on, said, and never outweighs a telling sign.
#[test]
fn the_shops_own_outcomes_weigh_in_and_say_so() {
    let settled = |n: u32| vec![(Cause::Dirt, n)];
    let four = rank(Symptom::FishEyes, &[], &[], &settled(4));
    assert_eq!((four[0].cause, four[0].shop), (Cause::WetAir, None), "four are too few");
    let five = rank(Symptom::FishEyes, &[], &[], &settled(5));
    assert_eq!(five[0].cause, Cause::Dirt);
    assert_eq!(five[0].shop, Some(Found { count: 5, of: 5 }));
    // (5 + 1)·3 / (5 + 3) = 2.25, its logarithm 0.811.
    assert!((five[0].score - 0.810_930).abs() < 1e-6, "{}", five[0].score);
    assert_eq!(five[0].strength, Strength::Open, "a habit is no evidence of this one");
    let many = rank(Symptom::FishEyes, &[heard(Sign::TrapsNotDrained, Side::For)], &[], &settled(1000));
    assert_eq!(many[0].cause, Cause::WetAir, "1,000 of 1,000 move a cause by one at the most");
    assert_eq!(of(&many, Cause::Dirt).score, 1.0);
    assert_eq!(of(&many, Cause::CatalystDroplets).score, -1.0);
}

#[test]
fn the_next_look_parts_the_two_that_lead() {
    let ranked = rank(Symptom::Peel, &[heard(Sign::DewNear, Side::For), heard(Sign::RecoatLate, Side::For)], &[], &[]);
    let (row, leading) = next_look(Symptom::Peel, &ranked, &[]).unwrap();
    assert_eq!(leading, [Cause::RecoatLate, Cause::Dew]);
    assert!(row.yes.contains(&Cause::RecoatLate) && row.no.contains(&Cause::Dew), "{row:?}");
    // Asked and answered, the next one that parts them is asked; in the end none is left.
    let mut answered: Vec<Answered> = Vec::new();
    while let Some((row, _)) = next_look(Symptom::Peel, &ranked, &answered) {
        assert!(answered.iter().all(|a| a.look != row.look), "asked twice");
        assert!(row.asks(Symptom::Peel));
        answered.push(Answered { look: row.look, yes: false, text: String::new(), entry: Uuid::nil() });
    }
    assert!(answered.len() >= 2, "{answered:?}");
}

#[test]
fn a_look_of_another_symptom_is_not_asked() {
    for symptom in [Symptom::Stripes, Symptom::EarlyGel, Symptom::FishEyes] {
        let ranked = rank(symptom, &[], &[], &[]);
        let (row, _) = next_look(symptom, &ranked, &[]).unwrap();
        assert!(row.asks(symptom), "{row:?}");
    }
}
