//! Webhooks: a signed POST to another program.

use chrono::Utc;
use http_body_util::Full;
use hyper::Request;
use hyper::body::Bytes;
use hyper::header::CONTENT_TYPE;
use quality::webhook::sign;
use url::Url;
use uuid::Uuid;

use crate::call::{call, path};
use crate::networks::Networks;

/// Sends one; why it was not taken otherwise. It is taken with a status of 2xx.
pub(super) async fn send(networks: &Networks, url: &str, secret: &str, id: Uuid, body: String) -> Result<(), String> {
    let url = Url::parse(url).map_err(|error| error.to_string())?;
    let (id, timestamp) = (id.to_string(), Utc::now().timestamp());
    let signature = sign(secret, &id, timestamp, &body).ok_or("the secret cannot be read")?;
    let request = Request::post(path(&url))
        .header(CONTENT_TYPE, "application/json")
        .header("webhook-id", id)
        .header("webhook-timestamp", timestamp)
        .header("webhook-signature", signature)
        .body(Full::new(Bytes::from(body)))
        .map_err(|error| error.to_string())?;
    let status = call(networks, &url, request, 0).await?.status;
    if status.is_success() { Ok(()) } else { Err(format!("answered {}", status.as_u16())) }
}
