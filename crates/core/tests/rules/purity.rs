//! Core is pure: no I/O, no clock, no interface. Checked on its manifest and its sources.

use std::path::Path;

const BANNED_CRATES: [&str; 7] = ["actix-web", "sqlx", "tokio", "anyhow", "eyre", "reqwest", "rand"];
const BANNED_WORDS: [&str; 8] =
    ["std::fs", "std::net", "std::env", "std::process", "SystemTime", "Instant::now", "Timestamp::now", "println!"];

#[test]
fn no_banned_crate() {
    let manifest = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/Cargo.toml")).unwrap();
    for banned in BANNED_CRATES {
        let named = |line: &str| line.strip_prefix(banned).is_some_and(|rest| rest.trim_start().starts_with(['=', '.']));
        assert!(!manifest.lines().any(named), "core must not depend on {banned}");
    }
}

#[test]
fn no_clock_and_no_io() {
    let mut files = 0;
    walk(Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/src")), &mut |path, text| {
        files += 1;
        for word in BANNED_WORDS {
            assert!(!text.contains(word), "{} holds {word}", path.display());
        }
    });
    assert!(files > 20, "the sources were read");
}

fn walk(dir: &Path, see: &mut dyn FnMut(&Path, &str)) {
    for entry in std::fs::read_dir(dir).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            walk(&path, see);
        } else {
            see(&path, &std::fs::read_to_string(&path).unwrap());
        }
    }
}
