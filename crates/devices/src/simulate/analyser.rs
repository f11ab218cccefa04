use std::io;
use std::time::Duration;

use chrono::Local;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use tokio::time::timeout;

use super::values::Values;
use crate::astm::frame::{ACK, ENQ, EOT, frames};

/// A laboratory analyser that sends the results of a control run.
#[derive(Debug, Clone)]
pub struct Analyser {
    /// What it determines.
    pub tests: Vec<AnalyserTest>,
}

/// A specimen with a test.
#[derive(Debug, Clone)]
pub struct AnalyserTest {
    /// Specimen ID.
    pub specimen: String,
    /// The maker's code of the test.
    pub test: String,
    /// The unit of the result.
    pub unit: String,
    /// The results.
    pub values: Values,
}

/// By E1381 a receiver answers within this time.
const ANSWER: Duration = Duration::from_secs(15);

/// A frame is sent so often before the sender gives up.
const TRIES: usize = 6;

impl Analyser {
    /// The records of one run, with fresh results.
    pub fn records(&self) -> Vec<String> {
        let now = Local::now().format("%Y%m%d%H%M%S");
        let mut records = vec![format!(r"H|\^&|||Simulated analyser|||||||P|1|{now}")];
        for (n, test) in (1..).zip(&self.tests) {
            records.push(format!("P|{n}"));
            records.push(format!("O|1|{}||^^^{}", test.specimen, test.test));
            records.push(format!("R|1|^^^{}|{}|{}||N||F||||{now}", test.test, test.values.next(), test.unit));
        }
        records.push("L|1|N".into());
        records
    }

    /// Sends records as one message over a connection.
    ///
    /// # Errors
    /// When the connection fails, or the receiver does not take a frame.
    pub async fn send(stream: &mut TcpStream, records: &[String]) -> io::Result<()> {
        acknowledged(stream, &[ENQ]).await?;
        for frame in frames(records) {
            acknowledged(stream, &frame).await?;
        }
        stream.write_all(&[EOT]).await
    }
}

async fn acknowledged(stream: &mut TcpStream, bytes: &[u8]) -> io::Result<()> {
    for _ in 0..TRIES {
        stream.write_all(bytes).await?;
        let mut answer = [0];
        timeout(ANSWER, stream.read_exact(&mut answer))
            .await
            .map_err(|_| io::Error::from(io::ErrorKind::TimedOut))??;
        if answer == [ACK] {
            return Ok(());
        }
    }
    Err(io::Error::other("the receiver does not take the frame"))
}
