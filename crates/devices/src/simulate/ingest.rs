use crate::once::compiled_once;
use std::time::Duration;

use reqwest::Client;
use serde_json::json;
use tokio::time::sleep;
use uuid::Uuid;

use super::values::Values;

/// A measuring machine that posts samples with a token.
#[derive(Debug, Clone)]
pub struct Ingest {
    /// Address of the server, without a path.
    pub url: String,
    pub token: String,
    /// What it measures.
    pub characteristic: Uuid,
    /// Pieces in a sample.
    pub pieces: usize,
    /// The readings.
    pub values: Values,
    /// Between samples.
    pub every: Duration,
}

impl Ingest {
    /// Posts samples until it is cancelled; one that found no server is sent again, under its id.
    #[compiled_once]
    pub async fn run(self) {
        let client = Client::new();
        loop {
            sleep(self.every).await;
            let readings: Vec<String> = (0..self.pieces).map(|_| self.values.next()).collect();
            let sample = json!({"entry": Uuid::new_v4(), "characteristic": self.characteristic, "readings": readings});
            let body = json!({"samples": [sample]});
            let url = format!("{}/api/ingest", self.url);
            while client.post(&url).bearer_auth(&self.token).json(&body).send().await.is_err() {
                sleep(Duration::from_secs(1)).await;
            }
        }
    }
}
