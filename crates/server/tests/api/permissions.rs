//! Entry kind × role, asked of the running server: forbidden exactly where the table says so.

use super::client::{APPLICATOR, Client, INSPECTOR, LEAD, applicator};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

/// A well-formed payload of each kind, for a book with an open charge and a note by the applicator.
fn payloads(charge: Uuid, note: &Value) -> Vec<(&'static str, Value)> {
    let on = json!({ "charge": charge });
    vec![
        ("conditions", json!({ "air_c": 21, "surface_c": 20, "material_c": 20, "rh_pct": 55 })),
        ("guards", json!({ "hazards": ["solvent"] })),
        ("open_charge", json!({ "charge": Uuid::now_v7(), "kind": "pot", "wanted_ml": 500 })),
        ("pour", json!({ "charge": charge, "component": "base", "reading_g": 100, "resolution_g": 1 })),
        ("combine", on.clone()),
        ("stirred", on.clone()),
        ("pot_temperature", json!({ "charge": charge, "temp_c": 22 })),
        ("set_up", json!({ "pot_kpa": 60 })),
        ("choose_rig", json!({ "rig": Uuid::nil() })),
        ("set_step", json!({ "step": "backed_off" })),
        ("cup_run", json!({ "cup": "ford4", "run_cup_s": "30 s" })),
        ("flow_catch", json!({ "pot_kpa": 60, "caught_g": 100, "caught_watch_s": 20 })),
        ("ratio_check", json!({ "charge": charge, "a_g": 50, "b_g": 10, "resolution_g": 0.1 })),
        ("start_spraying", on.clone()),
        ("pass", on),
        ("comb", json!({ "tooth_um": 101.6, "teeth_um": [101.6, 127.0], "of": "total" })),
        ("close_charge", json!({ "charge": charge, "how": "emptied" })),
        ("note", json!({ "text": "a note" })),
        ("answer", json!({ "entry": note, "code": "none", "text": "an answer" })),
        ("release", json!({ "gate": "conditions", "reason": "a reason", "seen_seq": 3 })),
        ("strike", json!({ "entry": note, "reason": "a reason" })),
        ("sign", json!({ "seen_seq": 3 })),
        ("accept", json!({ "seen_seq": 3 })),
        ("reopen", json!({ "reason": "a reason" })),
    ]
}

/// Kinds a role may not write in a batch of someone else's (the applicator's own, here).
fn forbidden(role: &str) -> &'static [&'static str] {
    match role {
        // Their own batch: they may sign it and strike their own note.
        "applicator" => &["accept", "release", "reopen"],
        "lead" | "owner" => &[],
        "inspector" => &["sign", "release", "reopen", "strike"],
        other => panic!("no such role: {other}"),
    }
}

#[sqlx::test]
async fn every_kind_for_every_role(db: PgPool) {
    let shop = Shop::open(db).await;
    let worker = applicator(&shop).await;
    let book = worker.begun().await;
    let charge = Uuid::now_v7();
    worker.wrote(&book, "open_charge", json!({ "charge": charge, "kind": "pot", "wanted_ml": 500 })).await;
    let noted = worker.wrote(&book, "note", json!({ "text": "mine" })).await;
    let note = noted["view"]["log"][0]["entry"].clone();
    let people = [("applicator", APPLICATOR), ("lead", LEAD), ("inspector", INSPECTOR), ("owner", ("Dunja Fenn", "4680"))];
    for (role, who) in people {
        let client = Client::signed(&shop.address, who).await;
        for (kind, payload) in payloads(charge, &note) {
            let answer = client.dry(&book, kind, payload).await;
            let no = answer["refusals"][0]["why"] == "forbidden";
            assert_eq!(no, forbidden(role).contains(&kind), "{role} {kind}: {}", answer["refusals"]);
            assert_ne!(answer["refusals"][0]["code"], "not-understood", "{kind} must be well formed: {}", answer["refusals"]);
        }
    }
    // Another applicator may not sign what they did not work on, nor strike another's entry.
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    owner.post("/people", json!({ "name": "Edda Holm", "role": "applicator", "pin": "8642" })).await;
    let other = Client::signed(&shop.address, ("Edda Holm", "8642")).await;
    for (kind, payload) in [("sign", json!({ "seen_seq": 3 })), ("strike", json!({ "entry": note, "reason": "why" }))] {
        assert_eq!(other.dry(&book, kind, payload).await["refusals"][0]["why"], "forbidden", "{kind}");
    }
    shop.close().await;
}

/// Duties outside the books, by role.
#[sqlx::test]
async fn sheets_and_people_by_role(db: PgPool) {
    let shop = Shop::open(db).await;
    for (who, sheets, people) in
        [(APPLICATOR, false, false), (LEAD, true, false), (INSPECTOR, false, false), (("Dunja Fenn", "4680"), true, true)]
    {
        let client = Client::signed(&shop.address, who).await;
        let (status, _) = client.post("/sheets", json!({ "sheet": {} })).await;
        assert_eq!(status != 403, sheets, "{} on sheets", who.0);
        let (status, _) = client.post("/people", json!({ "name": "", "role": "lead", "pin": "1357" })).await;
        assert_eq!(status != 403, people, "{} on people", who.0);
    }
    shop.close().await;
}
