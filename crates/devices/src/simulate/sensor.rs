use crate::once::compiled_once;
use std::time::Duration;

use chrono::Utc;
use rumqttc::{AsyncClient, MqttOptions, QoS};
use serde_json::json;
use tokio::time::sleep;
use uuid::Uuid;

use super::values::Values;

/// A sensor that publishes values.
#[derive(Debug, Clone)]
pub struct Sensor {
    /// What it measures.
    pub values: Values,
    /// The unit that it sends along.
    pub unit: String,
    /// Where it publishes.
    pub topic: String,
    /// Between values.
    pub every: Duration,
}

impl Sensor {
    /// Publishes values until it is cancelled.
    #[compiled_once]
    pub async fn run(self, host: &str, port: u16) {
        let options = MqttOptions::new(format!("simulated-{}", Uuid::new_v4()), host, port);
        let (client, mut events) = AsyncClient::new(options, 10);
        let publish = async {
            loop {
                sleep(self.every).await;
                let value: f64 = self.values.next().parse().unwrap_or_default();
                let payload = json!({"id": Uuid::new_v4(), "at": Utc::now(), "value": value, "unit": self.unit});
                if client.publish(&self.topic, QoS::AtLeastOnce, false, payload.to_string()).await.is_err() {
                    return;
                }
            }
        };
        let poll = async {
            loop {
                if events.poll().await.is_err() {
                    sleep(Duration::from_secs(1)).await;
                }
            }
        };
        tokio::join!(publish, poll);
    }
}
