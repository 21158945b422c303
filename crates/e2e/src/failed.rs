//! What a failed browser test leaves behind: a picture of the page, its text and what it wrote to the console.

use base64::Engine;
use serde_json::{Value, json};
use std::path::{Path, PathBuf};
use std::time::Duration;

/// Where it is left: `target/failed/` of the workspace.
pub fn folder() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/failed")
}

/// Asks the driver of a session for all it shows and writes it to the folder, as `test.png` and `test.log`. Runs on a
/// thread and a runtime of its own, because the test's own may be the one that fails. Errors are said, never raised.
pub fn keep(session: &str, folder: &Path, test: &str) {
    let name: String = test.chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '_' }).collect();
    let (session, folder) = (session.to_string(), folder.to_path_buf());
    let kept = std::thread::spawn(move || {
        let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build().map_err(|e| e.to_string())?;
        runtime.block_on(write(&session, &folder, &name)).map_err(|e| e.to_string())
    });
    match kept.join() {
        Ok(Ok(picture)) => eprintln!("the page as it was: {}", picture.display()),
        Ok(Err(why)) => eprintln!("the page could not be kept: {why}"),
        Err(_) => eprintln!("the page could not be kept"),
    }
}

async fn write(session: &str, folder: &Path, name: &str) -> Result<PathBuf, Box<dyn std::error::Error>> {
    let driver = reqwest::Client::builder().timeout(Duration::from_secs(20)).no_proxy().build()?;
    let ask = async |path: &str, body: Option<Value>| -> Result<Value, reqwest::Error> {
        let address = format!("{session}/{path}");
        let request = match body {
            Some(body) => driver.post(address).json(&body),
            None => driver.get(address),
        };
        request.send().await?.json().await
    };
    std::fs::create_dir_all(folder)?;
    // More than one browser may be open in a test; none overwrites another's.
    let mut picture = folder.join(format!("{name}.png"));
    for n in 2.. {
        if !picture.exists() {
            break;
        }
        picture = folder.join(format!("{name}-{n}.png"));
    }
    let shot = ask("screenshot", None).await?;
    let png = base64::engine::general_purpose::STANDARD.decode(shot["value"].as_str().unwrap_or_default())?;
    std::fs::write(&picture, png)?;
    let read = json!({ "script": "return location.href + '\\n\\n' + document.body.innerText", "args": [] });
    let page = ask("execute/sync", Some(read)).await?;
    let console = ask("se/log", Some(json!({ "type": "browser" }))).await?;
    let lines = console["value"].as_array().cloned().unwrap_or_default();
    let lines: Vec<_> =
        lines.iter().map(|l| format!("{} {}", l["level"].as_str().unwrap_or("?"), l["message"].as_str().unwrap_or(""))).collect();
    let text = page["value"].as_str().unwrap_or_default();
    std::fs::write(picture.with_extension("log"), format!("{text}\n\n--- console\n{}\n", lines.join("\n")))?;
    Ok(picture)
}
