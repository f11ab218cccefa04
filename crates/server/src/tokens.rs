//! Tokens that devices show instead of a session.

use axum::http::{HeaderMap, header};
use quality::device::Link;
use sha2::{Digest, Sha256};
use sqlx::PgPool;
use store::StoreError;
use store::devices::Device;

/// What the database keeps of a token.
pub fn hash(token: &str) -> Vec<u8> {
    Sha256::digest(token).to_vec()
}

/// The device that shows its token as `Authorization: Bearer <token>`; nobody without one, or with one that is unknown,
/// revoked, or of a device that has no business here.
pub async fn device(pool: &PgPool, headers: &HeaderMap, may: fn(&Link) -> bool) -> Result<Option<Device>, StoreError> {
    let given = headers.get(header::AUTHORIZATION).and_then(|value| value.to_str().ok());
    let Some(token) = given.and_then(|value| value.strip_prefix("Bearer ")) else { return Ok(None) };
    let device = store::devices::by_token(pool, &hash(token.trim())).await?;
    Ok(device.filter(|device| may(&device.link)))
}
