//! No circle between the modules of core, and none in the server but the one that is known: read from the sources.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

type Uses = BTreeMap<String, BTreeSet<String>>;

/// Which top-level module names which, by every `crate::…` in its sources; comments do not count.
fn uses(dir: &Path) -> Uses {
    let mut found = Uses::new();
    for entry in std::fs::read_dir(dir).unwrap() {
        let path = entry.unwrap().path();
        let name = path.file_stem().unwrap().to_string_lossy().to_string();
        // The root and the program join the modules; nothing names them.
        if name != "lib" && name != "main" {
            read(&path, &name, found.entry(name.clone()).or_default());
        }
    }
    found
}

fn read(path: &Path, me: &str, named: &mut BTreeSet<String>) {
    if path.is_dir() {
        std::fs::read_dir(path).unwrap().for_each(|entry| read(&entry.unwrap().path(), me, named));
        return;
    }
    let text = std::fs::read_to_string(path).unwrap();
    let code: Vec<&str> = text.lines().map(|line| line.split("//").next().unwrap_or("")).collect();
    let code = code.join("\n");
    for after in code.split("crate::").skip(1) {
        // `use crate::{a, b::c}` names several at once.
        let names = match after.strip_prefix('{') {
            Some(list) => top_level(list.split('}').next().unwrap_or("")),
            None => vec![word(after)],
        };
        named.extend(
            names.into_iter().filter(|n| n != me && n.chars().all(|c| c.is_lowercase() || c == '_' || c.is_ascii_digit())),
        );
    }
}

fn word(text: &str) -> String {
    text.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect()
}

fn top_level(list: &str) -> Vec<String> {
    list.split(',').map(|item| word(item.trim())).filter(|name| !name.is_empty()).collect()
}

/// Modules that reach themselves again, grouped by the circle they stand in.
fn circles(uses: &Uses) -> BTreeSet<BTreeSet<String>> {
    let reach = |from: &String| {
        let mut seen = BTreeSet::new();
        let mut next: Vec<&String> = uses.get(from).into_iter().flatten().collect();
        while let Some(name) = next.pop() {
            if seen.insert(name.clone()) {
                next.extend(uses.get(name).into_iter().flatten());
            }
        }
        seen
    };
    let all: BTreeMap<&String, BTreeSet<String>> = uses.keys().map(|name| (name, reach(name))).collect();
    let in_one = |a: &String, b: &String| all[a].contains(b) && all.get(b).is_some_and(|r| r.contains(a));
    uses.keys()
        .filter(|name| in_one(name, name))
        .map(|name| uses.keys().filter(|other| in_one(name, other)).cloned().collect())
        .collect()
}

fn of(text: &[(&str, &[&str])]) -> Uses {
    text.iter().map(|(name, named)| ((*name).into(), named.iter().map(|n| (*n).into()).collect())).collect()
}

#[test]
fn the_finder_finds_circles() {
    let straight = of(&[("a", &["b", "c"]), ("b", &["c"]), ("c", &[])]);
    assert!(circles(&straight).is_empty());
    let round = of(&[("a", &["b"]), ("b", &["c"]), ("c", &["a"]), ("d", &["a"])]);
    assert_eq!(circles(&round), BTreeSet::from([["a", "b", "c"].map(String::from).into()]), "d only leads into it");
    let two = of(&[("a", &["b"]), ("b", &["a"]), ("c", &["d"]), ("d", &["c"])]);
    assert_eq!(circles(&two).len(), 2);
}

#[test]
fn core_has_no_circle() {
    let uses = uses(Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/src")));
    assert!(uses.len() > 20 && uses["batch"].contains("mixing"), "the sources were read");
    assert_eq!(circles(&uses), BTreeSet::new());
}

/// The state of the server holds what its slices share (the records kept, what is told live, scales, probes), and the slices
/// take it from there: that one circle is known, and it does not grow.
#[test]
fn the_server_has_no_new_circle() {
    let uses = uses(Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../server/src")));
    assert!(uses.len() > 15 && uses["books"].contains("state"), "the sources were read");
    let known = [
        "atomizing",
        "auth",
        "books",
        "conditions",
        "instruments",
        "lists",
        "live",
        "parts",
        "rigs",
        "scales",
        "sheets",
        "state",
        "stores",
    ];
    let known: BTreeSet<String> = known.map(String::from).into();
    for circle in circles(&uses) {
        assert!(circle.is_subset(&known), "{circle:?}");
    }
}
