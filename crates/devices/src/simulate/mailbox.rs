use crate::once::compiled_once;
use std::io;

use serde::Serialize;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::mpsc::UnboundedSender;

/// A mail server that takes whatever comes, by as much of SMTP (RFC 5321) as a sender needs.
#[derive(Debug, Clone)]
pub struct Mailbox {
    /// Hears of what came.
    pub hears: UnboundedSender<Received>,
}

/// A mail as it came.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Received {
    pub from: String,
    pub to: Vec<String>,
    /// Header and text, as they were sent.
    pub data: String,
}

/// Larger ones are not taken.
const AT_MOST: usize = 1024 * 1024;

impl Mailbox {
    /// Takes mail until it is cancelled.
    ///
    /// # Errors
    /// When the listener fails.
    #[compiled_once]
    pub async fn run(self, listener: TcpListener) -> io::Result<()> {
        loop {
            let (stream, _) = listener.accept().await?;
            let mailbox = self.clone();
            tokio::spawn(async move { mailbox.talk(stream).await });
        }
    }

    async fn talk(self, stream: TcpStream) -> io::Result<()> {
        let (reads, mut writes) = stream.into_split();
        let mut lines = BufReader::new(reads).lines();
        writes.write_all(b"220 mailbox\r\n").await?;
        let (mut from, mut to) = (String::new(), Vec::new());
        while let Some(line) = lines.next_line().await? {
            let verb = line.split([' ', ':']).next().unwrap_or_default().to_ascii_uppercase();
            let answer = match verb.as_str() {
                "EHLO" => "250-mailbox\r\n250 8BITMIME",
                "HELO" | "NOOP" => "250 mailbox",
                "MAIL" => {
                    (from, to) = (address(&line), Vec::new());
                    "250 go on"
                }
                "RCPT" => {
                    to.push(address(&line));
                    "250 go on"
                }
                "RSET" => {
                    (from, to) = (String::new(), Vec::new());
                    "250 afresh"
                }
                "DATA" => {
                    writes.write_all(b"354 until a dot\r\n").await?;
                    let mut data = String::new();
                    while let Some(line) = lines.next_line().await? {
                        if line == "." || data.len() > AT_MOST {
                            break;
                        }
                        data.push_str(line.strip_prefix('.').unwrap_or(&line));
                        data.push('\n');
                    }
                    let mail = Received { from: std::mem::take(&mut from), to: std::mem::take(&mut to), data };
                    let _ = self.hears.send(mail);
                    "250 taken"
                }
                "QUIT" => {
                    return writes.write_all(b"221 good-bye\r\n").await;
                }
                _ => "502 not here",
            };
            writes.write_all(format!("{answer}\r\n").as_bytes()).await?;
        }
        Ok(())
    }
}

/// What stands between `<` and `>`.
fn address(line: &str) -> String {
    let inside = line.split_once('<').and_then(|(_, rest)| rest.split_once('>'));
    inside.map(|(address, _)| address.to_owned()).unwrap_or_default()
}
