//! Signatures of webhooks, as the open specification Standard Webhooks 1.0 lays down: whoever is told can tell that this
//! installation said it, and when.

use base64::Engine;
use base64::prelude::BASE64_STANDARD;
use hmac::{Hmac, Mac};
use sha2::Sha256;

/// What a secret begins with.
const PREFIX: &str = "whsec_";

/// The secret that stands for random bytes.
pub fn secret_of(bytes: [u8; 32]) -> String {
    format!("{PREFIX}{}", BASE64_STANDARD.encode(bytes))
}

/// What the header `webhook-signature` holds: `v1,` and the HMAC-SHA256, in Base64, over `id.timestamp.body`, by the
/// bytes that the secret encodes behind its prefix; nothing where it encodes none. `timestamp` counts seconds from 1970.
pub fn sign(secret: &str, id: &str, timestamp: i64, body: &str) -> Option<String> {
    let key = BASE64_STANDARD.decode(secret.strip_prefix(PREFIX)?).ok()?;
    let mut mac = Hmac::<Sha256>::new_from_slice(&key).ok()?;
    mac.update(format!("{id}.{timestamp}.{body}").as_bytes());
    Some(format!("v1,{}", BASE64_STANDARD.encode(mac.finalize().into_bytes())))
}
