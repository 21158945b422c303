//! The real program as it is started in a shop, for what only the whole of it shows: a kill, and what it writes to its log.

use sqlx::PgPool;
use std::io::{BufRead, BufReader, Read};
use std::process::{Child, ChildStderr, ChildStdout, Command, Stdio};

pub struct Program {
    child: Child,
    said: ChildStderr,
    out: BufReader<ChildStdout>,
    pub address: String,
}

impl Program {
    /// On a free port, in the database of the test.
    pub fn start(db: &PgPool, demo: &str) -> Program {
        let options = db.connect_options();
        let url = std::env::var("DATABASE_URL").unwrap();
        let base = url.rsplit_once('/').unwrap().0;
        let mut child = Command::new(env!("CARGO_BIN_EXE_level-keel"))
            .arg("serve")
            .env("LEVEL_KEEL_DATABASE_URL", format!("{base}/{}", options.get_database().unwrap()))
            .env("LEVEL_KEEL_DEMO", demo)
            .env("LEVEL_KEEL_PORT", "0")
            .env_remove("LEVEL_KEEL_LOG")
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .unwrap();
        let (out, said) = (BufReader::new(child.stdout.take().unwrap()), child.stderr.take().unwrap());
        let mut program = Program { child, said, out, address: String::new() };
        program.address = program.next_line().trim().to_string();
        program
    }

    /// The next line it prints.
    pub fn next_line(&mut self) -> String {
        let mut line = String::new();
        self.out.read_line(&mut line).unwrap();
        line
    }

    /// SIGKILL: no goodbye.
    pub fn kill(self) {}

    /// Asked to end, as a shop ends it. What it wrote to its log.
    pub fn stop(mut self) -> String {
        Command::new("kill").args(["-TERM", &self.child.id().to_string()]).status().unwrap();
        self.child.wait().unwrap();
        let mut log = String::new();
        self.said.read_to_string(&mut log).unwrap();
        log
    }
}

/// A test that fails leaves no program behind.
impl Drop for Program {
    fn drop(&mut self) {
        // It may have ended already.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}
