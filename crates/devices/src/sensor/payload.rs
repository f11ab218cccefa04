//! The value of a message, found by JSON pointers.

use chrono::{DateTime, Utc};
use quality::device::Payload;
use quality::due::{TimeLook, look_at_time};
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
pub fn value_of(payload: &Payload, bytes: &[u8], now: DateTime<Utc>) -> Result<Arrived, &'static str> {
    if bytes.len() > PAYLOAD_AT_MOST {
        return Err("message_too_long");
    }
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
    if look_at_time(at, now) == TimeLook::Future {
        return Err("from_the_future");
    }
    let id = payload.id.as_ref().map(|pointer| text(pointer, "no_id")).transpose()?;
    Ok(Arrived { text: value, at, id })
}
