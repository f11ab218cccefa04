//! A bench gauge behind a serial-to-network box: a line for each measurement, the value with its
//! unit, ended by CR, LF or both.

use quality::device::Reason;
use std::io;
use std::time::Duration;

use chrono::Utc;
use quality::characteristic::Kind;
use quality::reading::{ReadingRefusal, number};
use store::StoreError;
use store::characteristics::{self, CharacteristicView};
use store::devices::NewOffer;
use tokio::io::AsyncReadExt;
use tokio::net::TcpStream;
use tokio::time::timeout;
use uuid::Uuid;

use crate::sink::{Sink, insist};

/// Longest line; no gauge sends more.
const LINE_AT_MOST: usize = 64;

/// A line that was begun is ended within this time.
const UNFINISHED: Duration = Duration::from_secs(5);

/// Bytes as they come, cut into lines.
#[derive(Debug, Default)]
pub struct Lines {
    begun: Vec<u8>,
    /// The line is too long already; the rest of it says nothing.
    overflown: bool,
}

/// A line, or why it is none.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Line {
    /// The text of a line that is not blank.
    Text(String),
    /// A refusal: its reason and what came.
    Refused(Reason, String),
}

impl Lines {
    /// The line that `byte` ends, if it ends one.
    pub fn take(&mut self, byte: u8) -> Option<Line> {
        if byte != b'\r' && byte != b'\n' {
            if self.begun.len() < LINE_AT_MOST {
                self.begun.push(byte);
            } else {
                self.overflown = true;
            }
            return None;
        }
        self.end()
    }

    /// Whether a line was begun and not ended.
    pub fn is_begun(&self) -> bool {
        !self.begun.is_empty()
    }

    fn end(&mut self) -> Option<Line> {
        let bytes = std::mem::take(&mut self.begun);
        let overflown = std::mem::take(&mut self.overflown);
        let shown = String::from_utf8_lossy(&bytes).into_owned();
        match String::from_utf8(bytes) {
            _ if overflown => Some(Line::Refused(Reason::LineTooLong, shown)),
            Err(_) => Some(Line::Refused(Reason::Garbage, shown)),
            Ok(text) if text.trim().is_empty() => None,
            Ok(text) => Some(Line::Text(text)),
        }
    }

    /// Gives up a line that was begun.
    fn give_up(&mut self) -> String {
        self.overflown = false;
        String::from_utf8_lossy(&std::mem::take(&mut self.begun)).into_owned()
    }
}

/// Takes lines until the connection ends.
pub(crate) async fn speak(sink: &Sink, mut stream: TcpStream) -> io::Result<()> {
    let mut lines = Lines::default();
    let mut bytes = [0; 256];
    loop {
        let read = stream.read(&mut bytes);
        let count = if lines.is_begun() {
            match timeout(UNFINISHED, read).await {
                Ok(count) => count?,
                Err(_) => {
                    sink.refuse(Reason::UnfinishedLine, &lines.give_up()).await;
                    continue;
                }
            }
        } else {
            read.await?
        };
        if count == 0 {
            return Ok(());
        }
        for byte in &bytes[..count] {
            match lines.take(*byte) {
                None => {}
                Some(Line::Refused(reason, text)) => sink.refuse(reason, &text).await,
                Some(Line::Text(text)) => {
                    if let Err(error) = offer(sink, &text).await {
                        tracing::error!(%error, "a gauge's value could not be offered");
                    }
                }
            }
        }
    }
}

/// What is measured by hand at the device's stations.
async fn measured(sink: &Sink) -> Result<Vec<CharacteristicView>, StoreError> {
    let mut all = insist(|| characteristics::list(&sink.pool)).await?;
    all.retain(|c| c.characteristic.kind == Kind::Measured && c.analyte.is_none() && sink.may_send_for(c.station_id));
    Ok(all)
}

/// Offers a value at every station where it could be a reading.
async fn offer(sink: &Sink, text: &str) -> Result<(), StoreError> {
    let (mut stations, mut refusal): (Vec<Uuid>, Option<ReadingRefusal>) = (Vec::new(), None);
    for setup in measured(sink).await? {
        match number(&setup.characteristic, 1, text) {
            Ok(_) if stations.contains(&setup.station_id) => {}
            Ok(_) => stations.push(setup.station_id),
            // Of what is measured in other units it was not meant to be a reading.
            Err(why) => {
                refusal = refusal.filter(|before| !matches!(before, ReadingRefusal::OtherUnit { .. })).or(Some(why))
            }
        }
    }
    if stations.is_empty() {
        let reason = refusal.as_ref().map_or(Reason::NothingMeasuredHere, Reason::from);
        sink.refuse(reason, text).await;
    }
    let (value, measured_at) = (text.trim().to_owned(), Utc::now());
    for station in stations {
        let value = value.clone();
        let new = NewOffer { device: sink.device.id, station, characteristic: None, message: None, value, measured_at };
        sink.offer(&new).await?;
    }
    Ok(())
}
