//! The card as one long table, for spreadsheets.

use super::{CardDocument, DocRatio};
use crate::book::LedgerKind;
use crate::lists::Did;
use crate::worded::Worded;
use jiff::Timestamp;

/// A row of the card as a table: section, number in it, when, who, what, value, unit, words.
pub type Row = [String; 8];

/// The heads of [`rows`].
pub const HEADS: [&str; 8] = ["section", "no", "at", "by", "what", "value", "unit", "text"];

/// The card as one long table, a figure a row, in base units.
pub fn rows(d: &CardDocument) -> Vec<Row> {
    let mut out = Table(Vec::new());
    for part in [aim, ready, charges, set, sprayed, accepted, closed] {
        part(d, &mut out);
    }
    out.0
}

/// What the batch was to be.
fn aim(d: &CardDocument, out: &mut Table) {
    let begin = |t: &mut Table, what: &str, value: f64, unit: &str| t.put("batch", "", None, "", what, Some(value), unit, "");
    out.put("batch", "", Some(d.begun), "", "number", Some(d.number as f64), "", &format!("{} · {}", d.part, d.coat));
    out.put("batch", "", None, "", "product", Some(f64::from(d.sheet_edition)), "edition", &d.sheet.name);
    begin(out, "area", d.area_m2, "m²");
    begin(out, "wet film aimed at", d.wet_aim_um, "µm");
    if let Some(um) = d.dry_asked_um {
        begin(out, "dry film asked", um, "µm");
    }
    begin(out, "transfer efficiency", d.transfer_pct, "%");
    begin(out, "thinner", d.thinner_pct, "%");
}

/// Conditions, lots and the Ready lists.
fn ready(d: &CardDocument, out: &mut Table) {
    for (no, c) in (1..).zip(&d.conditions) {
        for (what, value, unit) in [
            ("air", c.air_c, "°C"),
            ("surface", c.surface_c, "°C"),
            ("material", c.material_c, "°C"),
            ("relative humidity", c.rh_pct, "%"),
            ("dew point", c.dew_point_c, "°C"),
            ("dew margin", c.margin_dk, "K"),
        ] {
            out.put("conditions", &no.to_string(), Some(c.at), &c.by, what, Some(value), unit, "");
        }
    }
    for l in &d.lots {
        out.put("lot", "", Some(l.at), &l.by, l.component.word(), None, "", &l.code);
    }
    for c in &d.checks {
        let did = match c.did {
            Did::Done => "done",
            Did::Failed => "not right",
            Did::Start => "started",
            Did::Stop => "stopped",
        };
        out.put("ready", &c.item, Some(c.at), &c.by, did, c.read_um, if c.read_um.is_some() { "µm" } else { "" }, &c.text);
    }
}

/// What the coat was accepted by: each way and its verdict, what was read by gauge, what was looked at.
fn accepted(d: &CardDocument, out: &mut Table) {
    let Some(a) = &d.acceptance else { return };
    for m in &a.methods {
        out.put("acceptance", "", None, "", m.by.word(), None, "", m.verdict.map_or("not done", Worded::word));
    }
    if let Some(g) = &a.gauge {
        out.put("gauge", "", None, "", "dry film, least", Some(g.dry_min_um), "µm", "");
        out.put("gauge", "", None, "", "dry film, most", g.dry_max_um, "µm", "");
        out.put("gauge", "", None, "", "taken off, least", Some(g.taken_off_um[0]), "µm", "");
        out.put("gauge", "", None, "", "taken off, most", Some(g.taken_off_um[1]), "µm", "");
        out.put("gauge", "", None, "", "seed", None, "", &g.seed);
        for s in &g.spots {
            let no = format!("{}.{}", s.area_no, s.spot_no);
            for um in &s.readings_um {
                out.put("gauge", &no, None, "", "reading of a spot", Some(*um), "µm", s.zone.as_deref().unwrap_or(""));
            }
        }
        for (no, um) in (1..).zip(&g.readings_um) {
            out.put("gauge", &no.to_string(), None, "", "reading", Some(*um), "µm", "");
        }
        for f in &g.foils {
            for um in &f.readings_um {
                let said = if f.right { "right" } else { "wrong" };
                out.put("gauge", "", Some(f.at), &f.by, "on its foil", Some(*um), "µm", &format!("{} µm, {said}", f.foil_um));
            }
        }
        for m in &g.moved {
            out.put("gauge", &format!("{}.{}", m.area_no, m.spot_no), Some(m.at), &m.by, "drawn anew", None, "", &m.reason);
        }
    }
    for l in &a.looks {
        let what = format!("{}: {}", l.stage.word(), if l.good { "right" } else { "not right" });
        out.put("look", l.zone.as_deref().unwrap_or(""), Some(l.at), &l.by, &what, None, "", l.text.as_deref().unwrap_or(""));
    }
}

/// Every vessel: poured, proved, filled from, ended.
fn charges(d: &CardDocument, out: &mut Table) {
    for c in &d.charges {
        let no = c.no.to_string();
        out.put("charge", &no, Some(c.opened), "", "opened for", Some(c.wanted_ml), "mL", "");
        for p in &c.pours {
            let lot = p.lot.as_ref().map_or(String::new(), |l| format!("lot {l}"));
            let unit = if p.poured_g.is_some() { "g" } else { "mL" };
            out.put("charge", &no, Some(p.at), &p.by, &p.name, p.poured_g.or(p.poured_ml), unit, &lot);
        }
        if let Some(r) = &c.ratio {
            out.ratio("charge", &no, None, "", r);
        }
        for (what, at) in [("combined", c.combined), ("stirred", c.stirred), ("spraying began", c.started)] {
            if at.is_some() {
                out.put("charge", &no, at, "", what, None, "", "");
            }
        }
        for p in &c.planned {
            let (much, unit) = if p.mass_g > 0.0 { (p.mass_g, "g") } else { (p.volume_ml, "mL") };
            out.put("charge", &no, None, "", "planned", Some(much), unit, p.component.word());
        }
        for at in &c.rescued {
            out.put("charge", &no, Some(*at), "", "rescued", None, "", "");
        }
        for f in &c.fills {
            out.put("charge", &no, Some(f.at), &f.by, "fill", Some(f.fill_ml), "mL", f.into.word());
        }
        if let Some(age) = c.age {
            out.put("charge", &no, None, "", "age at its end", Some(age), "", "spent at 1");
        }
        if let Some(x) = &c.closed {
            out.put("charge", &no, Some(x.at), &x.by, x.how.word(), x.waste_ml, "mL", x.reason.as_deref().unwrap_or(""));
        }
    }
}

/// The rig, and every try of it.
fn set(d: &CardDocument, out: &mut Table) {
    if let Some(rig) = &d.rig {
        out.put("rig", "", None, "", rig.kind.word(), rig.nozzle_mm, "mm", &rig.name);
    }
    for (no, f) in (1..).zip(&d.flows) {
        out.put("flow", &no.to_string(), Some(f.at), &f.by, "flow caught", Some(f.flow_ml_min), "mL/min", "");
    }
    for (no, s) in (1..).zip(&d.set_ups) {
        let no = no.to_string();
        if let Some(kpa) = s.pot_kpa {
            out.put("set-up", &no, Some(s.at), &s.by, "pot pressure", Some(kpa), "kPa", "");
        }
        out.put("set-up", &no, Some(s.at), &s.by, "atomizing pressure", s.atomizing_kpa, "kPa", "");
        out.put("set-up", &no, Some(s.at), &s.by, "stream", s.stream_mm, "mm", "");
        if let Some(kpa) = s.catalyst_kpa {
            out.put("set-up", &no, Some(s.at), &s.by, "catalyst air", Some(kpa), "kPa", "");
        }
        let texts = [
            ("pattern", &s.pattern),
            ("step", &s.step),
            ("air read", &s.air_at),
            ("air read with", &s.air_how),
            ("streams", &s.flowed),
            ("photo", &s.photo_sha256),
        ];
        for (what, text) in texts {
            if let Some(text) = text {
                out.put("set-up", &no, Some(s.at), &s.by, what, None, "", text);
            }
        }
        let more = [
            ("pressure of B", s.b_kpa, "kPa"),
            ("fan knob", s.fan_turns, "turns"),
            ("needle", s.needle_turns, "turns"),
            ("refinement air", s.refine_turns, "turns"),
            ("valve of A", s.a_valve_turns, "turns"),
            ("valve of B", s.b_valve_turns, "turns"),
            ("air at the cap", s.cap_kpa, "kPa"),
            ("pump stands at", s.supply_kpa, "kPa"),
            ("texture like grit", s.texture_grit, ""),
            ("pot transmitter", s.gauge_pot_kpa, "kPa"),
            ("gun transmitter", s.gauge_gun_kpa, "kPa"),
        ];
        for (what, value, unit) in more.into_iter().filter(|(_, value, _)| value.is_some()) {
            out.put("set-up", &no, Some(s.at), &s.by, what, value, unit, "");
        }
    }
    for g in &d.last_good {
        let no = format!("{:04}", g.number);
        out.put("last good set-up", &no, None, "", "pot pressure", g.pot_kpa, "kPa", "");
        out.put("last good set-up", &no, None, "", "atomizing pressure", g.atomizing_kpa, "kPa", "");
        out.put("last good set-up", &no, None, "", "stream", g.stream_mm, "mm", "");
    }
}

/// Catches, passes and film.
fn sprayed(d: &CardDocument, out: &mut Table) {
    for (no, c) in (1..).zip(&d.catches) {
        let no = no.to_string();
        out.put("catch", &no, Some(c.at), &c.by, "A", Some(c.a_g), "g", "");
        out.put("catch", &no, Some(c.at), &c.by, "B", Some(c.b_g), "g", "");
        if let Some(r) = &c.ratio {
            out.ratio("catch", &no, Some(c.at), &c.by, r);
        }
    }
    for (no, r) in (1..).zip(&d.runs) {
        let no = no.to_string();
        out.put("whole run", &no, Some(r.at), &r.by, "A", Some(r.a_g), "g", "");
        out.put("whole run", &no, Some(r.at), &r.by, "B", Some(r.b_g), "g", "");
        if let Some(ratio) = &r.ratio {
            out.ratio("whole run", &no, Some(r.at), &r.by, ratio);
        }
    }
    for (no, b) in (1..).zip(&d.bonds) {
        let said = format!("{}, {}", b.result.word(), b.substrate);
        out.put("bond test", &no.to_string(), Some(b.at), &b.by, "result", None, "", &said);
    }
    for p in &d.passes {
        out.put("pass", &p.no.to_string(), Some(p.at), &p.by, "used", p.used_ml, "mL", &p.zones.join(", "));
        for named in &p.out_of_order {
            out.put("pass", &p.no.to_string(), Some(p.at), &p.by, "out of order", None, "", named);
        }
    }
    for (no, h) in (1..).zip(&d.happenings) {
        let said = [h.zone.as_deref(), h.text.as_deref()].into_iter().flatten().collect::<Vec<_>>().join(": ");
        out.put("happening", &no.to_string(), Some(h.at), &h.by, &h.what, h.pass_no.map(f64::from), "pass", &said);
    }
    for f in &d.films {
        let (no, zone) = (f.after_pass.to_string(), f.zone.clone().unwrap_or_default());
        for (what, um) in [
            ("wet, at the least", f.wet_least_um),
            ("wet, at the most", f.wet_most_um),
            ("dry predicted, at the least", f.dry_least_um),
            ("dry predicted, at the most", f.dry_most_um),
        ] {
            out.put("film", &no, Some(f.at), &f.by, what, Some(um), "µm", &zone);
        }
    }
}

/// What broke a rule, who released and signed, the log and its seal.
fn closed(d: &CardDocument, out: &mut Table) {
    for (no, x) in (1..).zip(&d.deviations) {
        out.put("deviation", &no.to_string(), None, "", &x.code, None, "", &x.text);
        out.put("deviation", &no.to_string(), None, "", "answer", None, "", x.answer.as_deref().unwrap_or(""));
    }
    for r in &d.releases {
        out.put("release", "", Some(r.at), &r.by, "released", None, "", &r.reason);
    }
    for (what, s) in [("signed", &d.signed), ("accepted", &d.accepted)] {
        if let Some(s) = s {
            out.put("signature", "", Some(s.at), &s.by, what, None, "", "");
        }
    }
    for l in &d.log {
        let struck = l.struck.as_ref().map_or(String::new(), |s| format!(" (struck, {s})"));
        out.put("log", &l.seq.to_string(), Some(l.at), &l.by, l.kind.name(), None, "", &format!("{}{struck}", l.text));
    }
    out.put("seal", &d.head_seq.to_string(), None, "", "head hash", None, "", &d.head_hash);
}

struct Table(Vec<Row>);

impl Table {
    #[allow(clippy::too_many_arguments)] // the columns of one row
    fn put(
        &mut self,
        section: &str,
        no: &str,
        at: Option<Timestamp>,
        by: &str,
        what: &str,
        value: Option<f64>,
        unit: &str,
        text: &str,
    ) {
        let value = value.map_or(String::new(), |v| v.to_string());
        // A unit without its figure would say nothing.
        let unit = if value.is_empty() { "" } else { unit };
        let at = at.map_or(String::new(), |t| t.to_string());
        self.0.push([section, no, &at, by, what, &value, unit, text].map(String::from));
    }

    fn ratio(&mut self, section: &str, no: &str, at: Option<Timestamp>, by: &str, r: &DocRatio) {
        let unit = if r.said_in == "per_cent" { "%" } else { ": 1" };
        for (what, value) in [("ratio", r.value), ("ratio, at the least", r.least), ("ratio, at the most", r.most)] {
            self.put(section, no, at, by, what, Some(value), unit, r.verdict.word());
        }
    }
}
