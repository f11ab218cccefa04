//! `nuvek simulate …`: stand-ins for devices, a mailbox, a program that is told and a peer group, to try a set-up with.

use std::net::SocketAddr;
use std::path::PathBuf;
use std::time::Duration;

use anyhow::{Context, Result};
use clap::{Args, Subcommand};
use devices::broker::Broker;
use devices::simulate::{
    Analyser, AnalyserTest, Gauge, Ingest, Mailbox, Peers, PeersLevel, Receiver, Sensor, Tables, Values,
};
use serde::Serialize;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::mpsc::{UnboundedReceiver, unbounded_channel};
use tokio::time::sleep;
use uuid::Uuid;

#[derive(Subcommand)]
pub enum Simulate {
    /// A bench gauge that sends a line for each measurement to whoever connects.
    Gauge {
        /// Address to listen on.
        #[arg(long, default_value = "127.0.0.1:4001")]
        listen: SocketAddr,
        #[command(flatten)]
        values: ValueArgs,
    },
    /// A laboratory analyser that sends a control run by ASTM E1381 and E1394.
    Analyser {
        /// Address of the server's listener.
        #[arg(long, default_value = "127.0.0.1:4002")]
        connect: SocketAddr,
        /// What it determines: SPECIMEN:TEST:UNIT:MEAN:SIGMA:DECIMALS.
        #[arg(long = "test", required = true, value_parser = test)]
        tests: Vec<AnalyserTest>,
        /// Seconds between runs; one run and the end when left out.
        #[arg(long)]
        every: Option<f64>,
    },
    /// A sensor that publishes by MQTT.
    Sensor {
        /// Host and port of the broker.
        #[arg(long, default_value = "127.0.0.1:1883")]
        broker: String,
        /// Where it publishes.
        #[arg(long)]
        topic: String,
        #[command(flatten)]
        values: ValueArgs,
    },
    /// A measuring machine that posts samples with a token.
    Ingest {
        /// Address of the server.
        #[arg(long, default_value = "http://127.0.0.1:8420")]
        url: String,
        /// The token, as it was shown when the device was set up.
        #[arg(long, env = "NUVEK_TOKEN", hide_env_values = true)]
        token: String,
        /// What it measures.
        #[arg(long)]
        characteristic: Uuid,
        /// Pieces in a sample.
        #[arg(long, default_value_t = 1)]
        pieces: usize,
        #[command(flatten)]
        values: ValueArgs,
    },
    /// A program that writes tables into a folder: a time in UTC and a value a line, a line a minute up to now.
    Tables {
        /// Where it writes.
        #[arg(long)]
        folder: PathBuf,
        /// Lines of a table.
        #[arg(long, default_value_t = 20)]
        rows: u32,
        #[command(flatten)]
        values: ValueArgs,
    },
    /// A mailbox that takes whatever mail comes, and prints each as a line of JSON.
    Mailbox {
        /// Address to listen on.
        #[arg(long, default_value = "127.0.0.1:4025")]
        listen: SocketAddr,
    },
    /// A program that is told by webhook: it looks at the signature, and prints what it was told as a line of JSON.
    Webhook {
        /// Address to listen on.
        #[arg(long, default_value = "127.0.0.1:4010")]
        listen: SocketAddr,
        /// The secret, as it was shown when the webhook was set up.
        #[arg(long, env = "NUVEK_WEBHOOK_SECRET", hide_env_values = true)]
        secret: String,
    },
    /// A peer group that takes results and tells what its invented laboratories found: it prints what it keeps as a line
    /// of JSON.
    Peers {
        /// Address to listen on.
        #[arg(long, default_value = "127.0.0.1:4011")]
        listen: SocketAddr,
        /// The token that the laboratory shows.
        #[arg(long, env = "NUVEK_PEERS_TOKEN", hide_env_values = true)]
        token: String,
        /// What it compares: CODE:UNIT:MEAN:SD.
        #[arg(long = "level", required = true, value_parser = level)]
        levels: Vec<PeersLevel>,
    },
    /// An MQTT broker on loopback (Debian's mosquitto).
    Broker {
        /// Port on 127.0.0.1.
        #[arg(long, default_value_t = 1883)]
        port: u16,
    },
}

#[derive(Args)]
pub struct ValueArgs {
    #[arg(long)]
    mean: f64,
    #[arg(long)]
    sigma: f64,
    #[arg(long, default_value_t = 2)]
    decimals: usize,
    /// Unit sent along.
    #[arg(long, default_value = "")]
    unit: String,
    /// Seconds between values.
    #[arg(long, default_value_t = 3.0)]
    every: f64,
}

impl ValueArgs {
    fn values(&self) -> Values {
        Values { mean: self.mean, sigma: self.sigma, decimals: self.decimals }
    }

    fn every(&self) -> Result<Duration> {
        seconds(self.every)
    }
}

fn seconds(every: f64) -> Result<Duration> {
    Duration::try_from_secs_f64(every).context("--every is a number of seconds")
}

fn test(text: &str) -> Result<AnalyserTest, String> {
    let parts: Vec<&str> = text.split(':').collect();
    let [specimen, test, unit, mean, sigma, decimals] = parts[..] else {
        return Err("SPECIMEN:TEST:UNIT:MEAN:SIGMA:DECIMALS is right".into());
    };
    let number = |text: &str| text.parse::<f64>().map_err(|_| format!("{text} is no number"));
    let decimals = decimals.parse().map_err(|_| format!("{decimals} is no whole number"))?;
    let values = Values { mean: number(mean)?, sigma: number(sigma)?, decimals };
    Ok(AnalyserTest { specimen: specimen.into(), test: test.into(), unit: unit.into(), values })
}

fn level(text: &str) -> Result<PeersLevel, String> {
    let parts: Vec<&str> = text.split(':').collect();
    let [code, unit, mean, sd] = parts[..] else { return Err("CODE:UNIT:MEAN:SD is right".into()) };
    let number = |text: &str| text.parse::<f64>().map_err(|_| format!("{text} is no number"));
    Ok(PeersLevel { code: code.into(), unit: unit.into(), mean: number(mean)?, sd: number(sd)? })
}

/// Plays a device until Ctrl-C.
pub async fn run(device: Simulate) -> Result<()> {
    tokio::select! {
        played = play(device) => played,
        _ = tokio::signal::ctrl_c() => Ok(()),
    }
}

async fn play(device: Simulate) -> Result<()> {
    match device {
        Simulate::Gauge { listen, values } => {
            let listener = TcpListener::bind(listen).await.with_context(|| format!("cannot listen on {listen}"))?;
            println!("A gauge sends at {listen}; Ctrl-C ends it.");
            Ok(Gauge { values: values.values(), every: values.every()?, unit: values.unit }.run(listener).await?)
        }
        Simulate::Analyser { connect, tests, every } => {
            let analyser = Analyser { tests };
            loop {
                let mut stream = TcpStream::connect(connect).await.with_context(|| format!("nobody at {connect}"))?;
                Analyser::send(&mut stream, &analyser.records()).await?;
                println!("A control run was sent and acknowledged.");
                match every {
                    Some(every) => sleep(seconds(every)?).await,
                    None => return Ok(()),
                }
            }
        }
        Simulate::Sensor { broker, topic, values } => {
            let (host, port) = broker.rsplit_once(':').context("--broker is host:port")?;
            println!("A sensor publishes on {topic} at {broker}; Ctrl-C ends it.");
            let sensor = Sensor { values: values.values(), every: values.every()?, unit: values.unit, topic };
            sensor.run(host, port.parse().context("--broker is host:port")?).await;
            Ok(())
        }
        Simulate::Ingest { url, token, characteristic, pieces, values } => {
            println!("Samples are posted to {url}; Ctrl-C ends it.");
            let (values, every) = (values.values(), values.every()?);
            Ingest { url, token, characteristic, pieces, values, every }.run().await;
            Ok(())
        }
        Simulate::Tables { folder, rows, values } => {
            let tables = Tables { folder, values: values.values(), rows, every: values.every()? };
            tables.run(|name| println!("{name} was written; Ctrl-C ends it.")).await.context("cannot write there")
        }
        Simulate::Mailbox { listen } => {
            let listener = TcpListener::bind(listen).await.with_context(|| format!("cannot listen on {listen}"))?;
            eprintln!("A mailbox takes mail at {}; Ctrl-C ends it.", listener.local_addr()?);
            let (hears, heard) = unbounded_channel();
            tokio::select! {
                ended = Mailbox { hears }.run(listener) => Ok(ended?),
                printed = print_lines(heard) => printed,
            }
        }
        Simulate::Webhook { listen, secret } => {
            let listener = TcpListener::bind(listen).await.with_context(|| format!("cannot listen on {listen}"))?;
            eprintln!("A program is told at http://{}; Ctrl-C ends it.", listener.local_addr()?);
            let (hears, heard) = unbounded_channel();
            tokio::select! {
                ended = Receiver { secret, hears }.run(listener) => Ok(ended?),
                printed = print_lines(heard) => printed,
            }
        }
        Simulate::Peers { listen, token, levels } => {
            let listener = TcpListener::bind(listen).await.with_context(|| format!("cannot listen on {listen}"))?;
            eprintln!("A peer group takes results at http://{}; Ctrl-C ends it.", listener.local_addr()?);
            let (hears, heard) = unbounded_channel();
            tokio::select! {
                ended = Peers::new(token, levels, hears).run(listener) => Ok(ended?),
                printed = print_lines(heard) => printed,
            }
        }
        Simulate::Broker { port } => {
            let broker = Broker::start(Some(port))?;
            println!("A broker listens at 127.0.0.1:{}; Ctrl-C ends it.", broker.port);
            std::future::pending().await
        }
    }
}

/// Each as a line of JSON on standard output.
async fn print_lines<T: Serialize>(mut heard: UnboundedReceiver<T>) -> Result<()> {
    while let Some(it) = heard.recv().await {
        println!("{}", serde_json::to_string(&it)?);
    }
    Ok(())
}
