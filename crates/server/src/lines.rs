//! Devices that send lines of text over TCP: connected, read line by line, and connected again after a silence.

use std::time::Duration;
use tokio::io::AsyncReadExt;
use tokio::net::TcpStream;

/// No line for so long: the device is silent.
pub const SILENT: Duration = Duration::from_secs(2);
/// First wait after a silence, doubled up to the longest.
const FIRST_WAIT: Duration = Duration::from_millis(250);
const LONGEST_WAIT: Duration = Duration::from_secs(10);
const CHUNK: usize = 4096;

/// What came of a device.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Said<'a> {
    /// A line, without its end.
    Line(&'a [u8]),
    /// All that came at once is told.
    Chunk,
    /// Nothing comes any more.
    Silent,
}

/// Connect, read, say; after a silence wait longer each time. `said` answers whether it made sense of what came.
pub async fn follow(address: &str, longest_line: usize, mut said: impl FnMut(Said<'_>) -> bool) {
    let mut wait = FIRST_WAIT;
    loop {
        if let Ok(Ok(stream)) = tokio::time::timeout(SILENT, TcpStream::connect(address)).await
            && read(stream, longest_line, &mut said).await
        {
            wait = FIRST_WAIT;
        }
        said(Said::Silent);
        tracing::debug!(address, "a device is silent");
        tokio::time::sleep(wait).await;
        wait = (wait * 2).min(LONGEST_WAIT);
    }
}

/// Reads until it is silent or gone; whether anything of it made sense.
async fn read(mut stream: TcpStream, longest_line: usize, said: &mut impl FnMut(Said<'_>) -> bool) -> bool {
    let (mut chunk, mut line, mut spoke) = ([0_u8; CHUNK], Vec::with_capacity(longest_line), false);
    while let Ok(Ok(n)) = tokio::time::timeout(SILENT, stream.read(&mut chunk)).await
        && n > 0
    {
        for byte in &chunk[..n] {
            match byte {
                b'\n' | b'\r' => {
                    spoke |= said(Said::Line(&line));
                    line.clear();
                }
                // One byte over the longest is enough for the line to say nothing.
                _ if line.len() <= longest_line => line.push(*byte),
                _ => {}
            }
        }
        said(Said::Chunk);
    }
    spoke
}
