//! Messages received and their results offered.

use std::io;
use std::time::Duration;

use chrono::{DateTime, NaiveDateTime, TimeZone, Utc};
use quality::device::{Reason, ResultMapping};
use quality::entry::{Origin, accept_time};
use quality::reading::number;
use quality::shift::Calendar;
use store::devices::NewOffer;
use store::{StoreError, characteristics, sites};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use tokio::time::timeout;
use uuid::Uuid;

use super::frame::{ACK, Event, NAK, Receiver};
use super::record::{AnalyserResult, Message, Outcome};
use crate::sink::Sink;

/// A sender that has begun sends on within this time; so does a receiver by E1381.
const SILENCE: Duration = Duration::from_secs(30);

/// The sender waits 15 s for an answer; before that it is told to send again.
const KEPT_WITHIN: Duration = Duration::from_secs(10);

/// Receives messages until the connection ends.
pub(crate) async fn speak(sink: &Sink, results: &[ResultMapping], mut stream: TcpStream) -> io::Result<()> {
    let mut receiver = Receiver::default();
    let mut message = Message::default();
    let mut bytes = [0; 1024];
    loop {
        let read = stream.read(&mut bytes);
        let count = if receiver.is_open() {
            match timeout(SILENCE, read).await {
                Ok(count) => count?,
                Err(_) => {
                    sink.refuse(Reason::StoppedInTheMiddle, "").await;
                    (receiver, message) = (Receiver::default(), Message::default());
                    continue;
                }
            }
        } else {
            read.await?
        };
        if count == 0 {
            if receiver.is_open() {
                sink.refuse(Reason::StoppedInTheMiddle, "").await;
            }
            return Ok(());
        }
        for byte in &bytes[..count] {
            let reply = match receiver.take(*byte) {
                None => continue,
                Some(Event::Enquiry) => {
                    message = Message::default();
                    sink.heard(0).await;
                    Some(ACK)
                }
                Some(Event::Again) => {
                    sink.refuse(Reason::FrameSentAgain, "").await;
                    Some(ACK)
                }
                Some(Event::Broken(reason)) => {
                    sink.refuse(reason, "").await;
                    Some(NAK)
                }
                Some(Event::CutOff) => {
                    sink.refuse(Reason::FrameCutOff, "").await;
                    None
                }
                Some(Event::Noise) => {
                    sink.refuse(Reason::Garbage, "").await;
                    None
                }
                Some(Event::End) => {
                    if message.is_open() {
                        sink.refuse(Reason::MessageWithoutEnd, "").await;
                    }
                    None
                }
                Some(Event::Frame(text)) => Some(if kept(sink, results, &mut message, &text).await {
                    receiver.accept();
                    ACK
                } else {
                    NAK
                }),
            };
            if let Some(reply) = reply {
                stream.write_all(&[reply]).await?;
            }
        }
    }
}

/// Takes the text of a frame into the message; what a complete message holds is stored before the
/// frame is acknowledged. `false`: it could not be stored, so the frame has to come again.
async fn kept(sink: &Sink, results: &[ResultMapping], message: &mut Message, text: &[u8]) -> bool {
    let mut with_frame = message.clone();
    let outcomes = with_frame.take(text);
    let stored = timeout(KEPT_WITHIN, store_all(sink, results, &with_frame, outcomes)).await;
    match stored {
        Ok(Ok(())) => {
            *message = with_frame;
            true
        }
        Ok(Err(error)) => {
            tracing::error!(%error, "an analyser's results could not be offered");
            false
        }
        Err(_) => false,
    }
}

async fn store_all(
    sink: &Sink,
    results: &[ResultMapping],
    message: &Message,
    outcomes: Vec<Outcome>,
) -> Result<(), StoreError> {
    for (nth, outcome) in outcomes.into_iter().enumerate() {
        match outcome {
            Outcome::Refused(reason, text) => sink.refuse(reason, &text).await,
            Outcome::Result(result) => offer(sink, results, (message, nth), result).await?,
        }
    }
    Ok(())
}

/// Offers a result to the level that it is mapped to.
async fn offer(
    sink: &Sink,
    results: &[ResultMapping],
    (message, nth): (&Message, usize),
    result: AnalyserResult,
) -> Result<(), StoreError> {
    let name = format!("{} / {}", result.specimen, result.test);
    let Some(mapped) = results.iter().find(|r| r.specimen == result.specimen && r.test == result.test) else {
        sink.refuse(Reason::UnknownTest, &name).await;
        return Ok(());
    };
    let setup = match characteristics::find(&sink.pool, mapped.characteristic).await {
        Ok(setup) if sink.may_send_for(setup.station_id) => setup,
        Ok(_) | Err(StoreError::Missing(_)) => {
            sink.refuse(Reason::OtherStation, &name).await;
            return Ok(());
        }
        Err(error) => return Err(error),
    };
    let value = format!("{} {}", result.value, result.unit);
    if let Err(refusal) = number(&setup.characteristic, 1, &value) {
        sink.refuse(Reason::from(&refusal), &format!("{name}: {value}")).await;
        return Ok(());
    }
    let now = Utc::now();
    let told = match result.completed_at {
        Some(local) => in_utc(&sites::calendar(&sink.pool).await?, local),
        None => None,
    };
    // A clock that stands wrong must not put a result before or behind all others.
    let plain = |at| accept_time(Some(at), now, Origin::Hand { confirmed: false }).ok();
    let measured_at = told.and_then(plain).unwrap_or(now);
    let new = NewOffer {
        device: sink.device.id,
        station: setup.station_id,
        characteristic: Some(mapped.characteristic),
        // The same message word for word is the same results; a level may have several in one.
        message: Some(format!("{} {nth}", Uuid::new_v5(&sink.device.id, message.text()))),
        value: value.trim().to_owned(),
        measured_at,
    };
    sink.offer(&new).await
}

/// Analysers tell the time of the site's clock.
fn in_utc(calendar: &Calendar, local: NaiveDateTime) -> Option<DateTime<Utc>> {
    calendar.zone.from_local_datetime(&local).earliest().map(|at| at.to_utc())
}
