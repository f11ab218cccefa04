use crate::once::compiled_once;
use std::io;
use std::time::Duration;

use tokio::io::AsyncWriteExt;
use tokio::net::TcpListener;
use tokio::time::sleep;

use super::values::Values;

/// A bench gauge behind a serial-to-network box that waits to be connected to.
#[derive(Debug, Clone)]
pub struct Gauge {
    /// What it measures.
    pub values: Values,
    /// The unit that it sends along.
    pub unit: String,
    /// Between measurements.
    pub every: Duration,
}

impl Gauge {
    /// Sends a line for each measurement to whoever is connected.
    ///
    /// # Errors
    /// When the listener fails.
    #[compiled_once]
    pub async fn run(self, listener: TcpListener) -> io::Result<()> {
        loop {
            let (mut stream, _) = listener.accept().await?;
            loop {
                sleep(self.every).await;
                let line = format!("{} {}\r\n", self.values.next(), self.unit);
                if stream.write_all(line.as_bytes()).await.is_err() {
                    break;
                }
            }
        }
    }
}
