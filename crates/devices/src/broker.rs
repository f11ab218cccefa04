//! An MQTT broker on loopback: Debian's mosquitto, for trying sensors out and for tests.

use std::io::{self, Write};
use std::net::{Ipv4Addr, TcpListener, TcpStream};
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::time::Duration;

/// A running broker; it ends when dropped.
pub struct Broker {
    child: Child,
    settings: PathBuf,
    /// Where it listens on 127.0.0.1.
    pub port: u16,
}

impl Broker {
    /// Starts a broker on `port`, or on a free one.
    ///
    /// # Errors
    /// When mosquitto is not installed, or does not listen within some seconds.
    pub fn start(port: Option<u16>) -> io::Result<Self> {
        let port = match port {
            Some(port) => port,
            None => TcpListener::bind((Ipv4Addr::LOCALHOST, 0))?.local_addr()?.port(),
        };
        let settings = std::env::temp_dir().join(format!("nuvek-broker-{port}.conf"));
        let mut file = std::fs::File::create(&settings)?;
        writeln!(
            file,
            "listener {port} 127.0.0.1\nallow_anonymous true\npersistence false\nmax_queued_messages 100000"
        )?;
        let program = ["/usr/sbin/mosquitto", "mosquitto"].into_iter().find(|p| PathBuf::from(p).exists());
        let child = Command::new(program.unwrap_or("mosquitto"))
            .arg("-c")
            .arg(&settings)
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .map_err(|error| {
                io::Error::new(error.kind(), "mosquitto is not installed; as root: apt-get install mosquitto")
            })?;
        let mut broker = Self { child, settings, port };
        for _ in 0..100 {
            if TcpStream::connect((Ipv4Addr::LOCALHOST, port)).is_ok() {
                return Ok(broker);
            }
            if let Some(status) = broker.child.try_wait()? {
                return Err(io::Error::other(format!("mosquitto ended: {status}")));
            }
            std::thread::sleep(Duration::from_millis(50));
        }
        Err(io::Error::new(io::ErrorKind::TimedOut, "mosquitto does not listen"))
    }
}

impl Drop for Broker {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
        let _ = std::fs::remove_file(&self.settings);
    }
}
