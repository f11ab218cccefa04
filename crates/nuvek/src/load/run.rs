//! The load itself.

use std::process::{Child, Command};
use std::sync::Arc;
use std::time::Duration;

use anyhow::{Context, Result, ensure};
use rand::SeedableRng;
use rand_chacha::ChaCha8Rng;
use reqwest::Client;
use serde_json::{Value, json};
use tokio::sync::mpsc::{UnboundedSender, unbounded_channel};
use tokio::time::{Instant, sleep, sleep_until};
use uuid::Uuid;

use super::done::Done;
use super::site::{self, Site, Technician};
use super::size::{BATCH, DEVICES, EVERY, TECHNICIANS};
use crate::serve;

/// Ends the server with the bench.
struct Server(Child);

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

/// Puts the load on a server of its own on `database`, for so long, and reports.
pub async fn run(database: &str, seconds: u64) -> Result<()> {
    let pool = serve::connect_as_owner(database).await?;
    let address = std::net::TcpListener::bind("127.0.0.1:0")?.local_addr()?;
    let program = std::env::current_exe()?;
    println!("Setting up {TECHNICIANS} technicians and {DEVICES} devices …");
    let mut command = Command::new(program);
    command.args(["serve", "--listen", &address.to_string()]).env("DATABASE_URL", database);
    let server = Server(command.spawn()?);
    let url = format!("http://{address}");
    let client = Client::builder().pool_max_idle_per_host(TECHNICIANS).build()?;
    await_server(&client, &url).await?;
    let site = Arc::new(site::build(&pool, &client, &url).await?);
    let before = store::samples::count(&pool).await?;

    println!("Load for {seconds} s …");
    let usage = super::report::Usage::start(server.0.id())?;
    let begin = Instant::now() + Duration::from_millis(500);
    let end = begin + Duration::from_secs(seconds);
    let (told, mut heard) = unbounded_channel();
    let poster = Poster { client, url, told };
    for (place, technician) in site.technicians.iter().cloned().enumerate() {
        tokio::spawn(poster.clone().technician(technician, place, begin, end));
    }
    for device in 0..DEVICES {
        tokio::spawn(poster.clone().device(Arc::clone(&site), device, begin, end));
    }
    let closed = poster.telling(&unbounded_channel().0);
    drop(poster);
    let mut all = Vec::new();
    while let Some(done) = heard.recv().await {
        all.push(done);
    }
    let usage = usage.stop()?;
    let offered = seconds as usize * (TECHNICIANS / EVERY.as_secs() as usize + DEVICES * BATCH);
    let confirmed: Vec<Uuid> = all.iter().flat_map(|done| done.confirmed.iter().copied()).collect();
    let stored = store::samples::count(&pool).await? - before;
    // Each confirmed entry is there, and nothing else is; the database itself keeps entries unique.
    let there = store::samples::count_entries(&pool, &confirmed).await?;
    let lost = confirmed.len() as i64 - there;
    let closed = super::closed::run(&pool, &closed, &site, database).await?;
    super::report::write(&all, &usage, seconds, (offered, stored, lost), &closed)?;
    ensure!(lost == 0 && stored == confirmed.len() as i64, "{} confirmed, {stored} stored", confirmed.len());
    ensure!(all.iter().all(|done| done.error.is_none()), "there were errors");
    Ok(())
}

async fn await_server(client: &Client, url: &str) -> Result<()> {
    for _ in 0..100 {
        if client.get(format!("{url}/api/terminal")).send().await.is_ok() {
            return Ok(());
        }
        sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("the server did not start")
}

/// Who sends.
#[derive(Clone)]
pub(super) struct Poster {
    client: Client,
    url: String,
    told: UnboundedSender<Done>,
}

impl Poster {
    /// Enters a sample of five pieces every five seconds.
    async fn technician(self, who: Technician, place: usize, begin: Instant, end: Instant) {
        let mut random = ChaCha8Rng::seed_from_u64(place as u64);
        let mut at = begin + EVERY.mul_f64(place as f64 / TECHNICIANS as f64);
        let url = format!("{}/api/characteristics/{}/samples", self.url, who.characteristic);
        while at < end {
            sleep_until(at).await;
            let answer = self.enter(&url, &who, &mut random).await;
            self.tell(false, at, answer);
            at += EVERY;
        }
    }

    /// Enters a sample, and the next when it is answered.
    pub async fn one_after_another(self, who: Technician, end: Instant) {
        let mut random = ChaCha8Rng::seed_from_u64(1);
        let url = format!("{}/api/characteristics/{}/samples", self.url, who.characteristic);
        while Instant::now() < end {
            let at = Instant::now();
            let answer = self.enter(&url, &who, &mut random).await;
            self.tell(false, at, answer);
        }
    }

    async fn enter(&self, url: &str, who: &Technician, random: &mut ChaCha8Rng) -> Result<Vec<Uuid>> {
        let readings: Vec<String> = (0..5).map(|_| format!("{:.2}", site::reading(random, false))).collect();
        let entry = Uuid::new_v4();
        let body = json!({"device": who.device, "entry": entry, "readings": readings, "confirmed": true});
        let sent = self.client.post(url).header("cookie", &who.cookie).json(&body).send().await;
        accepted(sent).await.map(|_| vec![entry])
    }

    /// The same, who tells somebody else.
    pub fn telling(&self, told: &UnboundedSender<Done>) -> Self {
        Self { told: told.clone(), ..self.clone() }
    }

    /// Sends a batch every second, to its characteristics in turn.
    async fn device(self, site: Arc<Site>, device: usize, begin: Instant, end: Instant) {
        let mut random = ChaCha8Rng::seed_from_u64(1000 + device as u64);
        let mut at = begin + Duration::from_secs(1).mul_f64(device as f64 / DEVICES as f64);
        let (token, characteristics) = &site.devices[device];
        while at < end {
            sleep_until(at).await;
            let samples: Vec<Value> = (0..BATCH)
                .map(|n| {
                    let reading = format!("{:.1}", site::reading(&mut random, true));
                    json!({"entry": Uuid::new_v4(), "characteristic": characteristics[n % characteristics.len()],
                           "readings": [reading]})
                })
                .collect();
            let body = json!({ "samples": samples });
            let sent = self.client.post(format!("{}/api/ingest", self.url)).bearer_auth(token).json(&body).send().await;
            let answer = accepted(sent).await.and_then(|answer| {
                ensure!(answer["saved"] == BATCH, "{answer}");
                let entries = answer["samples"].as_array().context("no samples")?.iter();
                entries.map(|sample| Ok(sample["entry"].as_str().context("no entry")?.parse()?)).collect()
            });
            self.tell(true, at, answer);
            at += Duration::from_secs(1);
        }
    }

    fn tell(&self, by_device: bool, at: Instant, answer: Result<Vec<Uuid>>) {
        let (confirmed, error) = match answer {
            Ok(confirmed) => (confirmed, None),
            Err(error) => (vec![], Some(format!("{error:#}"))),
        };
        let _ = self.told.send(Done { by_device, took: at.elapsed(), confirmed, error });
    }
}

async fn accepted(sent: reqwest::Result<reqwest::Response>) -> Result<Value> {
    let response = sent?;
    let status = response.status();
    let body: Value = response.json().await?;
    ensure!(status.is_success(), "{status}: {body}");
    Ok(body)
}
