//! Checkpoints: their root against known trees, their signature, and what each change of one is called.

use jiff::Timestamp;
use level_keel_core::checkpoint::{BookHead, CardKept, Checkpoint, HouseRow, Rows, Statement, hex, root, unhex};
use uuid::Uuid;

fn at(hour: i8) -> Timestamp {
    format!("2026-05-04T{hour:02}:00:00Z").parse().unwrap()
}

fn rows() -> Rows {
    let book = |n: u128, seq| BookHead { id: Uuid::from_u128(n), kind: "batch".into(), seq, hash: format!("{n:064x}") };
    Rows {
        books: vec![book(1, 12), book(2, 3), book(3, 40)],
        cards: vec![CardKept { batch: Uuid::from_u128(1), sha256: "ab".repeat(32) }],
        files: vec!["cd".repeat(32)],
        house: vec![row("person", "7", "aa"), row("tip", "415", "bb")],
    }
}

fn row(of: &str, id: &str, byte: &str) -> HouseRow {
    HouseRow { of: of.into(), id: id.into(), sha256: byte.repeat(32) }
}

const KEY: [u8; 32] = [7; 32];

fn signed(before: Option<&Statement>) -> Checkpoint {
    Checkpoint::sign(rows(), at(8), before, &KEY)
}

/// The trees of the reference implementation of certificate transparency, which RFC 6962 describes: its leaves and its roots, from memory.
#[test]
fn the_root_is_that_of_the_standard() {
    let leaves: Vec<Vec<u8>> =
        ["", "00", "10", "2021", "3031", "40414243", "5051525354555657", "606162636465666768696a6b6c6d6e6f"]
            .into_iter()
            .map(|leaf| (0..leaf.len() / 2).map(|at| u8::from_str_radix(&leaf[2 * at..2 * at + 2], 16).unwrap()).collect())
            .collect();
    for (many, want) in [
        (1, "6e340b9cffb37a989ca544e6bb780a2c78901d3fb33738768511a30617afa01d"),
        (2, "fac54203e7cc696cf0dfcb42c92a1d9dbaf70ad9e621f4bd8d98662f00e3c125"),
        (3, "aeb6bcfe274b70a14fb067a5e5578264db0fa9b51af5e0ba159158f329e06e77"),
        (4, "d37ee418976dd95753c1c73862b9398fa2a2cf9b4ff0fdfe8b30cd95209614b7"),
        (5, "4e3bbb1f7b478dcfe71fb631631519a3bca12c9aefca1612bfce4c13a86264d4"),
        (6, "76e67dadbcdf1e10e1b74ddc608abd2f98dfb16fbce75277b5232a127f2087ef"),
        (7, "ddb89be403809e325750d3d263cd78929c2942b7942a34b77e122c9594a74c8c"),
        (8, "5dc9da79a70659a9ad559cb701ded9a2ab9d823aad2f4960cfe370eff4604328"),
    ] {
        assert_eq!(root(&leaves[..many]), want, "{many} leaves");
    }
}

/// RFC 8032, section 7.1, test 1: the public key of a secret one, from memory.
#[test]
fn the_key_is_that_of_the_standard() {
    let secret = unhex::<32>("9d61b19deffd5a60ba844af492ec2cc44449c5697b326919703bac031cae7f60").unwrap();
    let public = "d75a980182b10ab7d54bfed3c964073a0ee172f3daa62325af021a68f707511a";
    assert_eq!(Checkpoint::sign(Rows::default(), at(8), None, &secret).key, public);
}

#[test]
fn one_that_nobody_touched_has_no_fault_and_the_next_names_it() {
    let first = signed(None);
    assert_eq!((first.statement.number, first.statement.entries), (1, 55));
    assert!(first.faults(None, Some(&first.key)).is_empty());
    let second = signed(Some(&first.statement));
    assert_eq!(second.statement.before.as_deref(), Some(first.statement.sha256().as_str()));
    assert!(second.faults(Some(&first.statement), Some(&first.key)).is_empty());
    assert_eq!(signed(None), first, "the same is signed the same");
    assert!(
        first.covers(Uuid::from_u128(1), 12) && !first.covers(Uuid::from_u128(1), 13) && !first.covers(Uuid::from_u128(9), 1)
    );
}

/// Whatever is changed in a file is told, each thing by its name.
#[test]
fn every_change_of_a_file_is_told() {
    let first = signed(None);
    let said = |change: &dyn Fn(&mut Checkpoint)| {
        let mut changed = signed(None);
        change(&mut changed);
        changed.faults(None, Some(&first.key)).join("; ")
    };
    let signature = "its signature is not of this statement";
    assert!(said(&|c| c.rows.books[0].hash = "0".repeat(64)).contains("its list of books is not"));
    assert!(said(&|c| c.rows.books[1].seq = 4).contains("its list of books is not"));
    assert!(said(&|c| c.rows.books.truncate(2)).contains("its list of books is not"));
    assert!(said(&|c| c.rows.books.swap(0, 1)).contains("its list of books is not"));
    assert!(said(&|c| c.rows.cards.clear()).contains("its list of cards is not"));
    assert!(said(&|c| c.rows.files.push("ef".repeat(32))).contains("its list of files is not"));
    assert!(said(&|c| c.rows.house[0].sha256 = "cc".repeat(32)).contains("its list of people, sheets and the like is not"));
    assert!(said(&|c| c.statement.house = None).contains("its list of people, sheets and the like is not"));
    assert!(said(&|c| c.statement.made = at(9)).contains(signature));
    assert!(said(&|c| c.statement.entries = 54).contains(signature));
    assert!(said(&|c| c.statement.root = "0".repeat(64)).contains("its root is not over its parts"));
    assert!(said(&|c| c.signature = hex(&[0; 64])).contains(signature));
    assert!(said(&|c| c.signature = "no digits".into()).contains(signature));
    assert!(said(&|c| c.statement.format_version = 3).contains("nobody knows its format"));
    // Signed anew by somebody else's key it is whole, and not this server's.
    let forged = Checkpoint::sign(rows(), at(8), None, &[9; 32]);
    assert!(forged.faults(None, None).is_empty());
    assert_eq!(forged.faults(None, Some(&first.key)), ["checkpoint 1: it is signed by another key than this server's"]);
}

#[test]
fn one_that_is_missing_or_changed_before_it_is_told() {
    let first = signed(None);
    let second = signed(Some(&first.statement));
    let third = signed(Some(&second.statement));
    assert!(third.faults(Some(&first.statement), None).iter().any(|f| f.contains("one before it is missing")));
    assert!(second.faults(None, None).iter().any(|f| f.contains("one before it is missing")));
    // The first was signed anew with other rows by who has the key: the second still names the old one.
    let other = Checkpoint::sign(Rows::default(), at(8), None, &KEY);
    assert!(second.faults(Some(&other.statement), None).iter().any(|f| f.contains("does not follow the one before it")));
}

/// One of the first version, as its file was written then: it says nothing of people and sheets, and is whole all the same.
#[test]
fn one_of_the_first_version_is_still_read() {
    let old: Checkpoint = serde_json::from_str(include_str!("checkpoint_1.json")).unwrap();
    assert_eq!(old.faults(None, Some(&signed(None).key)), Vec::<String>::new());
    assert!(old.house_changes(&rows().house).is_empty());
    let mut more = old.clone();
    more.rows.house = rows().house;
    assert!(more.faults(None, None).iter().any(|f| f.contains("people, sheets and the like")));
}

#[test]
fn what_changed_beside_the_books_is_told() {
    let first = signed(None);
    assert!(first.house_changes(&rows().house).is_empty());
    let told = |rows: &[HouseRow]| first.house_changes(rows);
    assert_eq!(told(&[row("person", "7", "ab"), row("tip", "415", "bb")]), ["person 7 was changed"]);
    assert_eq!(told(&[row("tip", "415", "bb")]), ["person 7 is gone"]);
    assert_eq!(told(&[row("person", "7", "aa"), row("person", "8", "aa"), row("tip", "415", "bb")]), ["person 8 was added"]);
}
