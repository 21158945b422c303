//! Lines of indicators by grammars a shop may state, and what happens on the pan. Lines invented here.

use super::near;
use super::sheet::example;
use level_keel_core::mixing::{Component, Weighed, plan};
use level_keel_core::quantity::Prefs;
use level_keel_core::weighing::{Grammar, LineFault, Notice, OWN_PATTERN, Pace, Pan, Pouring, Seen, TwoLoads, Watch, weigh_in};
use uuid::Uuid;

#[test]
fn lines_of_several_grammars() {
    let own = Grammar::new(OWN_PATTERN, None).expect("our own");
    let seen = |line: &str| own.read(line.as_bytes());
    assert_eq!(seen("W=+01234.5;U=g;M=still\r"), Ok(Seen { load_g: Some(1234.5), stable: true, overload: false }));
    assert_eq!(seen("W=-   12;U=kg;M=moving"), Ok(Seen { load_g: Some(-12_000.0), stable: false, overload: false }));
    assert_eq!(seen("W=OVER;U=g;M=moving"), Ok(Seen { load_g: None, stable: false, overload: true }));
    // The pound is 453.59237 g exactly; the library of units keeps seven digits of it.
    near(seen("W=1;U=lb;M=still").unwrap().load_g.unwrap(), 453.592_37, 1e-4);
    // Wrong unit, half a line, another instrument, noise, a figure no scale shows.
    assert_eq!(seen("W=1;U=psi;M=still"), Err(LineFault::Unit("psi".into())));
    for bad in ["W=+0123", "U=g;M=still", "ready>", "", "W=1;U=g;M=stillW=2;U=g;M=still", "W=99999999999;U=kg;M=still"] {
        assert!(seen(bad).is_err(), "{bad}");
    }
    assert!(own.read(&[0xff, 0xfe, 0x00]).is_err());
    // One that marks what moves, has no unit, and puts the sign apart.
    let other = Grammar::new(r"^(?<moving>~)?\s*(?<load>[-+]?\s*[\d.]+)$", Some("oz")).expect("another");
    assert_eq!(other.read(b"~ + 10.0").map(|s| s.stable), Ok(false));
    near(other.read(b"- 10").unwrap().load_g.unwrap(), -283.495_231_25, 1e-4);
    for (pattern, unit) in [("(", None), (r"(?<weight>\d+)", Some("g")), (r"(?<load>\d+)", None), (r"(?<load>\d+)", Some("psi"))]
    {
        assert!(Grammar::new(pattern, unit).is_err(), "{pattern} {unit:?}");
    }
}

fn still(load_g: f64) -> Seen {
    Seen { load_g: Some(load_g), stable: true, overload: false }
}

#[test]
fn what_happens_on_the_pan() {
    let mut watch = Watch::new(1.0);
    for i in 0..20 {
        // A brisk pour: 300 g a second.
        let pan = watch.push(Seen { stable: false, ..still(f64::from(i) * 30.0) }, f64::from(i) * 0.1);
        assert_eq!((pan.notice, pan.steady_s), (None, 0.0));
    }
    assert_eq!(watch.push(still(571.0), 2.0).steady_s, 0.0);
    near(watch.push(still(571.0), 3.2).steady_s, 1.2, 1e-9);
    // Lost its tare: the weight of the cup comes back at once.
    let jump = watch.push(still(871.0), 3.3).notice;
    assert_eq!(jump, Some(Notice::Jumped { from_g: 571.0, to_g: 871.0 }));
    assert_eq!(watch.push(still(871.0), 9.0).notice, jump, "it stays said");
    assert_eq!(watch.push(still(571.0), 9.5).notice, None, "until it is as before");
    // A tare lost and found while the pour runs on: taken back too.
    watch.push(Seen { stable: false, ..still(600.0) }, 9.55);
    assert!(watch.push(Seen { stable: false, ..still(960.0) }, 9.6).notice.is_some());
    assert_eq!(watch.push(Seen { stable: false, ..still(640.0) }, 9.7).notice, None);
    let over = watch.push(Seen { load_g: None, stable: false, overload: true }, 9.6);
    assert_eq!(over.notice, Some(Notice::Overload));
    // A shaky bench.
    let mut shaky = Watch::new(1.0);
    let last = (0..300).map(|i| {
        let load = if i % 2 == 0 { 500.0 } else { 505.0 };
        shaky.push(Seen { stable: false, ..still(load) }, f64::from(i) * 0.1)
    });
    assert_eq!(last.last().and_then(|p| p.notice), Some(Notice::Restless));
}

/// The example sheet, a litre: 1,136 g of base, then hardener to 1,332 g.
#[test]
fn the_hand_is_led_from_pour_to_pour() {
    let sheet = example();
    let plan = plan(&sheet, 1000.0, 0.0, Prefs::METRIC).expect("a plan");
    near(plan[0].mass_g, 1136.0, 1e-6);
    near(plan[1].running_g, 1332.0, 1e-6);
    let pot = Uuid::from_u128(7);
    let at = |pours: &[Weighed], load: f64, steady_s: f64| {
        let pan = Pan { load_g: Some(load), stable: steady_s > 0.0, steady_s, notice: None };
        let held = (load == 1400.0).then(|| "The dew is on the steel.".to_string());
        let combined = load < 1350.0 && load > 1200.0;
        let pot = Pouring { sheet: &sheet, charge: pot, plan: &plan, pours, tared: false, combined, held };
        weigh_in(&pot, &pan, 1.0, Prefs::METRIC)
    };
    let base = at(&[], 500.0, 0.0);
    assert_eq!((base.component, base.pace, base.accept), (Some(Component::Base), Pace::Pour, false));
    assert_eq!(at(&[], 1000.0, 0.0).pace, Pace::Slow);
    assert_eq!((at(&[], 1130.0, 0.5).pace, at(&[], 1130.0, 0.5).accept), (Pace::Stop, false), "not steady long enough");
    assert!(at(&[], 1130.0, 1.5).accept);
    assert_eq!((at(&[], 1300.0, 5.0).pace, at(&[], 1300.0, 5.0).accept), (Pace::Over, false));
    let poured = [Weighed { component: Component::Base, reading_g: 1136.0, resolution_g: 1.0, ..Weighed::default() }];
    let hardener = at(&poured, 1331.0, 2.0);
    assert_eq!((hardener.component, hardener.accept), (Some(Component::Hardener), true));
    assert_ne!(hardener.entry, base.entry, "each pour has an id of its own");
    assert_eq!(hardener.entry, at(&poured, 1332.0, 2.0).entry, "the same on every screen");
    // Hardener runs in before the book knows: its clock begins with it; held, the hand is told to wait.
    let running = at(&poured, 1190.0, 0.0);
    assert!(running.begun && running.combines && !running.accept);
    let held = at(&poured, 1400.0, 2.0);
    assert_eq!((held.pace, held.combines, held.notice.as_deref()), (Pace::Wait, false, Some("The dew is on the steel.")));
    // The scale was tared, the cup lifted, another cup put there.
    assert!(at(&poured, 0.0, 2.0).tared);
    assert!(at(&poured, -90.0, 2.0).notice.is_some_and(|n| n.contains("off the scale")));
    assert!(at(&poured, 640.0, 2.0).notice.is_some_and(|n| n.contains("another cup")));
    assert!(!at(&poured, 640.0, 2.0).accept);
}

/// Two cups on a tared scale of 0.1 g: each counts when it rests, the second only after the first is off.
#[test]
fn two_cups_are_weighed_in_the_order_they_are_put_on() {
    let mut loads = TwoLoads::new(0.1);
    let mut put = |load_g: f64, stable: bool| {
        let pan = Pan { load_g: Some(load_g), stable, steady_s: 1.0, notice: None };
        loads.push(&pan);
        let view = loads.view(&pan, Prefs::METRIC);
        (view.first.map(|s| s.figure), view.second.map(|s| s.figure), view.says)
    };
    assert_eq!(put(0.4, true).2, "Put the first cup on.", "a drop is no cup");
    assert_eq!(put(22.0, false), (None, None, "Put the first cup on.".into()), "it still swings");
    assert_eq!(put(40.5, true), (Some("40.5".into()), None, "Take it off.".into()));
    assert_eq!(put(40.6, true).0, Some("40.5".into()), "what rested first stands");
    // An empty cup was tared: without one the scale shows less than nothing.
    assert_eq!(put(-12.3, true).2, "Put the second cup on.");
    assert_eq!(put(3.0, false).1, None);
    assert_eq!(put(5.0, true), (Some("40.5".into()), Some("5".into()), "Both are weighed.".into()));
    assert_eq!(put(-12.3, true).1, Some("5".into()));
}
