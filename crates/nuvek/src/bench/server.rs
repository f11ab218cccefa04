//! A server of a bench's own.

use std::process::{Child, Command};
use std::time::{Duration, Instant};

use anyhow::Result;
use reqwest::Client;
use tokio::time::sleep;

/// Ends with the bench.
pub struct Server {
    child: Child,
    pub url: String,
    /// From its start to its first answer.
    pub started_in: Duration,
}

impl Server {
    /// Starts one on `database`, and waits until it answers.
    pub async fn start(database: &str, client: &Client) -> Result<Self> {
        let address = std::net::TcpListener::bind("127.0.0.1:0")?.local_addr()?;
        let mut command = Command::new(std::env::current_exe()?);
        command.args(["serve", "--listen", &address.to_string()]).env("DATABASE_URL", database);
        let begun = Instant::now();
        let child = command.spawn()?;
        let mut server = Self { child, url: format!("http://{address}"), started_in: Duration::ZERO };
        for _ in 0..6000 {
            if client.get(format!("{}/api/terminal", server.url)).send().await.is_ok() {
                server.started_in = begun.elapsed();
                return Ok(server);
            }
            sleep(Duration::from_millis(10)).await;
        }
        anyhow::bail!("the server did not start")
    }

    pub fn pid(&self) -> u32 {
        self.child.id()
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}
