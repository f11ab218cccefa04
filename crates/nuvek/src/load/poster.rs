//! Who sends: technicians and devices.

use std::sync::Arc;
use std::time::Duration;

use anyhow::{Context, Result, ensure};
use rand::SeedableRng;
use rand_chacha::ChaCha8Rng;
use reqwest::Client;
use serde_json::{Value, json};
use tokio::sync::mpsc::UnboundedSender;
use tokio::time::{Instant, sleep_until};
use uuid::Uuid;

use super::done::Done;
use super::site::{self, Site, Technician};
use super::size::{BATCH, DEVICES, EVERY, TECHNICIANS};

/// Who sends.
#[derive(Clone)]
pub struct Poster {
    pub client: Client,
    pub url: String,
    pub told: UnboundedSender<Done>,
}

impl Poster {
    /// Enters a sample of five pieces every five seconds.
    pub async fn technician(self, who: Technician, place: usize, begin: Instant, end: Instant) {
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
    pub async fn device(self, site: Arc<Site>, device: usize, begin: Instant, end: Instant) {
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
