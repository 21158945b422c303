//! When the next check is due, and the chart that shows it.

use super::*;

#[test]
fn the_next_check_is_due_by_trend_or_by_the_shop_whichever_comes() {
    let all = studied(&rising(), &[]);
    let study = all.last().unwrap();
    // By its trend at 17.54 kg; the shop asks for nothing.
    let by_trend = due(study, None).unwrap();
    assert!((by_trend.at_kg.unwrap() - 17.542).abs() < 1e-3 && by_trend.at.is_none());
    assert_eq!(by_trend.overdue(after(999.0), Some(17.54), Prefs::METRIC), None);
    assert!(by_trend.overdue(after(11.0), Some(17.55), Prefs::METRIC).unwrap().contains("met its limit"));
    // Kilograms nobody knows are no pass: what a pass took was not written, so the check is due.
    assert!(by_trend.overdue(after(11.0), None, Prefs::METRIC).unwrap().contains("nobody wrote what a pass took"));
    assert!((by_trend.left_kg(Some(10.0)).unwrap() - 7.542).abs() < 1e-3);
    // At a kilogram an hour, seven and a half hours; without a rate nobody says.
    let gone = by_trend.gone_at(after(10.0), Some(10.0), Some(1.0 / 3600.0)).unwrap();
    assert!((gone.duration_since(after(17.542)).as_secs_f64()).abs() < 2.0);
    assert_eq!(by_trend.gone_at(after(10.0), Some(10.0), None), None);
    // The shop's own four hours stand beside it; on the hour it still stands.
    let both = due(study, Some(4.0 * 3600.0)).unwrap();
    assert_eq!((both.at, both.at_by), (Some(after(14.0)), Some(DueBy::Shop)));
    assert_eq!(both.overdue(after(14.0), Some(12.0), Prefs::METRIC), None);
    assert!(both.overdue(after(14.01), Some(12.0), Prefs::METRIC).unwrap().contains("shop’s own interval"));
    assert!(both.overdue(after(11.0), Some(18.0), Prefs::METRIC).is_some());
    // Where nobody knows the kilograms, the trend runs along the hours: the same line, met at 17.54 h.
    let hours: Vec<LedgerProof> = rising().into_iter().map(|p| LedgerProof { sprayed_kg: None, ..p }).collect();
    let by_hours = due(studied(&hours, &[]).last().unwrap(), Some(10.0 * 3600.0)).unwrap();
    assert_eq!(by_hours.at_by, Some(DueBy::Trend));
    assert!((by_hours.at.unwrap().duration_since(after(17.542)).as_secs_f64()).abs() < 60.0, "{by_hours:?}");
    // Seven catches have no trend, and a flat regime none that is real: the shop's interval alone.
    let seven = due(studied(&rising()[..7], &[]).last().unwrap(), Some(3600.0)).unwrap();
    assert_eq!((seven.at_kg, seven.at), (None, Some(after(8.0))));
    assert_eq!(due(studied(&rising()[..7], &[]).last().unwrap(), None), None);
    // Out or in doubt, the hold of the ratio speaks, and no clock.
    let mut out = rising();
    let last = out.last_mut().unwrap().figure.as_mut().unwrap();
    (last.lo, last.value, last.hi) = (8.5, 8.54, 8.58);
    assert_eq!(due(studied(&out, &[]).last().unwrap(), Some(3600.0)), None);
}

/// Where the band is past the tolerance already, longer catching is asked, and a catch is good for a quarter of the interval.
#[test]
fn too_noisy_says_catch_longer() {
    let noisy = [7.75, 7.95, 7.80, 8.00, 7.95, 8.15, 8.00, 8.25, 8.10, 8.32];
    let proofs: Vec<LedgerProof> = (1..).map(f64::from).zip(noisy).map(|(x, r)| caught(r, x, x)).collect();
    let all = studied(&proofs, &[]);
    assert!(all[0].trend.unwrap().is_real());
    let by = due(&all[0], Some(4.0 * 3600.0)).unwrap();
    assert_eq!((by.noisy, by.at_by, by.at, by.at_kg), (true, Some(DueBy::Noisy), Some(after(11.0)), None));
    assert!(by.overdue(after(11.01), None, Prefs::METRIC).unwrap().contains("catch longer"));
    // A shop without an interval has a quarter of the twelve hours.
    assert_eq!(due(&all[0], None).unwrap().at, Some(after(13.0)));
}

#[test]
fn a_chart_keeps_tolerance_limits_and_regimes_apart() {
    let proofs = rising();
    let exchanged = [exchanged(2.5, "the filter was exchanged")];
    let of = |proofs: &[LedgerProof], exchanged: &[Exchanged], most| {
        let all = studied(proofs, exchanged);
        chart(proofs, &all, most, Prefs::METRIC).unwrap()
    };
    let whole = of(&proofs, &[], NEWEST_DRAWN);
    assert_eq!((whole.points.len(), whole.regimes.len(), whole.ranges.len(), whole.earlier), (10, 1, 9, 0));
    assert_eq!((whole.least.figure.as_str(), whole.most.figure.as_str()), ("7.62", "8.42"));
    let regime = &whole.regimes[0];
    assert!(
        whole.wall_low < regime.lo.unwrap() && regime.hi.unwrap() < whole.wall_high,
        "control limits lie inside the tolerance"
    );
    assert!(whole.points.iter().all(|p| p.lo < p.y && p.y < p.hi && (0.0..=1.0).contains(&p.x)));
    assert!(whole.points.windows(2).all(|w| w[0].x < w[1].x));
    // The check lies past the last catch, where the upper edge of the band meets the wall.
    let (band, at) = (whole.trend.as_ref().unwrap().band.last().unwrap(), whole.due_x.unwrap());
    assert!(at > whole.points[9].x && at <= 1.0 && (band[0] - at).abs() < 1e-9 && (band[3] - whole.wall_high).abs() < 1e-6);
    assert_eq!(whole.said[0].title, "Two of three high.");
    assert!(whole.points[9].fired && !whole.points[0].fired);
    // Parted by the filter: two regimes side by side, limits only from eight catches on, none across.
    let parted = of(&proofs, &exchanged, NEWEST_DRAWN);
    assert_eq!(parted.regimes.len(), 2);
    assert!(parted.regimes[0].lo.is_none() && parted.regimes[1].lo.is_some());
    assert!(parted.regimes[0].to <= parted.regimes[1].from + 1e-9);
    assert!(parted.regimes[1].title.starts_with("the filter was exchanged"));
    // Of many only the newest are drawn.
    assert_eq!((of(&proofs, &[], 4).points.len(), of(&proofs, &[], 4).earlier), (4, 6));
}
