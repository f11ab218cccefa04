//! Which values of a stream become readings, and which readings a sample.

use chrono::{DateTime, Utc};
use quality::device::{Make, Reason};
use serde::{Deserialize, Serialize};

/// A reading that values have come to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Reading {
    /// The value; of a bucket the mean, not rounded yet.
    pub value: f64,
    /// When: of the value, or the end of its bucket.
    pub at: DateTime<Utc>,
}

/// What a stream has come to. It is stored with every message, so that each can be acknowledged at
/// once: a broker sends no more than a handful ahead of their acknowledgements.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Progress {
    /// Values since the last one that became a reading.
    seen: u32,
    bucket: Option<Bucket>,
    /// Readings of the sample that is being made.
    readings: Vec<Reading>,
}

/// Values of one stretch of time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
struct Bucket {
    /// Its start, in seconds since 1970.
    start: i64,
    sum: f64,
    count: u32,
}

/// Messages take a moment to come: a bucket is closed so many seconds after its end.
const SECONDS_TO_COME: i64 = 2;

impl Progress {
    /// Takes a value; gives the reading that it completes.
    ///
    /// # Errors
    /// The reason why it is not taken.
    pub fn take(&mut self, make: Make, value: f64, at: DateTime<Utc>) -> Result<Option<Reading>, Reason> {
        match make {
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
                    Some(open) if start < open.start => Err(Reason::LateForItsBucket),
                    Some(open) if start == open.start => {
                        (open.sum, open.count) = (open.sum + value, open.count + 1);
                        Ok(None)
                    }
                    _ => {
                        let done = self.close(seconds);
                        self.bucket = Some(Bucket { start, sum: value, count: 1 });
                        Ok(done)
                    }
                }
            }
        }
    }

    /// The reading of a bucket whose time has passed, though no later value came.
    pub fn tick(&mut self, make: Make, now: DateTime<Utc>) -> Option<Reading> {
        let Make::Bucket(seconds) = make else { return None };
        let seconds = i64::from(seconds);
        let ends = self.bucket.as_ref()?.start + seconds;
        if now.timestamp() > ends + SECONDS_TO_COME { self.close(seconds) } else { None }
    }

    /// Adds a reading; gives all of them when they make a sample of so many pieces.
    pub fn add(&mut self, reading: Reading, pieces: usize) -> Option<Vec<Reading>> {
        self.readings.push(reading);
        (self.readings.len() >= pieces).then(|| std::mem::take(&mut self.readings))
    }

    fn close(&mut self, seconds: i64) -> Option<Reading> {
        let Bucket { start, sum, count } = self.bucket.take()?;
        Some(Reading { value: sum / f64::from(count), at: DateTime::from_timestamp(start + seconds, 0)? })
    }
}
