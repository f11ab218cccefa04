//! Signatures of what is told to other programs.

use quality::webhook::{secret_of, sign};

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
