//! Checkpoints against a real database: made, taken along, printed, and each way of rewriting what they cover found.

use super::client::{Client, INSPECTOR, applicator, lead};
use level_keel_core::batch::EntryKind;
use level_keel_core::book::canonical::seal_entry;
use level_keel_harness::Shop;
use level_keel_server::books::{check_log, load};
use level_keel_server::checkpoints::verify;
use level_keel_server::settings::Settings;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::os::unix::fs::PermissionsExt;
use std::path::{Path, PathBuf};
use uuid::Uuid;

struct Folder(PathBuf);

impl Folder {
    fn new(name: &str) -> Folder {
        let at = std::env::temp_dir().join(format!("level-keel-checkpoints-{name}-{}", std::process::id()));
        std::fs::remove_dir_all(&at).ok();
        Folder(at)
    }

    fn files(&self) -> Vec<PathBuf> {
        let mut all: Vec<PathBuf> = std::fs::read_dir(&self.0)
            .map(|d| d.filter_map(|f| Some(f.ok()?.path())).filter(|p| p.extension().is_some_and(|e| e == "json")).collect())
            .unwrap_or_default();
        all.sort();
        all
    }
}

impl Drop for Folder {
    fn drop(&mut self) {
        std::fs::remove_dir_all(&self.0).ok();
    }
}

async fn shop_with(db: PgPool, folder: &Path) -> Shop {
    let set = Settings { demo: true, checkpoint_dir: folder.display().to_string(), ..Settings::default() };
    let shop = Shop::open(db).await;
    let print_program = shop.state.settings.print_program.clone();
    shop.again(Settings { print_program, ..set }, "0.1.0").await
}

async fn owner(shop: &Shop) -> Client {
    Client::signed(&shop.address, ("Dunja Fenn", "4680")).await
}

async fn run(shop: &Shop, sql: &str) {
    sqlx::raw_sql(sqlx::AssertSqlSafe(sql.to_string())).execute(&shop.state.db).await.unwrap();
}

async fn faults(shop: &Shop, folder: &Folder) -> Vec<String> {
    verify(&shop.state.db, &folder.0).await.unwrap().faults
}

/// Waits until so many files lie in the folder.
async fn until(folder: &Folder, many: usize) {
    for _ in 0..500 {
        if folder.files().len() >= many {
            return;
        }
        tokio::time::sleep(std::time::Duration::from_millis(10)).await;
    }
    panic!("{} checkpoints, {many} wanted", folder.files().len());
}

#[sqlx::test]
async fn a_day_has_its_checkpoint_and_so_has_each_signature(db: PgPool) {
    let folder = Folder::new("daily");
    let shop = shop_with(db, &folder.0).await;
    until(&folder, 1).await;
    let lead = lead(&shop).await;
    let records = lead.get("/records").await.1;
    let id = records["rows"].as_array().unwrap().iter().find(|r| r["label"] == "Buoy 7 · primer").unwrap()["id"]
        .as_str()
        .unwrap()
        .to_string();
    // Opened again and signed again: the card that is kept anew is covered at once.
    lead.wrote(&id, "reopen", json!({ "reason": "a wrong remark" })).await;
    let seen = lead.get(&format!("/batches/{id}")).await.1["head_seq"].clone();
    lead.wrote(&id, "sign", json!({ "seen_seq": seen })).await;
    until(&folder, 2).await;
    let line = lead.get(&format!("/batches/{id}/checkpoint")).await.1["line"].as_str().unwrap().to_string();
    assert!(line.contains("covered by checkpoint 2"), "{line}");
    assert!(faults(&shop, &folder).await.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn the_owner_makes_and_takes_checkpoints_and_a_card_names_its_own(db: PgPool) {
    let folder = Folder::new("made");
    let shop = shop_with(db, &folder.0).await;
    let (owner, lead) = (owner(&shop).await, lead(&shop).await);
    for client in [&lead, &applicator(&shop).await, &Client::signed(&shop.address, INSPECTOR).await] {
        assert_eq!(client.post("/checkpoints", json!({})).await.0, 403);
        assert_eq!(client.get("/checkpoints").await.0, 403);
        assert_eq!(client.get("/checkpoints/1").await.0, 403);
    }
    let records = lead.get("/records").await.1;
    let id = records["rows"][0]["id"].as_str().unwrap().to_string();
    until(&folder, 1).await;
    let first = owner.get("/checkpoints").await.1[0].clone();
    let (status, second) = owner.post("/checkpoints", json!({})).await;
    assert_eq!((status.as_u16(), second["number"].as_i64()), (200, Some(2)), "{second}");
    let listed = owner.get("/checkpoints").await.1;
    assert_eq!((listed.as_array().unwrap().len(), &listed[0]["number"]), (2, &json!(2)), "the newest first");
    // The key is its owner's alone to read; so is each file.
    let mode = |path: &Path| std::fs::metadata(path).unwrap().permissions().mode() & 0o777;
    assert_eq!(mode(&folder.0.join("checkpoint.key")), 0o600);
    assert_eq!((mode(&folder.0), mode(&folder.files()[0])), (0o700, 0o600));
    // The file fits its schema, and holds no secret.
    let (name, file) = owner.file("/checkpoints/1").await;
    assert!(name.contains("level-keel-checkpoint-000001.json"), "{name}");
    let schema: Value = serde_json::from_str(&owner.file("/schemas/checkpoint.json").await.1).unwrap();
    jsonschema::validator_for(&schema).unwrap().validate(&serde_json::from_str(&file).unwrap()).unwrap();
    assert!(!file.contains(std::fs::read_to_string(folder.0.join("checkpoint.key")).unwrap().trim()));
    assert_eq!(owner.get("/checkpoints/9").await.0, 404);
    assert!(faults(&shop, &folder).await.is_empty());
    // A card names the first that covers it, today and later, on the page and on paper.
    let line = lead.get(&format!("/batches/{id}/checkpoint")).await.1["line"].as_str().unwrap().to_string();
    assert!(line.contains("checkpoint 1 of") && line.contains(first["root"].as_str().unwrap()), "{line}");
    let pdf = lead.http.get(format!("{}/batches/{id}/card.pdf", lead.base)).send().await.unwrap().bytes().await.unwrap();
    let document = lopdf::Document::load_mem(&pdf).unwrap();
    let pages: Vec<u32> = document.get_pages().keys().copied().collect();
    assert!(document.extract_text(&pages).unwrap().contains(first["root"].as_str().unwrap()));
    let open = applicator(&shop).await.begun().await;
    assert_eq!(lead.get(&format!("/batches/{open}/checkpoint")).await.1["line"], Value::Null, "it is not signed");
    let verified = verify(&shop.state.db, &folder.0).await.unwrap();
    assert_eq!((verified.checkpoints, verified.later), (2, 1), "what came after the newest is said to be uncovered");
    shop.close().await;
}

/// Everything that may be done to the database by who holds it, one after the other: each is told, and put back.
#[sqlx::test]
async fn whatever_is_rewritten_after_a_checkpoint_is_found(db: PgPool) {
    let folder = Folder::new("rewritten");
    let shop = shop_with(db, &folder.0).await;
    let owner = owner(&shop).await;
    until(&folder, 1).await;
    assert!(faults(&shop, &folder).await.is_empty());
    let records = owner.get("/records").await.1;
    let book: Uuid = records["rows"][0]["id"].as_str().unwrap().parse().unwrap();
    // What is said, who, when, in which order: changed, and the chain sealed anew, so that the log by itself is whole.
    run(&shop, "alter table entry disable trigger entry_append_only; create table kept as select * from entry").await;
    for change in [
        "payload = jsonb_set(payload::jsonb, '{rh_pct}', '31')::text",
        "who = (select id from person where name = 'Brok Tarn')",
        "happened = happened - interval '1 hour'",
    ] {
        run(&shop, &format!("update entry set {change} where book_id = '{book}' and seq = (select min(seq) from entry where book_id = '{book}' and kind = 'conditions')")).await;
        rechained(&shop, book).await;
        let found = faults(&shop, &folder).await;
        assert!(found.iter().any(|f| f.contains(&book.to_string()) && f.contains("was rewritten")), "{change}: {found:?}");
        put_back(&shop, book).await;
    }
    let found = faults(&shop, &folder).await;
    assert!(found.is_empty(), "{found:?}");
    // Two entries in the other order.
    for (from, to) in [(5, 1000), (4, 5), (1000, 4)] {
        run(&shop, &format!("update entry set seq = {to} where book_id = '{book}' and seq = {from}")).await;
    }
    rechained(&shop, book).await;
    let found = faults(&shop, &folder).await;
    assert!(found.iter().any(|f| f.contains(&book.to_string()) && f.contains("was rewritten")), "the order: {found:?}");
    put_back(&shop, book).await;
    // The last entries cut, and the head lowered to fit.
    run(&shop, &format!("delete from entry where book_id = '{book}' and seq = (select max(seq) from entry where book_id = '{book}'); update book set head_seq = head_seq - 1 where id = '{book}'")).await;
    let found = faults(&shop, &folder).await;
    assert!(found.iter().any(|f| f.contains("was cut off or taken away")), "{found:?}");
    run(&shop, &format!("update book set head_seq = head_seq + 1 where id = '{book}'")).await;
    put_back(&shop, book).await;
    // All entries of a batch gone.
    run(&shop, &format!("delete from entry where book_id = '{book}'")).await;
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains(&book.to_string()) && f.contains("taken away")));
    put_back(&shop, book).await;
    // A card altered, and a card gone.
    let kept: Value =
        sqlx::query_scalar("select signed_card from batch where id = $1").bind(book).fetch_one(&shop.state.db).await.unwrap();
    run(
        &shop,
        &format!("update batch set signed_card = jsonb_set(signed_card, '{{view,title}}', '\"Another\"') where id = '{book}'"),
    )
    .await;
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains("the card of batch") && f.contains("was altered")));
    run(&shop, &format!("update batch set signed_card = null where id = '{book}'")).await;
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains("the card of batch") && f.contains("is gone")));
    sqlx::query("update batch set signed_card = $1 where id = $2").bind(&kept).bind(book).execute(&shop.state.db).await.unwrap();
    assert!(faults(&shop, &folder).await.is_empty());
    shop.close().await;
}

#[sqlx::test]
async fn files_and_checkpoints_that_are_changed_or_gone_are_found(db: PgPool) {
    let folder = Folder::new("files");
    let shop = shop_with(db, &folder.0).await;
    let owner = owner(&shop).await;
    until(&folder, 1).await;
    let mut png = std::io::Cursor::new(Vec::new());
    image::RgbImage::new(4, 4).write_to(&mut png, image::ImageFormat::Png).unwrap();
    let sent = owner.http.put(format!("{}/files?name=a.png", owner.base)).body(png.into_inner()).send().await.unwrap();
    assert_eq!(sent.status(), 200);
    for _ in 0..2 {
        owner.post("/checkpoints", json!({})).await;
    }
    assert!(faults(&shop, &folder).await.is_empty());
    run(&shop, "create table kept as select * from attachment; update attachment set bytes = bytes || '\\x00'::bytea").await;
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains("is not what its hash says")));
    run(&shop, "delete from attachment").await;
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains("is gone since checkpoint 3")));
    run(&shop, "insert into attachment select * from kept").await;
    assert!(faults(&shop, &folder).await.is_empty());
    // A file of the folder changed, one taken away, one that is no checkpoint at all.
    let second = folder.files()[1].clone();
    let whole = std::fs::read_to_string(&second).unwrap();
    std::fs::write(&second, whole.replacen("\"entries\":", "\"entries\": 1", 1)).unwrap();
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains("checkpoint 2: its signature is not of this statement")));
    std::fs::write(&second, "{").unwrap();
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains("checkpoint 2: its file cannot be read")));
    std::fs::remove_file(&second).unwrap();
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains("checkpoint 3: one before it is missing")));
    std::fs::write(&second, whole).unwrap();
    assert!(faults(&shop, &folder).await.is_empty());
    // Without the key nobody knows who signed them.
    std::fs::rename(folder.0.join("checkpoint.key"), folder.0.join("elsewhere")).unwrap();
    assert!(faults(&shop, &folder).await.iter().any(|f| f.contains("the key is not here")));
    shop.close().await;
}

/// What lies beside the books: each change is told by what it is of, and so is a change before the newest checkpoint.
#[sqlx::test]
async fn people_sheets_lists_and_pieces_changed_beside_the_application_are_found(db: PgPool) {
    let folder = Folder::new("house");
    let shop = shop_with(db, &folder.0).await;
    let owner = owner(&shop).await;
    until(&folder, 1).await;
    assert!(faults(&shop, &folder).await.is_empty());
    let ansa = "name = 'Ansa Reef'";
    for (what, change, back) in [
        (
            "person",
            format!("update person set name = 'Ansa Reet' where {ansa}"),
            "update person set name = 'Ansa Reef' where name = 'Ansa Reet'".into(),
        ),
        (
            "person",
            format!("update person set role = 'owner' where {ansa}"),
            format!("update person set role = 'applicator' where {ansa}"),
        ),
        (
            "person",
            "create table pins as select id, pin_hash from person; update person set pin_hash = 'x'".into(),
            "update person p set pin_hash = k.pin_hash from pins k where k.id = p.id; drop table pins".to_string(),
        ),
        (
            "sheet edition",
            "update sheet_version set body = body || '{\"x\": 1}'".into(),
            "update sheet_version set body = body - 'x'".into(),
        ),
        (
            "ready lists",
            "insert into ready_lists select 99, '{}', null, now()".into(),
            "delete from ready_lists where edition = 99".into(),
        ),
        ("piece", "update piece set name = name || '!'".into(), "update piece set name = left(name, -1)".into()),
        ("tip", "update tip_row set hole_mm = hole_mm * 2".into(), "update tip_row set hole_mm = hole_mm / 2".into()),
        (
            "instrument",
            "update instrument set resolution = resolution * 2".into(),
            "update instrument set resolution = resolution / 2".into(),
        ),
        (
            "setting",
            "update house set value = 'Elsewhere' where key = 'shop'".into(),
            "update house set value = 'Island works' where key = 'shop'".into(),
        ),
    ] {
        run(&shop, &change).await;
        let found = faults(&shop, &folder).await;
        assert!(found.iter().any(|f| f.starts_with(what) && f.ends_with("since checkpoint 1")), "{change}: {found:?}");
        run(&shop, &back).await;
        assert!(faults(&shop, &folder).await.is_empty(), "{back}");
    }
    // The row of a lot and of a rig say what their books say, or are told.
    for change in [
        "update lot set expires = expires + 365",
        "update lot set left_g = coalesce(left_g, 0) + 1000",
        "update rig set name = name || '!'",
    ] {
        let mut tx = shop.state.db.begin().await.unwrap();
        sqlx::query(change).execute(&mut *tx).await.unwrap();
        tx.commit().await.unwrap();
        let found = check_log(&shop.state.db).await.unwrap().faults;
        assert!(found.iter().any(|f| f.ends_with("run rebuild")), "{change}: {found:?}");
        level_keel_server::books::rebuild(&shop.state.db).await.unwrap();
        assert!(check_log(&shop.state.db).await.unwrap().faults.is_empty(), "{change}");
    }
    // Changed by the application it is covered at once, and told as a change between two.
    let person = json!({ "name": "Edda Mole", "role": "applicator", "pin": "739152" });
    assert_eq!(owner.post("/people", person).await.0, 200);
    until(&folder, 2).await;
    let verified = verify(&shop.state.db, &folder.0).await.unwrap();
    assert!(verified.faults.is_empty(), "{:?}", verified.faults);
    assert!(
        verified.changes.iter().any(|c| c.starts_with("between checkpoints 1 and 2: person") && c.ends_with("was added")),
        "{:?}",
        verified.changes
    );
    shop.close().await;
}

/// Seals the entries of a book anew, each on the one before it.
async fn rechained(shop: &Shop, book: Uuid) {
    let mut db = shop.state.db.acquire().await.unwrap();
    let mut previous = String::new();
    for entry in load::<EntryKind>(&mut db, book).await.unwrap() {
        let (text, hash) = seal_entry(book, &entry, &previous);
        sqlx::query("update entry set payload = $1, previous_hash = $2, hash = $3 where book_id = $4 and seq = $5")
            .bind(text)
            .bind(&previous)
            .bind(&hash)
            .bind(book)
            .bind(entry.seq)
            .execute(&mut *db)
            .await
            .unwrap();
        previous = hash;
    }
    // The chain by itself is whole: nothing in the database says that it was another.
    let faults = check_log(&shop.state.db).await.unwrap().faults;
    assert!(faults.iter().all(|f| !f.contains("does not match its hash")), "{faults:?}");
}

async fn put_back(shop: &Shop, book: Uuid) {
    let columns = "book_id, seq, id, kind, version, payload, who, happened, arrived, request_sha256, previous_hash, hash";
    run(shop, &format!("delete from entry where book_id = '{book}'; insert into entry ({columns}) select {columns} from kept where book_id = '{book}'")).await;
}
