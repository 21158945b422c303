//! `script/backup` and `script/restore`, run as somebody runs them: a shop in one file, and back, and what is refused.

use std::path::PathBuf;
use std::process::Command;

struct Place(PathBuf);

impl Place {
    fn new() -> Place {
        let at = std::env::temp_dir().join(format!("level-keel-backup-{}", std::process::id()));
        std::fs::remove_dir_all(&at).ok();
        std::fs::create_dir_all(&at).unwrap();
        // Whoever owns the cluster must be able to enter it.
        use std::os::unix::fs::PermissionsExt;
        std::fs::set_permissions(&at, std::fs::Permissions::from_mode(0o755)).unwrap();
        Place(at)
    }

    fn file(&self, name: &str) -> String {
        self.0.join(name).display().to_string()
    }

    /// Runs a script of the project for the shop in a folder: whether it ended well, and what it said.
    fn run(&self, home: &str, passphrase: Option<&str>, script: &str) -> (bool, String) {
        let root = concat!(env!("CARGO_MANIFEST_DIR"), "/../..");
        let mut command = Command::new("bash");
        command.args(["-euc", script]).current_dir(root);
        command.env("LEVEL_KEEL_HOME", self.0.join(home)).env("PROGRAM", env!("CARGO_BIN_EXE_level-keel"));
        for foreign in ["DATABASE_URL", "PGPASSWORD", "LEVEL_KEEL_DEMO"] {
            command.env_remove(foreign);
        }
        if let Some(passphrase) = passphrase {
            command.env("PASSPHRASE", passphrase);
        }
        let out = command.output().unwrap();
        (out.status.success(), String::from_utf8_lossy(&[out.stdout, out.stderr].concat()).into_owned())
    }
}

impl Drop for Place {
    fn drop(&mut self) {
        std::fs::remove_dir_all(&self.0).ok();
    }
}

/// A shop with its owner, made as `script/start` makes one.
const A_SHOP: &str = r#"
    . script/lib.sh
    choose_home false
    start_cluster "$HOME_DIR" "-c fsync=off"
    trap stop_cluster EXIT
    "$(pg_bin)/psql" -qX "$PG_URL/postgres" -c 'create database level_keel'
    export LEVEL_KEEL_DATABASE_URL="$PG_URL/level_keel"
    "$PROGRAM" migrate
    PIN=583017 "$PROGRAM" add-person 'Mara Sill' owner
"#;

/// Who is in the shop of a folder.
const PEOPLE: &str = r#"
    . script/lib.sh
    choose_home false
    join_cluster "$HOME_DIR"
    "$(pg_bin)/psql" -qAtX "$PG_URL/level_keel" -c 'select name from person'
"#;

fn changed(file: &str) -> String {
    let mut bytes = std::fs::read(file).unwrap();
    let at = bytes.len() / 2;
    bytes[at] ^= 1;
    let other = format!("{file}.changed");
    std::fs::write(&other, bytes).unwrap();
    other
}

#[test]
fn a_shop_goes_into_one_file_and_comes_back() {
    let place = Place::new();
    let (plain, shut) = (place.file("plain"), place.file("shut"));
    let (made, said) = place.run("one", None, A_SHOP);
    assert!(made, "{said}");
    for (file, passphrase) in [(&plain, None), (&shut, Some("a long sentence"))] {
        let (written, said) = place.run("one", passphrase, &format!("script/backup {file}"));
        assert!(written, "{said}");
        use std::os::unix::fs::PermissionsExt;
        assert_eq!(std::fs::metadata(file).unwrap().permissions().mode() & 0o777, 0o600);
    }
    let (written, said) = place.run("one", None, &format!("script/backup {plain}"));
    assert!(!written && said.contains("written over nothing"), "{said}");
    for (home, file, passphrase) in [("two", &plain, None), ("three", &shut, Some("a long sentence"))] {
        let (restored, said) = place.run(home, passphrase, &format!("script/restore {file}"));
        assert!(restored && said.contains("0 faults"), "{said}");
        let (_, people) = place.run(home, None, PEOPLE);
        assert_eq!(people.trim(), "Mara Sill");
    }
    // Each is refused by its name, and leaves nothing behind.
    let newer = format!(
        "cd {0} && mkdir new && tar -C new -xf plain && sed -i 's/\"migration\": [0-9]*/\"migration\": 99999/' new/manifest.json && tar -C new -cf newer manifest.json level_keel.dump",
        place.0.display()
    );
    assert!(place.run("one", None, &newer).0);
    std::fs::write(place.file("none"), "no backup at all").unwrap();
    for (home, file, passphrase, why) in [
        ("two", plain.clone(), None, "holds a shop already"),
        ("four", shut.clone(), None, "set PASSPHRASE"),
        ("four", shut.clone(), Some("another sentence"), "cannot be read by this passphrase"),
        ("four", changed(&shut), Some("a long sentence"), "cannot be read by this passphrase"),
        ("four", changed(&plain), None, "is not the one that was written"),
        ("four", place.file("newer"), None, "by a newer version"),
        ("four", place.file("none"), Some("a long sentence"), "cannot be read by this passphrase"),
    ] {
        let (restored, said) = place.run(home, passphrase, &format!("script/restore {file}"));
        assert!(!restored && said.contains(why), "{file}: {said}");
        assert!(home != "four" || !place.0.join("four/shop/pg").exists(), "{file}");
    }
}
