//! Devices that send what they measure, as they are set up.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::setup::Wrong;

/// How a device sends, and what its messages mean.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Link {
    /// Posts samples with its token.
    Ingest,
    /// A bench gauge behind a serial-to-network box: a line for each measurement.
    Gauge {
        /// Where.
        address: Address,
    },
    /// An analyser that sends results in ASTM frames.
    Analyser {
        /// Where.
        address: Address,
        /// Which level a result belongs to.
        results: Vec<ResultMapping>,
    },
    /// A stream of values by MQTT.
    Sensor {
        /// Host and port of the broker.
        broker: String,
        /// Topic, without wildcards.
        topic: String,
        /// Where in the payload to look.
        payload: Payload,
        /// What the values are.
        characteristic: Uuid,
        /// Which values become readings.
        make: Make,
        /// Values have more decimals than the unit allows and are rounded to it.
        round: bool,
    },
}

/// Where server and device meet.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Address {
    /// Who opens the connection.
    pub opens: Opens,
    /// `host:port`: the device's when the server opens, the server's own when the device does.
    pub at: String,
}

/// Who opens a connection.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Opens {
    /// The server, to the device.
    Server,
    /// The device, to the server.
    Device,
}

/// The level that a specimen and test of an analyser mean.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ResultMapping {
    /// Specimen ID, as the order record names the control material.
    pub specimen: String,
    /// Test, as the result record names it.
    pub test: String,
    /// The level's characteristic.
    pub characteristic: Uuid,
}

/// Where a JSON payload holds what, as JSON pointers (RFC 6901).
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Payload {
    /// The value: a number, or a text with a number.
    pub value: String,
    /// The unit; it must be the characteristic's.
    pub unit: Option<String>,
    /// When it was measured, as RFC 3339; the time of arrival when left out.
    pub at: Option<String>,
    /// What tells one message from another, so that one delivered again is dropped.
    pub id: Option<String>,
}

/// Which values of a stream become readings.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", deny_unknown_fields)]
pub enum Make {
    /// Every so many values one is a reading, 1 to 100,000.
    Every(u32),
    /// The mean of the values in so many seconds is a reading, 1 to 86,400.
    Bucket(u32),
}

fn is_text(text: &str) -> bool {
    (1..=200).contains(&text.trim().chars().count()) && !text.chars().any(char::is_control)
}

fn is_address(text: &str) -> bool {
    let parts = text.rsplit_once(':').filter(|(host, _)| is_text(host));
    parts.is_some_and(|(_, port)| port.parse::<u16>().is_ok_and(|port| port > 0))
}

impl Address {
    fn check(&self) -> (&'static str, bool, &'static str) {
        ("address", is_address(&self.at), "host:port")
    }
}

fn is_pointer(text: &str) -> bool {
    text.is_empty() || (text.starts_with('/') && is_text(text))
}

impl Link {
    /// Everything that is wrong with it, field by field.
    pub fn wrong(&self) -> Vec<Wrong> {
        let checks: Vec<(&'static str, bool, &'static str)> = match self {
            Self::Ingest => vec![],
            Self::Gauge { address } => vec![address.check()],
            Self::Analyser { address, results } => vec![
                address.check(),
                (
                    "results",
                    (1..=200).contains(&results.len())
                        && results.iter().all(|r| is_text(&r.specimen) && is_text(&r.test))
                        && results.iter().enumerate().all(|(i, r)| {
                            results[..i].iter().all(|other| (&other.specimen, &other.test) != (&r.specimen, &r.test))
                        }),
                    "1 to 200 specimens with a test, each pair once",
                ),
            ],
            Self::Sensor { broker, topic, payload, make, .. } => {
                let pointers = [Some(&payload.value), payload.unit.as_ref(), payload.at.as_ref(), payload.id.as_ref()];
                vec![
                    ("broker", is_address(broker), "host:port"),
                    ("topic", is_text(topic) && !topic.contains(['+', '#']), "a topic without wildcards"),
                    ("payload", pointers.into_iter().flatten().all(|p| is_pointer(p)), "JSON pointers such as /value"),
                    (
                        "make",
                        match make {
                            Make::Every(n) => (1..=100_000).contains(n),
                            Make::Bucket(seconds) => (1..=86_400).contains(seconds),
                        },
                        "every 1 to 100,000 values, or 1 to 86,400 seconds",
                    ),
                ]
            }
        };
        let broken = checks.into_iter().filter(|(_, holds, _)| !holds);
        broken.map(|(field, _, expected)| Wrong { field, expected }).collect()
    }
}

/// A device that has said nothing for this many minutes is silent.
pub const SILENT_AFTER_MINUTES: i64 = 5;
