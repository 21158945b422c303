//! Paper over the wire: cards and recall lists as PDF with their data inside, and what happens when the print program does not answer.

use super::client::{applicator, lead};
use level_keel_harness::Shop;
use level_keel_server::settings::Settings;
use lopdf::{Document, Object};
use reqwest::StatusCode;
use serde_json::Value;
use sqlx::PgPool;
use std::os::unix::fs::PermissionsExt;
use std::path::{Path, PathBuf};

/// The pages of a document, its words, and the data it carries.
fn read(pdf: &[u8]) -> (usize, String, Vec<u8>) {
    let document = Document::load_mem(pdf).expect("another reader opens it");
    let pages: Vec<u32> = document.get_pages().keys().copied().collect();
    let text = document.extract_text(&pages).expect("its text").split_whitespace().collect::<Vec<_>>().join(" ");
    let attached = |o: &Object| {
        let stream = o.as_stream().ok()?;
        let is = stream.dict.get(b"Type").and_then(Object::as_name).ok()? == b"EmbeddedFile";
        is.then(|| stream.decompressed_content().unwrap_or_else(|_| stream.content.clone()))
    };
    let data = document.objects.values().find_map(attached).expect("data inside");
    (pages.len(), text, data)
}

#[sqlx::test]
async fn a_card_and_a_recall_list_go_out_as_paper_with_their_data(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = lead(&shop).await;
    let (_, records) = client.get("/records").await;
    let buoy = records["rows"].as_array().unwrap().iter().find(|r| r["label"] == "Buoy 3 · primer").expect("Buoy 3");
    let id = buoy["id"].as_str().unwrap();
    let fetch = async |path: String| {
        let answer = client.http.get(format!("{}{path}", client.base)).send().await.unwrap();
        assert_eq!(answer.status(), 200, "{path}");
        assert_eq!(answer.headers()["content-type"], "application/pdf");
        let name = answer.headers()["content-disposition"].to_str().unwrap().to_string();
        (name, answer.bytes().await.unwrap().to_vec())
    };
    let (name, pdf) = fetch(format!("/batches/{id}/card.pdf")).await;
    assert!(name.contains("level-keel-card-") && name.contains(".pdf"), "{name}");
    let (pages, text, data) = read(&pdf);
    assert!((1..=2).contains(&pages), "{pages}");
    let (_, card) = client.get(&format!("/batches/{id}/card")).await;
    for said in
        [card["view"]["title"].as_str().unwrap(), card["head_hash"].as_str().unwrap(), "Spots by gauge: in", "drawn by lot, seed"]
    {
        assert!(text.contains(said), "{said}: {text}");
    }
    // The attached data are the open card, which its own schema knows.
    let (_, open) = client.file(&format!("/batches/{id}/card.json")).await;
    assert_eq!(String::from_utf8(data).unwrap(), open);
    // Its table has what it was accepted by: ten spots of three readings, the seed they were drawn by, the gauge on its foil.
    let (_, csv) = client.file(&format!("/batches/{id}/card.csv")).await;
    let rows = |what: &str| csv.lines().filter(|l| l.contains(what)).count();
    assert_eq!((rows(",reading of a spot,"), rows(",seed,")), (30, 1), "{csv}");
    assert!(rows("acceptance,") >= 2 && rows(",on its foil,") >= 2, "{csv}");
    // A signed card is the same paper whenever it is printed.
    shop.clock.advance(jiff::SignedDuration::from_hours(10));
    assert_eq!(fetch(format!("/batches/{id}/card.pdf")).await.1, pdf);
    // One that is still open says how it stands.
    let open = client.begun().await;
    let (_, text, _) = read(&fetch(format!("/batches/{open}/card.pdf")).await.1);
    assert!(text.contains("not signed yet") && text.contains("Work signed by nobody yet"), "{text}");
    // A recall list.
    let lot = client.get("/lots?find=P-2207").await.1["lots"][0]["id"].as_str().expect("a lot").to_string();
    let (name, pdf) = fetch(format!("/trace.pdf?lot={lot}")).await;
    assert!(name.contains("level-keel-trace-lot.pdf"), "{name}");
    let (_, text, data) = read(&pdf);
    assert!(text.contains("Lot P-2207") && text.contains("Buoy 7, primer") && text.contains("accepted"), "{text}");
    assert_eq!(String::from_utf8(data).unwrap(), client.file(&format!("/trace.csv?lot={lot}")).await.1);
    shop.close().await;
}

/// A program that does what it says, in place of the print program.
fn program(folder: &Path, name: &str, does: &str) -> PathBuf {
    let at = folder.join(name);
    std::fs::write(&at, format!("#!/bin/sh\n{does}\n")).expect("a program is written");
    std::fs::set_permissions(&at, std::fs::Permissions::from_mode(0o755)).expect("it may be run");
    at
}

#[sqlx::test]
async fn a_print_program_that_hangs_fails_or_is_gone_is_named_and_the_card_is_served(db: PgPool) {
    let folder = std::env::temp_dir().join(format!("level-keel-print-{}", std::process::id()));
    std::fs::create_dir_all(&folder).expect("a folder");
    let mut shop = Shop::open(db).await;
    let programs = [
        (program(&folder, "hangs", "exec sleep 600"), "printer-hangs"),
        (program(&folder, "swallows", "cat > /dev/null; exec sleep 600"), "printer-hangs"),
        (program(&folder, "fails", "echo no paper >&2; exit 3"), "printer-failed"),
        (program(&folder, "writes_no_pdf", "cat > /dev/null; echo hello"), "printer-failed"),
        (program(&folder, "takes_all_memory", "exec awk 'BEGIN { s = \"x\"; while (1) s = s s }'"), "printer-failed"),
        (folder.join("is_not_there"), "printer-failed"),
    ];
    for (program, code) in programs {
        let set = Settings {
            demo: true,
            print_program: program.display().to_string(),
            print_most_s: 1.0,
            print_most_mb: 64,
            ..Settings::default()
        };
        shop = shop.again(set, "0.1.0").await;
        let client = applicator(&shop).await;
        let (_, records) = client.get("/records").await;
        let id = records["rows"][0]["id"].as_str().unwrap().to_string();
        let (status, said): (StatusCode, Value) = client.get(&format!("/batches/{id}/card.pdf")).await;
        assert_eq!((status.as_u16(), said["code"].as_str()), (503, Some(code)), "{}: {said}", program.display());
        assert!(said["detail"].as_str().unwrap().contains("as JSON and as CSV"), "{said}");
        assert_eq!(client.get(&format!("/batches/{id}/card")).await.0, 200);
        assert!(client.file(&format!("/batches/{id}/card.json")).await.1.contains("level-keel-card"));
    }
    std::fs::remove_dir_all(&folder).ok();
    shop.close().await;
}
