//! A stream of values by MQTT: every so many values, or the mean of so many seconds, is a reading;
//! readings make samples.

use std::collections::VecDeque;
use std::time::Duration;

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::device::{Make, Payload};
use quality::due::is_from_the_future;
use quality::entry::{Tags, Typed, read};
use quality::reading::number;
use rumqttc::{AsyncClient, Event, MqttOptions, Packet, Publish, QoS};
use serde_json::Value;
use store::devices::{DeviceSample, reason_of, save_batch};
use store::{StoreError, characteristics};
use tokio::time::{interval, sleep};
use uuid::Uuid;

use crate::Sink;
use crate::sink::insist;

/// A value of a message.
#[derive(Debug, Clone, PartialEq)]
pub struct Arrived {
    /// As it came, with its unit where that came along.
    pub text: String,
    /// When it was measured.
    pub at: DateTime<Utc>,
    /// What tells its message from others.
    pub id: Option<String>,
}

/// The value of a payload.
///
/// # Errors
/// The reason why there is none.
pub fn value_of(payload: &Payload, bytes: &[u8], now: DateTime<Utc>) -> Result<Arrived, &'static str> {
    let json: Value = serde_json::from_slice(bytes).map_err(|_| "no_json")?;
    let text = |pointer: &str, reason: &'static str| match json.pointer(pointer) {
        Some(Value::Number(number)) => Ok(number.to_string()),
        Some(Value::String(text)) => Ok(text.clone()),
        _ => Err(reason),
    };
    let mut value = text(&payload.value, "no_value")?;
    if let Some(pointer) = &payload.unit {
        value = format!("{value} {}", text(pointer, "no_unit")?);
    }
    let at = match &payload.at {
        Some(pointer) => {
            let given = text(pointer, "no_time")?;
            DateTime::parse_from_rfc3339(&given).map_err(|_| "no_time")?.to_utc()
        }
        None => now,
    };
    if is_from_the_future(at, now) {
        return Err("from_the_future");
    }
    let id = payload.id.as_ref().map(|pointer| text(pointer, "no_id")).transpose()?;
    Ok(Arrived { text: value, at, id })
}

/// A reading that values have come to.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// The value; a mean is rounded to the decimals of the characteristic.
    pub value: f64,
    /// When: of the value, or the end of its bucket.
    pub at: DateTime<Utc>,
}

/// Chooses the values that become readings.
#[derive(Debug)]
pub struct Chooser {
    make: Make,
    seen: u32,
    /// Start of the bucket that is being filled, and its values.
    bucket: Option<(i64, Vec<f64>)>,
}

impl Chooser {
    /// With nothing seen yet.
    pub fn new(make: Make) -> Self {
        Self { make, seen: 0, bucket: None }
    }

    /// Takes a value; gives the reading that it completes.
    ///
    /// # Errors
    /// The reason why it is not taken.
    pub fn take(&mut self, value: f64, at: DateTime<Utc>) -> Result<Option<Reading>, &'static str> {
        match self.make {
            Make::Every(n) => {
                self.seen += 1;
                if self.seen < n {
                    return Ok(None);
                }
                self.seen = 0;
                Ok(Some(Reading { value, at }))
            }
            Make::Bucket(seconds) => {
                let seconds = i64::from(seconds);
                let start = at.timestamp().div_euclid(seconds) * seconds;
                match &mut self.bucket {
                    Some((open, _)) if start < *open => Err("late_for_its_bucket"),
                    Some((open, values)) if start == *open => {
                        values.push(value);
                        Ok(None)
                    }
                    _ => {
                        let done = self.close();
                        self.bucket = Some((start, vec![value]));
                        Ok(done)
                    }
                }
            }
        }
    }

    /// The reading of a bucket whose time has passed, though no later value came.
    pub fn tick(&mut self, now: DateTime<Utc>) -> Option<Reading> {
        let Make::Bucket(seconds) = self.make else { return None };
        let (start, _) = self.bucket.as_ref()?;
        // Messages take a moment to come.
        if now.timestamp() > start + i64::from(seconds) + 2 { self.close() } else { None }
    }

    fn close(&mut self) -> Option<Reading> {
        let Make::Bucket(seconds) = self.make else { return None };
        let (start, values) = self.bucket.take()?;
        let value = values.iter().sum::<f64>() / values.len() as f64;
        Some(Reading { value, at: DateTime::from_timestamp(start + i64::from(seconds), 0)? })
    }
}

/// Messages remembered, so that one delivered again is known.
const REMEMBERED: usize = 1000;

/// Saves what comes on a topic.
pub(crate) struct Stream {
    pub sink: Sink,
    pub topic: String,
    pub payload: Payload,
    pub characteristic: Uuid,
    pub round: bool,
    pub make: Make,
}

/// What is on its way to a sample.
struct OnItsWay {
    chooser: Chooser,
    readings: Vec<Reading>,
    /// Messages to acknowledge once the sample is stored.
    unacknowledged: Vec<Publish>,
    seen: VecDeque<String>,
    /// What the sample's entry id is made of.
    named: Option<String>,
}

impl OnItsWay {
    fn new(make: Make) -> Self {
        Self {
            chooser: Chooser::new(make),
            readings: Vec::new(),
            unacknowledged: Vec::new(),
            seen: VecDeque::new(),
            named: None,
        }
    }
}

impl Stream {
    /// Keeps the connection to the broker until it is cancelled.
    pub(crate) async fn run(self, host: &str, port: u16) {
        let mut options = MqttOptions::new(format!("nuvek-{}", self.sink.device.id), host, port);
        // The broker keeps what comes while nobody listens, and gives again what was not acknowledged.
        options.set_clean_session(false).set_manual_acks(true).set_keep_alive(Duration::from_secs(15));
        let (client, mut events) = AsyncClient::new(options, 100);
        let mut clock = interval(Duration::from_secs(1));
        let mut way = OnItsWay::new(self.make);
        let mut connected = false;
        loop {
            tokio::select! {
                event = events.poll() => match event {
                    Ok(Event::Incoming(Packet::ConnAck(_))) => {
                        connected = true;
                        // What was not acknowledged comes again.
                        way = OnItsWay::new(self.make);
                        let _ = client.subscribe(&self.topic, QoS::AtLeastOnce).await;
                    }
                    Ok(Event::Incoming(Packet::Publish(publish))) => self.take(&client, &mut way, publish).await,
                    Ok(_) => {}
                    Err(error) => {
                        if std::mem::take(&mut connected) {
                            self.sink.refuse("connection_lost", &error.to_string()).await;
                        }
                        sleep(Duration::from_secs(1)).await;
                    }
                },
                _ = clock.tick() => {
                    if let Some(reading) = way.chooser.tick(Utc::now()) {
                        self.add(&client, &mut way, reading).await;
                    }
                }
            }
        }
    }

    async fn setup(&self) -> Result<Characteristic, &'static str> {
        let found = insist(|| characteristics::find(&self.sink.pool, self.characteristic)).await;
        match found {
            Ok(setup) if self.sink.may_send_for(setup.station_id) => Ok(setup.characteristic),
            _ => Err("other_station"),
        }
    }

    async fn take(&self, client: &AsyncClient, way: &mut OnItsWay, publish: Publish) {
        match self.accept(way, &publish).await {
            Ok(reading) => {
                way.unacknowledged.push(publish);
                self.sink.heard(0).await;
                if let Some(reading) = reading {
                    self.add(client, way, reading).await;
                }
            }
            Err(reason) => {
                self.sink.refuse(&reason, &String::from_utf8_lossy(&publish.payload)).await;
                // Sent again it would be refused again.
                let _ = client.ack(&publish).await;
            }
        }
    }

    async fn accept(&self, way: &mut OnItsWay, publish: &Publish) -> Result<Option<Reading>, String> {
        let arrived = value_of(&self.payload, &publish.payload, Utc::now())?;
        if arrived.id.as_ref().is_some_and(|id| way.seen.contains(id)) {
            return Err("sent_before".into());
        }
        let characteristic = self.setup().await?;
        let text = if self.round { rounded(&arrived.text, characteristic.decimals) } else { arrived.text.clone() };
        // The mean of a bucket is rounded, so what it is made of may have more digits.
        let judged_by = match self.make {
            Make::Every(_) => characteristic,
            Make::Bucket(_) => Characteristic { decimals: 9, ..characteristic },
        };
        let value = number(&judged_by, 1, &text).map_err(|refusal| reason_of(&refusal))?;
        let reading = way.chooser.take(value, arrived.at)?;
        if let Some(id) = arrived.id {
            way.named.get_or_insert_with(|| id.clone());
            way.seen.push_back(id);
            if way.seen.len() > REMEMBERED {
                way.seen.pop_front();
            }
        }
        Ok(reading)
    }

    /// Adds a reading; a complete sample is saved, then what it came from is acknowledged.
    async fn add(&self, client: &AsyncClient, way: &mut OnItsWay, reading: Reading) {
        way.readings.push(reading);
        let saved = insist(|| self.save(&way.readings, way.named.as_deref())).await;
        match saved {
            Ok(None) => return,
            Ok(Some(Ok(again))) if again => self.sink.refuse("sent_before", "").await,
            Ok(Some(Ok(_))) => self.sink.heard(1).await,
            Ok(Some(Err(reason))) => self.sink.refuse(&reason, "").await,
            Err(error) => {
                tracing::error!(%error, "a sensor's sample could not be saved");
                self.sink.refuse("refused", "").await;
            }
        }
        way.readings.clear();
        way.named = None;
        for publish in way.unacknowledged.drain(..) {
            let _ = client.ack(&publish).await;
        }
    }

    /// Saves the readings when they make a sample: whether it had been saved before, or the reason
    /// why it cannot be.
    async fn save(
        &self,
        readings: &[Reading],
        named: Option<&str>,
    ) -> Result<Option<Result<bool, String>>, StoreError> {
        let setup = characteristics::find(&self.sink.pool, self.characteristic).await?;
        let characteristic = setup.characteristic;
        if readings.len() < characteristic.pieces() {
            return Ok(None);
        }
        let decimals = usize::from(characteristic.decimals);
        let texts = readings.iter().map(|reading| format!("{:.decimals$}", reading.value)).collect();
        let content = match read(&characteristic, &Typed { readings: texts, ..Typed::default() }) {
            Ok(content) => content,
            Err(refusals) => return Ok(Some(Err(refusals.first().map(reason_of).unwrap_or_default()))),
        };
        let entry = match named {
            Some(id) => Uuid::new_v5(&self.sink.device.id, format!("{} {id}", self.topic).as_bytes()),
            None => Uuid::new_v4(),
        };
        let now = Utc::now();
        let taken_at = readings.last().map_or(now, |reading| reading.at).min(now);
        let sample = DeviceSample { entry, taken_at, content, tags: Tags::new() };
        let mut saved = save_batch(&self.sink.pool, self.sink.device.id, self.characteristic, &[sample], now).await?;
        Ok(saved.pop().map(|saved| saved.map(|saved| saved.again).map_err(|error| error.to_string())))
    }
}

/// A number rounded to so many decimals, with whatever follows it.
fn rounded(text: &str, decimals: u8) -> String {
    let (figure, unit) = text.split_once(' ').unwrap_or((text, ""));
    match figure.parse::<f64>() {
        Ok(value) if value.is_finite() => format!("{value:.*} {unit}", usize::from(decimals)),
        _ => text.to_owned(),
    }
}
