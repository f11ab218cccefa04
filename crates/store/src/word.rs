//! Enumerations are stored under the names they have in JSON: one word for one thing.

use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::StoreError;

/// The stored word of a value.
pub(crate) fn word<T: Serialize>(value: T) -> Result<String, StoreError> {
    match serde_json::to_value(value)? {
        Value::String(word) => Ok(word),
        other => Err(StoreError::Corrupt(format!("{other} is not a word"))),
    }
}

/// The value of a stored word.
pub(crate) fn value<T: DeserializeOwned>(word: String) -> Result<T, StoreError> {
    Ok(serde_json::from_value(Value::String(word))?)
}
