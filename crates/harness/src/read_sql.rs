//! The statements of the server, for what is measured beside it.

/// The very SQL by which the server reads a batch, as it stands prepared beside the code: the load sends it bare.
pub struct ReadSql {
    /// Who asks.
    pub session: String,
    /// The head of the book with everything beside it.
    pub beside: String,
}

impl ReadSql {
    /// Found by their words among the prepared statements, and by them alone.
    pub fn prepared() -> ReadSql {
        let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../.sqlx");
        let files = std::fs::read_dir(folder).expect("the prepared SQL").filter_map(Result::ok);
        let all: Vec<String> = files
            .map(|f| std::fs::read_to_string(f.path()).expect("a text"))
            .map(|text| {
                serde_json::from_str::<serde_json::Value>(&text).expect("JSON")["query"].as_str().expect("SQL").to_string()
            })
            .collect();
        let one = |marks: &[&str]| {
            let mut fits = all.iter().filter(|q| !q.contains("for update") && marks.iter().all(|m| q.contains(m)));
            let found = fits.next().unwrap_or_else(|| panic!("no SQL with {marks:?}")).clone();
            assert!(fits.next().is_none(), "two with {marks:?}");
            found
        };
        ReadSql { session: one(&["s.token_sha256 = $1", "p.numbers"]), beside: one(&["beneath_number", "head_seq"]) }
    }
}
