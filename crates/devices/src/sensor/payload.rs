//! The value of a message, found by JSON pointers.

use chrono::{DateTime, Utc};
use quality::device::{Payload, Reason};
use quality::entry::{Origin, accept_time};
use serde_json::Value;

/// Longest payload that is looked into; a value with its time and unit takes a few hundred bytes.
const PAYLOAD_AT_MOST: usize = 64 * 1024;

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
pub fn value_of(payload: &Payload, bytes: &[u8], now: DateTime<Utc>) -> Result<Arrived, Reason> {
    if bytes.len() > PAYLOAD_AT_MOST {
        return Err(Reason::MessageTooLong);
    }
    let json: Value = serde_json::from_slice(bytes).map_err(|_| Reason::NoJson)?;
    let text = |pointer: &str, reason: Reason| match json.pointer(pointer) {
        Some(Value::Number(number)) => Ok(number.to_string()),
        Some(Value::String(text)) => Ok(text.clone()),
        _ => Err(reason),
    };
    let mut value = text(&payload.value, Reason::NoValue)?;
    if let Some(pointer) = &payload.unit {
        value = format!("{value} {}", text(pointer, Reason::NoUnit)?);
    }
    let at = match &payload.at {
        Some(pointer) => {
            let given = text(pointer, Reason::NoTime)?;
            DateTime::parse_from_rfc3339(&given).map_err(|_| Reason::NoTime)?.to_utc()
        }
        None => now,
    };
    let at = accept_time(Some(at), now, Origin::Instrument).map_err(|refusal| Reason::from(&refusal))?;
    let id = payload.id.as_ref().map(|pointer| text(pointer, Reason::NoId)).transpose()?;
    Ok(Arrived { text: value, at, id })
}
