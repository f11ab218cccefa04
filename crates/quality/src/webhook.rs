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

#[cfg(test)]
mod tests {
    use super::*;

    /// The example of the specification.
    #[test]
    fn signs_as_the_specification_does() {
        let secret = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw";
        let body = r#"{"test": 2432232314}"#;
        let signature = sign(secret, "msg_p5jXN8AQM9LWM0D4loKWxJek", 1_614_265_330, body);
        assert_eq!(signature.as_deref(), Some("v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE="));
    }

    #[test]
    fn a_secret_signs_and_another_signs_otherwise() {
        let (one, two) = (secret_of([1; 32]), secret_of([2; 32]));
        assert!(sign(&one, "a", 0, "").is_some());
        assert_ne!(sign(&one, "a", 0, ""), sign(&two, "a", 0, ""));
        assert_eq!(sign("plain", "a", 0, ""), None);
    }
}
