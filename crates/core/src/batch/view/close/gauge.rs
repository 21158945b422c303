//! The dry film by gauge, as the screen draws it: the part with its spots, each spot and area as a level, and what to do.

use crate::acceptance::eighty_twenty::{LEAST_PART, MOST_PART};
use crate::acceptance::spots::{READINGS_OF_SPOT, USUAL_LEVEL, spot_limits};
use crate::acceptance::{AcceptBy, draw::DrawnSpot};
use crate::batch::accepting::surface::read_along;
use crate::batch::accepting::{AreaState, ByGauge, SpotState};
use crate::batch::case::Case;
use crate::batch::gates::unproved_words;
use crate::batch::passes::{ZoneDrawn, drawn};
use crate::quantity::{Prefs, QuantityKind, Shown, edit_text, show};
use crate::verdict::{Level, Measured, Tolerance, Verdict};
use crate::worded::{Worded, capital};
use crate::working::Working;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The dry film by gauge.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct GaugeSeen {
    /// How it is measured; missing: nobody said yet.
    pub by: Option<AcceptBy>,
    /// Against what, in one line.
    pub line: String,
    /// Least and most the sheet wants, as a form takes them.
    pub least: Option<Shown>,
    pub most: Option<Shown>,
    /// The surface asks for readings on bare steel, or for its roughness.
    pub blasted: bool,
    pub beneath: bool,
    /// The gauge on its foil, newest.
    pub foil: Option<FoilSeen>,
    /// The name the gauge had last, and one division of it.
    pub gauge: String,
    pub division: Option<String>,
    pub drawing: Vec<ZoneDrawn>,
    pub areas: Vec<AreaSeen>,
    pub reads: Vec<ReadSeen>,
    /// Readings taken of those asked.
    pub count_line: String,
    /// The part as one level: the mean of all that was read.
    pub level: Option<Level>,
    pub verdict: Option<Verdict>,
    /// What is to be done, with its reason.
    pub advice: Vec<String>,
    /// Where the gauge goes next.
    pub next: Option<NextSpot>,
    /// Seed and generator of the draw.
    pub drawn_by: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub working: Option<Working>,
}

/// The gauge on its foil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct FoilSeen {
    pub text: String,
    pub right: bool,
    /// What it is, as a form takes it.
    pub foil: String,
}

/// An area.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct AreaSeen {
    pub no: u32,
    pub spots: Vec<SpotSeen>,
    pub level: Option<Level>,
    pub line: String,
}

/// A spot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SpotSeen {
    pub area_no: u32,
    pub spot_no: u32,
    pub entry: Option<Uuid>,
    /// Where it lies, in words.
    pub place: String,
    /// Place in the picture of the part, 0 to 1.
    pub x: f64,
    pub y: f64,
    pub readings: Vec<String>,
    pub level: Option<Level>,
}

/// A single reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct ReadSeen {
    pub entry: Uuid,
    pub zone: Option<String>,
    pub film: Shown,
    pub word: String,
}

/// The spot that is next.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct NextSpot {
    pub area_no: u32,
    pub spot_no: u32,
    pub text: String,
}

fn film(um: f64, prefs: Prefs) -> String {
    show(um, QuantityKind::Film, prefs).text
}

/// Where a spot lies, in words: with a tape where the shape is known, else by thirds.
fn place(case: &Case<'_>, spot: &DrawnSpot, prefs: Prefs) -> String {
    let zones = case.zones();
    let name = zones.iter().find(|(id, _)| *id == spot.zone).map_or(String::new(), |(_, name)| name.clone());
    let say = |mm: f64| show(mm, QuantityKind::Length, prefs).text;
    let third = |v: f64| ((v * 3.0) as usize).min(2);
    let lies = match (spot.across_mm, spot.down_mm) {
        (Some(across), Some(down)) => format!("{} across, {} down", say(across), say(down)),
        _ => match (third(spot.y), third(spot.x)) {
            (1, 1) => "the middle".into(),
            (down, across) => format!("{} {}", ["upper", "middle", "lower"][down], ["left", "middle", "right"][across]),
        },
    };
    // A part without zones need not say that it is the whole of it.
    let place = [spot.zone.map_or("", |_| name.as_str()), spot.face.as_str()].into_iter().filter(|s| !s.is_empty());
    match place.collect::<Vec<_>>().join(", ").as_str() {
        "" => lies,
        place => format!("{place}: {lies}"),
    }
}

/// The place of a spot in the picture of the whole part.
fn in_picture(drawing: &[ZoneDrawn], spot: &DrawnSpot) -> (f64, f64) {
    let zone = drawing.iter().find(|d| d.id == spot.zone).or(drawing.first());
    zone.map_or((spot.x, spot.y), |d| (d.x + spot.x * d.wide, d.y + spot.y * d.high))
}

/// A level of the dry film between the limits of the area, under the verdict of its own limits.
fn drawn_level(label: &str, um: Measured, band: (f64, f64), verdict: Verdict, prefs: Prefs) -> Level {
    let tolerance = Tolerance::between(band.0, band.1);
    Level::draw(label, um, tolerance, band.1 - band.0, QuantityKind::Film, prefs).ruled_by(verdict)
}

pub(super) fn seen(case: &Case<'_>, prefs: Prefs) -> GaugeSeen {
    let drawing = drawn(case);
    let band = case.dry_band_um();
    let foil = case.gauge_foils.last().map(|f| FoilSeen {
        right: f.it.verdict() == Some(Verdict::In),
        foil: edit_text(f.it.foil_um, QuantityKind::Film, prefs),
        text: format!(
            "{} on the {} foil at {}, reads {}.",
            f.it.gauge,
            film(f.it.foil_um, prefs),
            case.shop_time(f.at),
            film(f.it.mean_um(), prefs)
        ),
    });
    let named = case.gauge_reads.last().map(|r| &r.it.gauge).or(case.gauge_foils.last().map(|f| &f.it.gauge));
    let division = case.gauge_reads.last().map(|r| r.it.division_um).or(case.gauge_foils.last().map(|f| f.it.division_um));
    let along = read_along(case.aim().and_then(|aim| aim.substrate));
    let nothing = GaugeSeen {
        by: None,
        line: String::new(),
        least: band.map(|(lo, _)| show(lo, QuantityKind::Film, prefs)),
        most: band.map(|(_, hi)| show(hi, QuantityKind::Film, prefs)),
        blasted: along.rough,
        beneath: along.coats,
        foil,
        gauge: named.cloned().unwrap_or_default(),
        division: division.map(|um| edit_text(um, QuantityKind::Film, prefs)),
        drawing,
        areas: Vec::new(),
        reads: Vec::new(),
        count_line: String::new(),
        level: None,
        verdict: None,
        advice: Vec::new(),
        next: None,
        drawn_by: None,
        working: None,
    };
    match case.by_gauge() {
        None => nothing,
        Some(by) => Drawing { case, by: &by, prefs }.onto(nothing),
    }
}

struct Drawing<'a> {
    case: &'a Case<'a>,
    by: &'a ByGauge<'a>,
    prefs: Prefs,
}

impl Drawing<'_> {
    fn band(&self) -> (f64, f64) {
        let plan = &self.by.plan.it;
        (plan.dry_min_um, plan.dry_max_um.unwrap_or(MOST_PART * plan.dry_min_um))
    }

    fn level_no(&self) -> u8 {
        self.by.plan.it.level.unwrap_or(USUAL_LEVEL)
    }

    fn onto(&self, seen: GaugeSeen) -> GaugeSeen {
        let plan = &self.by.plan.it;
        let areas: Vec<AreaSeen> = self.by.areas.iter().map(|a| self.area(a, &seen.drawing)).collect();
        let (least, most) = self.band();
        let say = |um| film(um, self.prefs);
        let line = match plan.by {
            AcceptBy::Spots => format!("{} to {} dry, level {}", say(least), say(most), self.level_no()),
            AcceptBy::EightyTwenty => format!("nominal {} dry, never over {}", say(least), say(most)),
            _ => format!("{} to {} dry, every reading", say(least), say(most)),
        };
        let single = plan.by != AcceptBy::Spots;
        GaugeSeen {
            by: Some(plan.by),
            line,
            areas,
            reads: if single { self.reads() } else { Vec::new() },
            count_line: self.by.read_of_asked(),
            level: self.level(),
            verdict: self.by.verdict(),
            advice: self.advice(),
            next: self.next(),
            drawn_by: (!plan.seed.is_empty())
                .then(|| format!("{} spots drawn by lot, seed {}. {}.", plan.spots.len(), plan.seed, plan.generator)),
            working: self.working(),
            ..seen
        }
    }

    fn spots(&self) -> impl Iterator<Item = &SpotState<'_>> {
        self.by.areas.iter().flat_map(|a| &a.spots)
    }

    fn area(&self, area: &AreaState<'_>, drawing: &[ZoneDrawn]) -> AreaSeen {
        let left = area.spots.iter().filter(|s| s.read.is_none()).count();
        let name = format!("Area {} of {}", area.no, self.by.areas.len());
        let level = area.judged.mean_um.map(|um| {
            let level = drawn_level(&name, um, self.band(), area.judged.verdict.unwrap_or(Verdict::CannotTell), self.prefs);
            if area.judged.verdict.is_none() { level.under_way("so far") } else { level }
        });
        let line = match left {
            0 => name,
            1 => format!("{name}, one spot to go"),
            n => format!("{name}, {n} spots to go"),
        };
        let verdicts = &area.judged.spots;
        let spot = |(s, verdict): (&SpotState<'_>, &Option<Verdict>)| {
            let (x, y) = in_picture(drawing, &s.drawn);
            let of = |um: Measured| {
                let no = format!("Spot {}.{}", s.drawn.area_no, s.drawn.spot_no);
                drawn_level(&no, um, self.band(), verdict.unwrap_or(Verdict::CannotTell), self.prefs)
            };
            SpotSeen {
                area_no: s.drawn.area_no,
                spot_no: s.drawn.spot_no,
                entry: s.read.as_ref().map(|(entry, _)| *entry),
                place: place(self.case, &s.drawn, self.prefs),
                x,
                y,
                readings: s
                    .read
                    .iter()
                    .flat_map(|(_, r)| &r.readings_um)
                    .map(|um| show(*um, QuantityKind::Film, self.prefs).figure)
                    .collect(),
                level: s.mean_um.map(of),
            }
        };
        AreaSeen { no: area.no, spots: area.spots.iter().zip(verdicts).map(spot).collect(), level, line }
    }

    fn reads(&self) -> Vec<ReadSeen> {
        let zones = self.case.zones();
        let (least, most) = self.band();
        let band = match self.by.plan.it.by {
            AcceptBy::EightyTwenty => Tolerance::between(LEAST_PART * least, most),
            _ => Tolerance::between(least, most),
        };
        let one = |r: &crate::batch::accepting::OneRead| ReadSeen {
            entry: r.entry,
            zone: zones.iter().find(|(id, _)| id.is_some() && *id == r.zone).map(|(_, name)| name.clone()),
            film: show(r.um.value, QuantityKind::Film, self.prefs),
            word: match band.judge(r.um) {
                Verdict::In if self.by.plan.it.by == AcceptBy::EightyTwenty && r.um.value < least => "under nominal".into(),
                verdict => verdict.word().into(),
            },
        };
        self.by.reads.iter().map(one).collect()
    }

    /// The mean of all as one level.
    fn level(&self) -> Option<Level> {
        let plan = &self.by.plan.it;
        let means: Vec<Measured> = match plan.by {
            AcceptBy::Spots => self.by.areas.iter().filter_map(|a| a.judged.mean_um).collect(),
            _ => self.by.reads.iter().map(|r| r.um).collect(),
        };
        if means.is_empty() {
            return None;
        }
        let n = means.len() as f64;
        let sum = |of: fn(&Measured) -> f64| means.iter().map(of).sum::<f64>() / n;
        let mean = Measured { lo: sum(|m| m.lo), value: sum(|m| m.value), hi: sum(|m| m.hi) };
        let (least, most) = self.band();
        let label = if plan.by == AcceptBy::Spots { "Mean of the areas" } else { "Mean of the readings" };
        let tolerance = match plan.by {
            AcceptBy::EightyTwenty => Tolerance::at_least(least),
            _ => Tolerance::between(least, most),
        };
        let level = Level::draw(label, mean, tolerance, most - least, QuantityKind::Film, self.prefs);
        Some(match self.by.verdict() {
            Some(verdict) => level.ruled_by(verdict),
            None => level.under_way("so far"),
        })
    }

    fn next(&self) -> Option<NextSpot> {
        let spot = self.spots().find(|s| s.read.is_none())?;
        let (area_no, spot_no) = (spot.drawn.area_no, spot.drawn.spot_no);
        let text = format!(
            "{}, {READINGS_OF_SPOT} readings in a circle of an inch and a half",
            place(self.case, &spot.drawn, self.prefs)
        );
        Some(NextSpot { area_no, spot_no, text })
    }

    /// What is to be done, with its reason: more readings, another coat, sanding back.
    fn advice(&self) -> Vec<String> {
        let say = |um| film(um, self.prefs);
        let (least, most) = self.band();
        let limits = spot_limits(self.level_no(), least, most);
        let mut advice = Vec::new();
        for area in &self.by.areas {
            let mean = area.judged.mean_um.map_or(String::new(), |um| say(um.value));
            let bad = area.spots.iter().zip(&area.judged.spots).find(|(_, v)| v.is_some_and(Verdict::is_out));
            let why = match bad {
                Some((spot, _)) => format!(
                    "spot {}.{} is {}, where {} is the limit of a spot",
                    area.no,
                    spot.drawn.spot_no,
                    spot.mean_um.map_or(String::new(), |um| say(um.value)),
                    if area.judged.verdict == Some(Verdict::Low) { limits.lo.map(say) } else { limits.hi.map(say) }
                        .unwrap_or_default()
                ),
                None => format!("its mean is {mean}, where {} to {} is asked", say(least), say(most)),
            };
            match area.judged.verdict {
                Some(Verdict::Low) => advice.push(format!(
                    "Area {} is thin: {why}. Measure the 100 ft² on each side of it until one is in, then put one more coat on what is thin.",
                    area.no
                )),
                Some(Verdict::High) => advice.push(format!(
                    "Area {} is heavy: {why}. Measure on each side of it; sand back what is heavy, or let whoever wrote the sheet say that it may stay.",
                    area.no
                )),
                Some(Verdict::CannotTell) => advice.push(format!(
                    "Area {} cannot be told: its limit lies inside what the gauge may be off. Read with a finer division.",
                    area.no
                )),
                Some(Verdict::In) | None => {}
            }
        }
        if let Some(j) = self.by.eighty {
            match j.verdict {
                Some(Verdict::High) => advice.push(format!("{} over {}: sand back there.", readings(j.over.0), say(most))),
                Some(Verdict::Low) if j.far_under.0 > 0 => advice.push(format!(
                    "{} under {}, 80 % of the nominal: one more coat there, and read again.",
                    readings(j.far_under.0),
                    say(LEAST_PART * least)
                )),
                Some(Verdict::Low) => advice.push(format!(
                    "The mean is {}, and {} of {} under {}: fewer than a fifth may be. One more coat where it is thin.",
                    say(j.mean_um.value),
                    j.under.0,
                    j.count,
                    say(least)
                )),
                Some(Verdict::CannotTell) => {
                    advice.push("A limit lies inside what the gauge may be off. Read with a finer division.".into());
                }
                Some(Verdict::In) | None => {}
            }
        }
        if self.by.plan.it.by == AcceptBy::LeastMost {
            match self.by.figures {
                Some(Verdict::Low) => advice.push(format!("A reading is under {}: one more coat there.", say(least))),
                Some(Verdict::High) => advice.push(format!("A reading is over {}: sand back there.", say(most))),
                Some(Verdict::CannotTell) => {
                    advice.push("A limit lies inside what the gauge may be off. Read with a finer division.".into());
                }
                Some(Verdict::In) | None => {}
            }
        }
        let missing = match self.by.plan.it.by {
            AcceptBy::Spots => 0,
            _ => self.by.asked.saturating_sub(self.by.reads.len()),
        };
        if missing > 0 {
            advice.push(format!("{} more: the area asks {}.", capital(&readings(missing)), self.by.asked));
        }
        let doubt = unproved_words(&self.by.unproved);
        if !doubt.is_empty() {
            advice.push(doubt);
        }
        advice
    }

    fn working(&self) -> Option<Working> {
        let plan = &self.by.plan.it;
        let off = self.by.taken_off_um;
        let prefs = self.prefs;
        let say = |um| film(um, prefs);
        let mut w = match plan.by {
            AcceptBy::Spots => {
                Working::new("Dry film by spots", "SSPC-PA 2, from memory: spot = mean of 3, area = mean of 5 spots")
            }
            AcceptBy::EightyTwenty => {
                Working::new("Dry film by 80/20", "ISO 19840, from memory: mean, and readings under the nominal")
            }
            _ => Working::new("Dry film, least and most", "Every reading in its band"),
        };
        if off.hi > 0.0 {
            w.line("Taken off each reading", "bare surface and coats beneath", off.value, QuantityKind::Film, prefs);
        }
        for area in &self.by.areas {
            let means: Vec<String> = area.spots.iter().filter_map(|s| s.mean_um).map(|um| say(um.value)).collect();
            if let Some(mean) = area.judged.mean_um {
                w.line(
                    &format!("Area {}", area.no),
                    format!("mean of {}", means.join(", ")),
                    mean.value,
                    QuantityKind::Film,
                    prefs,
                );
            }
        }
        if let Some(j) = self.by.eighty {
            let share = 100.0 * j.under.0 as f64 / j.count as f64;
            w.line(
                "Under the nominal",
                format!("{} of {}, fewer than 20 % asked", j.under.0, j.count),
                share,
                QuantityKind::Percent,
                prefs,
            );
            w.line("Mean", format!("of {} readings", j.count), j.mean_um.value, QuantityKind::Film, prefs);
        }
        (!w.lines.is_empty()).then_some(w)
    }
}

fn readings(n: usize) -> String {
    if n == 1 { "one reading".into() } else { format!("{n} readings") }
}
