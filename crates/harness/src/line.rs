//! A line between two programs on loopback that can fall silent or be cut: what a network does to a server and its database.

use std::net::SocketAddr;
use tokio::io::copy_bidirectional;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::watch;
use tokio::task::JoinHandle;

/// How a line stands.
#[derive(Clone, Copy, PartialEq, Eq, Debug)]
pub enum Standing {
    /// It carries what is sent.
    Open,
    /// It takes connections and carries nothing, as a network that loses every packet.
    Silent,
    /// What stood is broken off, and nothing new is taken.
    Cut,
}

/// A line to one port.
pub struct Line {
    /// The port to speak to instead.
    pub port: u16,
    /// How it stands, and how often it was cut.
    standing: watch::Sender<(Standing, u64)>,
    task: JoinHandle<()>,
}

impl Line {
    /// Lays a line to a port of this machine.
    pub async fn to(port: u16) -> Line {
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
        let own = listener.local_addr().expect("a bound address").port();
        let (standing, seen) = watch::channel((Standing::Open, 0));
        let target = SocketAddr::from(([127, 0, 0, 1], port));
        let task = tokio::spawn(async move {
            while let Ok((here, _)) = listener.accept().await {
                tokio::spawn(carry(here, target, seen.clone()));
            }
        });
        Line { port: own, standing, task }
    }

    /// Sets how it stands from now on, for what stands on it too.
    pub fn stand(&self, standing: Standing) {
        let cut = u64::from(standing == Standing::Cut);
        self.standing.send_modify(|s| *s = (standing, s.1 + cut));
    }
}

impl Drop for Line {
    fn drop(&mut self) {
        self.stand(Standing::Cut);
        self.task.abort();
    }
}

async fn carry(mut here: TcpStream, target: SocketAddr, mut seen: watch::Receiver<(Standing, u64)>) {
    let mut there = None;
    let begun = seen.borrow().1;
    loop {
        let (standing, cuts) = *seen.borrow_and_update();
        // Cut and open again at once: what stood on it is broken off all the same.
        if standing == Standing::Cut || cuts != begun {
            return;
        }
        if standing == Standing::Open && there.is_none() {
            there = TcpStream::connect(target).await.ok();
        }
        let carried = async {
            match (&mut there, standing) {
                (Some(there), Standing::Open) => drop(copy_bidirectional(&mut here, there).await),
                // Silent: nothing is read, so nothing is answered.
                (_, Standing::Silent) => std::future::pending().await,
                // Nobody at the other end.
                (None, _) | (_, Standing::Cut) => {}
            }
        };
        tokio::select! {
            () = carried => return,
            changed = seen.changed() => if changed.is_err() { return },
        }
    }
}
