//! Tokens that devices show instead of a session.

use axum::http::{HeaderMap, header};
use chrono::Utc;
use quality::device::Link;
use quality::role::Role;
use sha2::{Digest, Sha256};
use sqlx::PgPool;
use store::StoreError;
use store::devices::Device;
use store::people::Person;

use crate::failure::Failure;
use crate::problem::Problem;

/// What the database keeps of a token.
pub fn hash(token: &str) -> Vec<u8> {
    Sha256::digest(token).to_vec()
}

/// The token that is shown; a proxy's own credentials are none.
fn shown(headers: &HeaderMap) -> Option<&str> {
    headers.get(header::AUTHORIZATION)?.to_str().ok()?.strip_prefix("Bearer ")
}

/// The device that shows its token as `Authorization: Bearer <token>`; nobody without one, or with one that is unknown,
/// revoked, or of a device that has no business here.
pub async fn device(pool: &PgPool, headers: &HeaderMap, may: fn(&Link) -> bool) -> Result<Option<Device>, StoreError> {
    let Some(token) = shown(headers) else { return Ok(None) };
    let device = store::devices::by_token(pool, &hash(token.trim())).await?;
    Ok(device.filter(|device| may(&device.link)))
}

/// The program that shows its token: it reads what a reader of its stations reads. Nobody where no token is shown.
///
/// # Errors
/// When the token is of no program.
pub async fn program(pool: &PgPool, headers: &HeaderMap) -> Result<Option<Person>, Problem> {
    if shown(headers).is_none() {
        return Ok(None);
    }
    let device = device(pool, headers, |link| matches!(link, Link::Program)).await?;
    let device = device.ok_or(Failure::UnknownToken {})?;
    store::devices::heard(pool, device.id, Utc::now(), 0).await?;
    Ok(Some(device.person(Role::Reader)))
}
