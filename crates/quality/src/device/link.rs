//! How a device sends, as it is set up.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::folder::WatchedFolder;
use crate::field::{Allowed, WrongField, all_unlike, broken};
use crate::setup::SetUpRefusal;

/// How a device sends, and what its messages mean.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Link {
    /// Posts samples with its token.
    Ingest,
    /// A bench gauge behind a serial-to-network box: a line for each measurement.
    Gauge {
        /// Who opens the connection, and where.
        address: Address,
    },
    /// An analyser that sends results in ASTM frames.
    Analyser {
        /// Who opens the connection, and where.
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
    /// Tables that another program writes into a folder.
    Folder(WatchedFolder),
    /// A monitor in the hall: it shows its token, is sent the charts of its stations, and sends nothing.
    Display {
        /// Charts on the screen at a time, 1 to 9: the more, the smaller the writing.
        charts: u32,
        /// Seconds until the next ones come, 5 to 300.
        seconds: u32,
        /// Light writing on a dark ground.
        dark: bool,
    },
    /// A program that reads samples, charts and signals of its stations: it shows its token and sends nothing.
    Program,
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

/// Specimens with a test that an analyser can be mapped by at most.
const MAPPINGS_AT_MOST: usize = 200;

/// Values of which one becomes a reading at most.
const EVERY_AT_MOST: u32 = 100_000;

/// Seconds whose mean becomes a reading at most: a day.
const BUCKET_AT_MOST: u32 = 86_400;

/// Charts that a display shows at a time at most.
const SHOWN_AT_MOST: u32 = 9;

/// Seconds after which a display shows the next charts, at least and at most.
const TURNS: (u32, u32) = (5, 300);

fn is_text(text: &str) -> bool {
    (1..=200).contains(&text.trim().chars().count()) && !text.chars().any(char::is_control)
}

fn is_address(text: &str) -> bool {
    let parts = text.rsplit_once(':').filter(|(host, _)| is_text(host));
    parts.is_some_and(|(_, port)| port.parse::<u16>().is_ok_and(|port| port > 0))
}

impl Address {
    fn check(&self) -> (&'static str, bool, Allowed) {
        ("address", is_address(&self.at), Allowed::HostAndPort)
    }
}

fn is_pointer(text: &str) -> bool {
    text.is_empty() || (text.starts_with('/') && is_text(text))
}

impl Link {
    /// Whether a device can be set up so.
    ///
    /// # Errors
    /// Everything that is wrong with it, field by field.
    pub fn check(&self) -> Result<(), SetUpRefusal> {
        let wrong = self.wrong();
        if wrong.is_empty() { Ok(()) } else { Err(SetUpRefusal::Fields(wrong)) }
    }

    /// Whether it shows a token, instead of being spoken with.
    pub fn shows_token(&self) -> bool {
        matches!(self, Self::Ingest | Self::Display { .. } | Self::Program)
    }

    /// Whether something is wrong when it says nothing for minutes; tables come, and programs read, when they do.
    pub fn speaks_all_the_time(&self) -> bool {
        !matches!(self, Self::Folder(_) | Self::Program)
    }

    fn wrong(&self) -> Vec<WrongField> {
        match self {
            Self::Ingest | Self::Program => vec![],
            Self::Gauge { address } => broken([address.check()]),
            Self::Analyser { address, results } => {
                let pair = |mapping: &ResultMapping| (mapping.specimen.clone(), mapping.test.clone());
                let pairs: Vec<(String, String)> = results.iter().map(pair).collect();
                let holds = (1..=MAPPINGS_AT_MOST).contains(&results.len())
                    && results.iter().all(|mapping| is_text(&mapping.specimen) && is_text(&mapping.test))
                    && all_unlike(&pairs);
                let allowed = Allowed::Entries { least: 1, most: MAPPINGS_AT_MOST };
                broken([address.check(), ("results", holds, allowed)])
            }
            Self::Folder(folder) => folder.wrong(),
            Self::Display { charts, seconds, .. } => {
                let (least, most) = TURNS;
                broken([
                    ("charts", (1..=SHOWN_AT_MOST).contains(charts), Allowed::Whole { least: 1, most: SHOWN_AT_MOST }),
                    ("seconds", (least..=most).contains(seconds), Allowed::Whole { least, most }),
                ])
            }
            Self::Sensor { broker, topic, payload, make, .. } => {
                let pointers = [Some(&payload.value), payload.unit.as_ref(), payload.at.as_ref(), payload.id.as_ref()];
                let pointers_hold = pointers.into_iter().flatten().all(|pointer| is_pointer(pointer));
                let make_holds = match make {
                    Make::Every(n) => (1..=EVERY_AT_MOST).contains(n),
                    Make::Bucket(seconds) => (1..=BUCKET_AT_MOST).contains(seconds),
                };
                broken([
                    ("broker", is_address(broker), Allowed::HostAndPort),
                    ("topic", is_text(topic) && !topic.contains(['+', '#']), Allowed::TopicWithoutWildcards),
                    ("payload", pointers_hold, Allowed::JsonPointers),
                    ("make", make_holds, Allowed::Making { every: EVERY_AT_MOST, seconds: BUCKET_AT_MOST }),
                ])
            }
        }
    }

    /// Whether it is a link of the same kind: a device stays what it was set up as.
    ///
    /// # Errors
    /// When it is not.
    pub fn may_become(&self, new: &Self) -> Result<(), SetUpRefusal> {
        if std::mem::discriminant(self) == std::mem::discriminant(new) {
            return Ok(());
        }
        Err(SetUpRefusal::Fields(vec![WrongField::new("kind", Allowed::KindAsSetUp)]))
    }
}
