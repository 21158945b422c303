//! A gateway before a server, as a shop may put one: it passes every request on, and can be told to lose an answer after the
//! server has given it, which is the one moment at which a page cannot know whether its entry is stored.

use std::sync::{Arc, Mutex, PoisonError};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::task::JoinHandle;

/// What becomes of the answer to a request that changes something.
#[derive(Clone, Copy, PartialEq, Eq, Debug)]
pub enum Lost {
    /// The gateway answers with this status instead.
    Status(u16),
    /// The connection is broken off.
    Cut,
}

/// A gateway to one server.
pub struct Gateway {
    /// `http://127.0.0.1:PORT`.
    pub address: String,
    next: Arc<Mutex<Vec<Lost>>>,
    task: JoinHandle<()>,
}

impl Gateway {
    /// A gateway to a server at an address.
    pub async fn to(server: &str) -> Gateway {
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
        let address = format!("http://{}", listener.local_addr().expect("a bound address"));
        let target = server.trim_start_matches("http://").to_string();
        let next = Arc::new(Mutex::new(Vec::new()));
        let losing = next.clone();
        let task = tokio::spawn(async move {
            while let Ok((here, _)) = listener.accept().await {
                let (target, losing) = (target.clone(), losing.clone());
                tokio::spawn(async move { pass(here, &target, &losing).await });
            }
        });
        Gateway { address, next, task }
    }

    /// Loses the answers to the next entries that are truly written, one each, in this order.
    pub fn lose(&self, next: &[Lost]) {
        self.kept().extend(next.iter().rev());
    }

    /// How many answers are still to be lost.
    pub fn still(&self) -> usize {
        self.kept().len()
    }

    fn kept(&self) -> std::sync::MutexGuard<'_, Vec<Lost>> {
        self.next.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl Drop for Gateway {
    fn drop(&mut self) {
        self.task.abort();
    }
}

/// One request a connection: the server is asked to close after its answer, so that its end is the end of the answer.
async fn pass(mut here: TcpStream, target: &str, losing: &Mutex<Vec<Lost>>) -> Option<()> {
    let request = read_request(&mut here).await?;
    let head = String::from_utf8_lossy(&request.head).into_owned();
    let lines: Vec<&str> = head.split("\r\n").filter(|l| !l.to_ascii_lowercase().starts_with("connection:")).collect();
    let first = lines.first().copied().unwrap_or_default().to_string();
    let mut there = TcpStream::connect(target).await.ok()?;
    there.write_all(format!("{}\r\nConnection: close\r\n\r\n", lines.join("\r\n")).as_bytes()).await.ok()?;
    there.write_all(&request.body).await.ok()?;
    let writes = first.starts_with("POST ") && first.contains("/entries?") && first.contains("dry_run=false");
    let lost = if writes { losing.lock().unwrap_or_else(PoisonError::into_inner).pop() } else { None };
    let Some(lost) = lost else {
        tokio::io::copy(&mut there, &mut here).await.ok()?;
        return here.shutdown().await.ok();
    };
    // The whole answer: what was sent is stored by now.
    let mut answer = Vec::new();
    there.read_to_end(&mut answer).await.ok()?;
    if let Lost::Status(status) = lost {
        let text = format!("HTTP/1.1 {status} Gateway\r\nContent-Length: 0\r\nConnection: close\r\n\r\n");
        here.write_all(text.as_bytes()).await.ok()?;
        here.shutdown().await.ok()?;
    }
    Some(())
}

struct Request {
    head: Vec<u8>,
    body: Vec<u8>,
}

async fn read_request(here: &mut TcpStream) -> Option<Request> {
    let mut all = Vec::new();
    let mut piece = [0_u8; 8192];
    let end = loop {
        if let Some(end) = all.windows(4).position(|w| w == b"\r\n\r\n") {
            break end;
        }
        let many = here.read(&mut piece).await.ok().filter(|n| *n > 0)?;
        all.extend_from_slice(&piece[..many]);
    };
    let (head, mut body) = (all[..end].to_vec(), all[end + 4..].to_vec());
    let said = String::from_utf8_lossy(&head).to_ascii_lowercase();
    let length = said.split("\r\n").find_map(|l| l.strip_prefix("content-length:")).and_then(|n| n.trim().parse().ok());
    while body.len() < length.unwrap_or(0) {
        let many = here.read(&mut piece).await.ok().filter(|n| *n > 0)?;
        body.extend_from_slice(&piece[..many]);
    }
    Some(Request { head, body })
}
