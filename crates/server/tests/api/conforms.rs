//! What the server answers is what its document says: every read of the demo against `openapi.json`, with no field that the
//! document does not name.

use super::client::{Client, LEAD, applicator};
use level_keel_harness::Shop;
use serde_json::{Value, json};
use sqlx::PgPool;
use std::collections::BTreeSet;
use std::time::Duration;

/// The schemas of the document, closed: an object that lists its fields takes no other.
fn closed(mut document: Value) -> Value {
    fn close(schema: &mut Value, inside_all_of: bool) {
        match schema {
            Value::Object(map) => {
                if let Some(Value::String(target)) = map.get_mut("$ref") {
                    *target = target.replace("#/components/schemas/", "#/$defs/");
                }
                if map.get("properties").is_some() && !map.contains_key("additionalProperties") && !inside_all_of {
                    map.insert("additionalProperties".into(), json!(false));
                }
                if map.contains_key("allOf") && !inside_all_of {
                    map.insert("unevaluatedProperties".into(), json!(false));
                }
                for (key, value) in map.iter_mut() {
                    close(value, key == "allOf");
                }
            }
            Value::Array(items) => items.iter_mut().for_each(|item| close(item, inside_all_of)),
            Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => {}
        }
    }
    let mut schemas = document["components"]["schemas"].take();
    // What is named in an `allOf` is closed by the whole it is a part of.
    let parts: BTreeSet<String> = parts_of(&schemas);
    for (name, schema) in schemas.as_object_mut().expect("schemas") {
        close(schema, parts.contains(name));
    }
    schemas
}

/// Names of schemas that are parts of others.
fn parts_of(schemas: &Value) -> BTreeSet<String> {
    match schemas {
        Value::Object(map) => {
            let all = map.get("allOf").and_then(Value::as_array).into_iter().flatten();
            let named = all.filter_map(|s| Some(s["$ref"].as_str()?.rsplit('/').next()?.to_string()));
            named.chain(map.values().flat_map(parts_of)).collect()
        }
        Value::Array(items) => items.iter().flat_map(parts_of).collect(),
        Value::Null | Value::Bool(_) | Value::Number(_) | Value::String(_) => BTreeSet::new(),
    }
}

fn id_of(rows: &Value) -> &str {
    rows.as_array().and_then(|r| r[0]["id"].as_str()).expect("a row with an id")
}

/// The addresses of a path of the document, filled from the demo; none: it is no list, no record, or needs a device.
async fn addresses(client: &Client, path: &str) -> Vec<String> {
    let (_, board) = client.get("/board").await;
    let (_, records) = client.get("/records").await;
    let ids = |rows: &Value| -> Vec<String> {
        rows.as_array().expect("rows").iter().map(|r| r["id"].as_str().expect("an id").to_string()).collect()
    };
    let batches: Vec<String> = ids(&board["batches"]).into_iter().chain(ids(&records["rows"])).collect();
    let filled = |ids: Vec<String>| ids.into_iter().map(|id| path.replace("{id}", &id)).collect();
    let stations = ["ready", "mix", "set", "prove", "spray", "close"];
    match path {
        "/batches/{id}" => batches.iter().flat_map(|id| stations.map(|s| format!("/batches/{id}?station={s}"))).collect(),
        _ if path.starts_with("/batches/{id}/charges") => Vec::new(),
        _ if path.starts_with("/batches/{id}") => filled(batches),
        _ if path.starts_with("/lots/{id}") => filled(ids(&client.get("/lots").await.1["lots"])),
        _ if path.starts_with("/parts/{id}") => filled(ids(&client.get("/parts").await.1)),
        _ if path.starts_with("/rigs/{id}") => filled(ids(&client.get("/rigs").await.1)),
        "/sheets/{id}/changes" => {
            let id = id_of(&client.get("/sheets").await.1).to_string();
            vec![format!("/sheets/{id}/changes?from=1&to=1")]
        }
        _ if path.starts_with("/sheets/{id}") => filled(ids(&client.get("/sheets").await.1)),
        "/trace" => {
            let (lots, parts) = (client.get("/lots").await.1, client.get("/parts").await.1);
            let (rigs, person) = (client.get("/rigs").await.1, client.get("/session").await.1);
            let me = person["id"].as_str().expect("an id");
            let asks = [("lot", id_of(&lots["lots"])), ("part", id_of(&parts)), ("rig", id_of(&rigs)), ("person", me)];
            asks.map(|(of, id)| format!("/trace?{of}={id}")).to_vec()
        }
        "/compute/tips/{code}" => vec!["/compute/tips/415".into()],
        _ if path.contains('{') => Vec::new(),
        _ => vec![path.to_string()],
    }
}

/// Every read that answers JSON, with the demo's own rows; and that at least so many were read that nothing is left out unseen.
#[sqlx::test]
async fn every_read_answers_as_the_document_says(db: PgPool) {
    let shop = Shop::open(db).await;
    let owner = Client::signed(&shop.address, ("Dunja Fenn", "4680")).await;
    let (_, document) = owner.get("/openapi.json").await;
    let schemas = closed(document.clone());
    let (mut read, mut faults) = (0, Vec::new());
    for (path, methods) in document["paths"].as_object().expect("paths") {
        let Some(answer) = methods["get"]["responses"]["200"]["content"].get("application/json") else { continue };
        let path = path.strip_prefix("/api/v1").expect("under one root");
        let mut schema = answer["schema"].clone();
        let text = schema.to_string().replace("#/components/schemas/", "#/$defs/");
        schema = serde_json::from_str(&text).expect("JSON");
        schema["$schema"] = json!("https://json-schema.org/draft/2020-12/schema");
        schema["$defs"] = schemas.clone();
        let validator = jsonschema::validator_for(&schema).unwrap_or_else(|e| panic!("{path}: {e}"));
        for address in addresses(&owner, path).await {
            // A stream has no end: it is described as one, and not read here.
            let answer = tokio::time::timeout(Duration::from_secs(20), owner.get(&address)).await;
            let (status, body) = answer.unwrap_or_else(|_| panic!("{address} never ends"));
            assert_eq!(status, 200, "{address}: {body}");
            read += 1;
            // The document can say no: a field it does not name is one too many.
            let mut more = body.clone();
            let inner = if more.is_array() { more.get_mut(0) } else { Some(&mut more) };
            if let Some(map) = inner.and_then(Value::as_object_mut) {
                map.insert("nobody_named_this".into(), json!(1));
                assert!(!validator.is_valid(&more), "{address} may answer anything");
            }
            faults.extend(validator.iter_errors(&body).take(3).map(|e| format!("{address} {}: {e}", e.instance_path())));
        }
    }
    faults.sort();
    assert!(faults.is_empty(), "{} faults, first of them {:#?}", faults.len(), &faults[..faults.len().min(12)]);
    assert!(read >= 100, "only {read} were read");
    shop.close().await;
}

/// What an entry is answered, stored or not, and what is refused: by the document as well.
#[sqlx::test]
async fn what_is_written_is_answered_as_the_document_says(db: PgPool) {
    let shop = Shop::open(db).await;
    let client = applicator(&shop).await;
    let (_, document) = client.get("/openapi.json").await;
    let schemas = closed(document);
    let by = |name: &str| {
        let schema = json!({ "$schema": "https://json-schema.org/draft/2020-12/schema", "$ref": format!("#/$defs/{name}"),
                             "$defs": schemas });
        jsonschema::validator_for(&schema).expect("a schema")
    };
    let (written, problem) = (by("Written"), by("ProblemBody"));
    let fits = |validator: &jsonschema::Validator, body: &Value| {
        let faults: Vec<String> = validator.iter_errors(body).map(|e| format!("{}: {e}", e.instance_path())).collect();
        assert!(faults.is_empty(), "{faults:#?}\n{body}");
    };
    let book = client.begun().await;
    fits(&written, &client.dry(&book, "note", json!({ "text": "wind" })).await);
    fits(&written, &client.wrote(&book, "note", json!({ "text": "wind" })).await);
    fits(&written, &client.dry(&book, "conditions", json!({ "air_c": "warm" })).await);
    let lead = Client::signed(&shop.address, LEAD).await;
    for (status, body) in [
        client.write(&book, "conditions", json!({ "air_c": "warm", "surface_c": 20, "material_c": 20, "rh_pct": 50 })).await,
        client.write(&book, "no_such_kind", json!({})).await,
        client.write("0191d000-0000-7000-8000-000000000000", "note", json!({ "text": "wind" })).await,
        lead.put("/sheets/0191d000-0000-7000-8000-000000000000", json!({ "sheet": {} })).await,
        client.post("/people", json!({ "name": "Edda Holm", "role": "lead", "pin": "8642" })).await,
        client.post("/session", json!({ "name": "Ansa Reef", "pin": "0000" })).await,
    ] {
        assert!(status.is_client_error(), "{status} {body}");
        fits(&problem, &body);
        assert_eq!(body["status"], status.as_u16(), "{body}");
        assert!(body["detail"].as_str().is_some_and(|text| text.len() > 8), "a person is told what is wrong: {body}");
    }
    shop.close().await;
}
