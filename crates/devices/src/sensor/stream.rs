//! The connection to a broker, and what becomes of its messages.

use std::collections::VecDeque;
use std::time::Duration;

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::device::{Make, Payload, Reason};
use quality::entry::{Origin, Typed, Usual, accept};
use quality::reading::number;
use rumqttc::{AsyncClient, Event, EventLoop, MqttOptions, Packet, Publish, QoS};
use store::characteristics;
use store::devices::{DeviceSample, StepAt, step};
use tokio::sync::mpsc::{Receiver, Sender, channel};
use tokio::time::{interval, sleep};
use uuid::Uuid;

use super::payload::value_of;
use super::progress::{Progress, Reading};
use crate::sink::{Sink, insist};

/// Requests to the broker, and news of it, that may wait.
const WAITING_AT_MOST: usize = 100;

/// Largest packet that is read. One that is too large for the connection would end it, and come again.
const PACKET_AT_MOST: usize = 16 * 1024 * 1024;

/// Of values that a mean is made of.
const DECIMALS_AT_MOST: u8 = 9;

/// Before another try to connect.
const AGAIN: Duration = Duration::from_secs(1);

/// Saves what comes on a topic.
pub(crate) struct Stream {
    pub sink: Sink,
    pub topic: String,
    pub payload: Payload,
    pub characteristic: Uuid,
    pub round: bool,
    pub make: Make,
}

/// What the broker has to say.
enum News {
    Connected,
    Lost(String),
    Message(Publish),
}

/// Listens to the broker and passes on what matters. It does nothing else, so that neither a clock nor
/// the database interrupts it.
async fn listen(mut events: EventLoop, news: Sender<News>) {
    let mut connected = false;
    loop {
        let told = match events.poll().await {
            Ok(Event::Incoming(Packet::ConnAck(_))) => {
                connected = true;
                Some(News::Connected)
            }
            Ok(Event::Incoming(Packet::Publish(publish))) => Some(News::Message(publish)),
            Ok(_) => None,
            Err(error) => {
                sleep(AGAIN).await;
                std::mem::take(&mut connected).then(|| News::Lost(error.to_string()))
            }
        };
        if let Some(told) = told
            && news.send(told).await.is_err()
        {
            return;
        }
    }
}

/// What waits to be said to the broker.
#[derive(Default)]
struct ToSay {
    subscribe: bool,
    acknowledge: VecDeque<Publish>,
}

impl ToSay {
    /// Says what there is room for; whoever waits for room would keep the broker from being heard.
    fn say(&mut self, client: &AsyncClient, topic: &str) {
        self.subscribe = self.subscribe && client.try_subscribe(topic, QoS::AtLeastOnce).is_err();
        while let Some(publish) = self.acknowledge.pop_front() {
            if client.try_ack(&publish).is_err() {
                self.acknowledge.push_front(publish);
                return;
            }
        }
    }
}

impl Stream {
    /// Keeps the connection to the broker until it is cancelled.
    pub(crate) async fn run(self, host: &str, port: u16) {
        let mut options = MqttOptions::new(format!("nuvek-{}", self.sink.device.id), host, port);
        // The broker keeps what comes while nobody listens, and gives again what was not acknowledged.
        options.set_clean_session(false).set_manual_acks(true).set_keep_alive(Duration::from_secs(15));
        options.set_max_packet_size(PACKET_AT_MOST, PACKET_AT_MOST);
        let (client, events) = AsyncClient::new(options, WAITING_AT_MOST);
        let (news, heard) = channel(WAITING_AT_MOST);
        tokio::join!(listen(events, news), self.hear(client, heard));
    }

    async fn hear(&self, client: AsyncClient, mut news: Receiver<News>) {
        let mut clock = interval(Duration::from_secs(1));
        let mut to_say = ToSay::default();
        loop {
            tokio::select! {
                told = news.recv() => match told {
                    None => return,
                    // What was not acknowledged comes again.
                    Some(News::Connected) => to_say = ToSay { subscribe: true, acknowledge: VecDeque::new() },
                    Some(News::Lost(why)) => self.sink.refuse(Reason::ConnectionLost, &why).await,
                    Some(News::Message(publish)) => {
                        self.take(&publish).await;
                        // Also what is refused: sent again it would be refused again.
                        to_say.acknowledge.push_back(publish);
                    }
                },
                _ = clock.tick() => self.tick().await,
            }
            to_say.say(&client, &self.topic);
        }
    }

    async fn take(&self, publish: &Publish) {
        if let Err(reason) = self.accept(publish).await {
            self.sink.refuse(reason, &String::from_utf8_lossy(&publish.payload)).await;
        }
    }

    async fn accept(&self, publish: &Publish) -> Result<(), Reason> {
        let arrived = value_of(&self.payload, &publish.payload, Utc::now())?;
        // The broker hands its last message to whoever comes; without an id nothing tells it from a new one.
        if publish.retain && arrived.id.is_none() {
            return Err(Reason::Retained);
        }
        let characteristic = self.setup().await?;
        let text = if self.round { rounded(&arrived.text, characteristic.decimals) } else { arrived.text };
        // The mean of a bucket is rounded, so what it is made of may have more digits.
        let decimals = if matches!(self.make, Make::Every(_)) { characteristic.decimals } else { DECIMALS_AT_MOST };
        let judged_by = Characteristic { decimals, ..characteristic.clone() };
        let value = number(&judged_by, 1, &text).map_err(|refusal| Reason::from(&refusal))?;
        // However long the device's own name of its message is.
        let message = arrived.id.map(|id| Uuid::new_v5(&self.sink.device.id, id.as_bytes()));
        self.step(&characteristic, message, |progress| progress.take(self.make, value, arrived.at)).await
    }

    /// A bucket ends with its time, whether or not another value comes.
    async fn tick(&self) {
        if matches!(self.make, Make::Every(_)) {
            return;
        }
        let Ok(characteristic) = self.setup().await else { return };
        let now = Utc::now();
        if let Err(reason) = self.step(&characteristic, None, |progress| Ok(progress.tick(self.make, now))).await {
            self.sink.refuse(reason, "").await;
        }
    }

    async fn setup(&self) -> Result<Characteristic, Reason> {
        match insist(|| characteristics::find(&self.sink.pool, self.characteristic)).await {
            Ok(setup) if self.sink.may_send_for(setup.station_id) => Ok(setup.characteristic),
            _ => Err(Reason::OtherStation),
        }
    }

    /// Takes the progress a step on; a sample that is complete with it is saved.
    async fn step(
        &self,
        characteristic: &Characteristic,
        message: Option<Uuid>,
        advance: impl Fn(&mut Progress) -> Result<Option<Reading>, Reason>,
    ) -> Result<(), Reason> {
        let now = Utc::now();
        let on = |progress: &mut Progress| match advance(progress)? {
            Some(reading) => sample(characteristic, progress.add(reading, characteristic.pieces()), now),
            None => Ok(None),
        };
        let at = StepAt { device: self.sink.device.id, characteristic: self.characteristic, message, at: now };
        match insist(|| step(&self.sink.pool, at, &on)).await {
            Ok(outcome) => outcome,
            Err(error) => {
                tracing::error!(%error, "a sensor's value could not be kept");
                Err(Reason::Refused)
            }
        }
    }
}

/// The sample that complete readings make.
fn sample(
    characteristic: &Characteristic,
    readings: Option<Vec<Reading>>,
    now: DateTime<Utc>,
) -> Result<Option<DeviceSample>, Reason> {
    let Some(readings) = readings else { return Ok(None) };
    let decimals = usize::from(characteristic.decimals);
    let texts = readings.iter().map(|reading| format!("{:.decimals$}", reading.value)).collect();
    let typed = Typed { readings: texts, ..Typed::default() };
    let accepted = accept(characteristic, &Usual::EVERYTHING, &typed, Origin::Instrument)
        .map_err(|refusal| Reason::from(&refusal))?;
    let taken_at = readings.last().map_or(now, |reading| reading.at).min(now);
    Ok(Some(DeviceSample { entry: Uuid::new_v4(), taken_at, accepted }))
}

/// A number rounded to so many decimals, with whatever follows it.
fn rounded(text: &str, decimals: u8) -> String {
    let (figure, unit) = text.split_once(' ').unwrap_or((text, ""));
    match figure.parse::<f64>() {
        Ok(value) if value.is_finite() => format!("{value:.*} {unit}", usize::from(decimals)),
        _ => text.to_owned(),
    }
}
