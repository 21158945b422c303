//! What is printed, read back by another library: pages, words, the standard it claims, the data it carries.

use level_keel_print::{CARD_PAGES, Job, PrintError, print};
use lopdf::{Document, Object};
use serde_json::{Value, json};

fn level(label: &str, verdict: &str, word: &str) -> Value {
    json!({
        "label": label, "from": 0.45, "to": 0.52, "off": 0, "verdict": verdict, "word": word, "advice": "",
        "shown": { "figure": "4.01", "unit": ": 1", "text": "4.01 : 1" },
        "hairlines": [{ "at": 0.3333, "figure": "3.81", "low": true }, { "at": 0.6667, "figure": "4.21", "low": false }],
    })
}

/// A card with so many pots and deviations. Not a real one: our own figures.
fn card(pots: usize, deviations: usize) -> Value {
    let text = |t: &str| json!({ "text": t, "figure": t, "unit": "" });
    let pot = |no: usize| {
        let line = |text: &str| json!({ "at": "2026-11-22T17:03:32Z", "text": text });
        json!({ "title": format!("Pot {no}"), "lines": [line("planned base 2056 g, hardener 354.7 g"), line("stirred"), line("emptied")] })
    };
    let deviation = |no: usize| json!({ "entry": no, "code": "thin", "text": format!("Deviation {no}: the reading on the tower was under its band by a little."), "answer": "Went over it once more." });
    let log = |no: usize| json!({ "entry": no, "at": "2026-11-22T17:03:32Z", "by": "Ansa Reef", "text": "Pass from pot 1", "struck": if no == 3 { json!("typed twice") } else { Value::Null } });
    json!({
        "head_hash": "bfa3bfa32eefced92d351de89ef9280beaad26175310cae684bac7326d5e9b09", "head_seq": 66, "core_version": "0.1.0",
        "signed": { "by": "Ansa Reef", "at": "2026-11-22T18:15:20Z" }, "accepted": { "by": "Celo Wick", "at": "2026-11-23T17:02:20Z" },
        "noted": ["Worked alone: no second signature."],
        "pots": (1..=pots).map(pot).collect::<Vec<_>>(),
        "deviations": (1..=deviations).map(deviation).collect::<Vec<_>>(),
        "log": (1..=66).map(log).collect::<Vec<_>>(),
        "recoat": { "earliest": "2026-11-23T00:06:14Z", "latest": "2026-11-29T17:52:44Z" },
        "document": { "lots": [{ "component": "base", "code": "P-2204" }], "checks": [{ "did": "failed", "text": "Hose looked over", "at": "2026-11-22T17:03:32Z", "by": "Ansa Reef", "remark": "kinked" }], "releases": [] },
        "view": {
            "title": "Buoy 3 · primer", "subtitle": "Island epoxy primer, 4 : 1 by volume · 11.40 m²", "number": 41,
            "ready": { "air": text("21.4 °C"), "surface": text("20.6 °C"), "levels": [level("Dew margin", "in", "in")] },
            "prove": { "proofs": [{ "title": "Pot 1 as weighed", "level": level("Ratio", "low", "out") }] },
            "set": { "rig_name": "Buoy pot, two litres", "set_ups": [{ "pot": text("10 psi"), "stream": text("10 in"), "word": "in" }] },
            "film_level": level("Total wet so far", "cannot_tell", "cannot tell"),
            "spray": { "dry": level("Dry, predicted", "in", "in") },
            "close": { "accept": null },
        },
    })
}

fn job(what: &str, document: Value) -> Job {
    let attached = json!({ "format": "level-keel-card", "note": "日本, kept as it was written" }).to_string();
    serde_json::from_value(json!({
        "what": what, "document": document, "zone": "Europe/Lisbon", "made": "2026-11-23T17:02:20Z", "paper": "a4",
        "code": { "dots": 9, "path": "M4 4h1v1h-1z" },
        "attached": { "name": "level-keel-card-0041.json", "mime": "application/json", "text": attached },
    }))
    .unwrap()
}

fn read(pdf: &[u8]) -> (Document, String) {
    let document = Document::load_mem(pdf).expect("another reader opens it");
    let pages: Vec<u32> = document.get_pages().keys().copied().collect();
    let text = document.extract_text(&pages).expect("its text is text");
    // Where the face changes, the reader of the text puts a space.
    (document, text.split_whitespace().collect::<Vec<_>>().join(" ").replace(" .", "."))
}

/// Every stream of the document that says so of itself.
fn streams(document: &Document, is: &[u8]) -> Vec<Vec<u8>> {
    let of_kind = |o: &Object| {
        let stream = o.as_stream().ok()?;
        let kind = stream.dict.get(b"Type").and_then(Object::as_name).ok()?;
        (kind == is).then(|| stream.decompressed_content().unwrap_or_else(|_| stream.content.clone()))
    };
    document.objects.values().filter_map(of_kind).collect()
}

#[test]
fn a_card_is_a_page_of_pdf_a_with_its_data_inside() {
    let job = job("card", card(1, 1));
    let pdf = print(&job).unwrap();
    let (document, text) = read(&pdf);
    assert_eq!(document.get_pages().len(), 1);
    for said in [
        "Buoy 3 · primer",
        "Work signed by Ansa Reef, 2026-11-22 18:15. Accepted by Celo Wick, 2026-11-23 17:02.",
        "Worked alone: no second signature.",
        "Pot 1 as weighed",
        "4.01 : 1 out",
        "cannot tell",
        "not right Hose looked over: kinked",
        "Went over it once more.",
        "The log has 66 entries, 1 of them struck; this file carries the card as data",
        "not before 2026-11-23 00:06",
        "entry 66 · head bfa3bfa32eefced92d351de89ef9280beaad26175310cae684bac7326d5e9b09",
        "The data sheet, local codes and licensed practice rule.",
        "page 1 of 1",
    ] {
        assert!(text.contains(said), "{said}\n{text}");
    }
    // ISO 19005-3 names itself in the metadata; level b.
    let metadata = String::from_utf8(streams(&document, b"Metadata").concat()).unwrap();
    assert!(
        metadata.contains("<pdfaid:part>3</pdfaid:part>") && metadata.contains("<pdfaid:conformance>B</pdfaid:conformance>"),
        "{metadata}"
    );
    assert_eq!(streams(&document, b"EmbeddedFile"), [job.attached.text.as_bytes()], "the data go along byte by byte");
    assert_eq!(print(&job).unwrap(), pdf, "the same job is the same file");
}

#[test]
fn a_long_card_fits_and_says_what_it_left_out() {
    let (document, text) = read(&print(&job("card", card(70, 90))).unwrap());
    assert!(document.get_pages().len() <= CARD_PAGES);
    assert!(text.contains("Deviation 1:") && text.contains("more, in the attached data"), "{text}");
    assert!(text.contains("page 2 of 2") && text.contains("head bfa3bfa32eef"), "what it stands on is never left out: {text}");
}

#[test]
fn a_card_of_an_older_version_lacks_what_it_lacks() {
    let mut old = card(1, 0);
    for field in ["document", "pots", "noted", "recoat", "accepted"] {
        old.as_object_mut().unwrap().remove(field);
    }
    old["view"]["set"]["set_ups"] = json!([]);
    old["view"]["spray"] = json!({});
    let (_, text) = read(&print(&job("card", old)).unwrap());
    assert!(text.contains("signed, not accepted yet") && text.contains("Accepted by nobody yet"), "{text}");
    assert!(text.contains("None recorded."), "{text}");
}

#[test]
fn a_sign_the_typeface_lacks_is_printed_as_a_question_mark() {
    let mut foreign = card(1, 1);
    foreign["deviations"][0]["text"] = json!("Läuft 塗 🎨 über #set page(width: 1pt) $x$ *fett*");
    let (document, text) = read(&print(&job("card", foreign)).unwrap());
    assert!(text.contains("Läuft ? ? über #set page(width: 1pt) $x$ *fett*"), "what people wrote is text and no layout: {text}");
    let kept = String::from_utf8(streams(&document, b"EmbeddedFile").concat()).unwrap();
    assert!(kept.contains("日本"), "the data keep it: {kept}");
}

#[test]
fn a_recall_list_takes_the_pages_it_needs() {
    let row = |n: usize| {
        json!({
            "number": n, "part_name": format!("Buoy {n}"), "coat": "primer", "product": "Island epoxy primer", "state": "accepted",
            "begun": "2026-11-22T17:03:32Z", "lots": ["P-2207", "H-118"], "people": ["Ansa Reef"], "rig": "Buoy pot", "scales": [],
            "defects": n % 2,
        })
    };
    let trace =
        json!({ "title": "Lot P-2207", "line": "120 batches got this lot.", "rows": (1..=120).map(row).collect::<Vec<_>>() });
    let (document, text) = read(&print(&job("trace", trace)).unwrap());
    let pages = document.get_pages().len();
    assert!(pages > 2, "{pages}");
    assert_eq!(text.matches("Defects").count(), pages, "each page has the heads");
    assert!(
        text.contains("Lot P-2207") && text.contains("0120") && text.contains("1 seen") && text.contains("none seen"),
        "{text}"
    );
}

#[test]
fn what_cannot_be_printed_is_refused_with_its_reason() {
    let mut nowhere = job("card", card(1, 0));
    nowhere.zone = "Nowhere/Atall".into();
    assert!(matches!(print(&nowhere), Err(PrintError::Zone(_))));
    let mut photo = job("card", card(1, 0));
    photo.photos.insert("00".into(), "no base64 at all!".into());
    assert!(matches!(print(&photo), Err(PrintError::Photo(_))));
    let none = print(&job("card", json!({})));
    assert!(matches!(none, Err(PrintError::Layout(_))), "{none:?}");
    assert!(serde_json::from_value::<Job>(json!({ "what": "letter" })).is_err());
}
