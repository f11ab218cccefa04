//! The cookie by which a browser is known as a terminal. It outlives sessions.

use axum_extra::extract::CookieJar;
use axum_extra::extract::cookie::{Cookie, SameSite};
use chrono::Utc;
use rand::Rng;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::app::App;
use crate::problem::Problem;

const COOKIE: &str = "nuvek_terminal";

/// A terminal that nobody signed in at for so long is forgotten by its browser.
const KEPT_DAYS: i64 = 400;

pub(crate) fn hash_of(jar: &CookieJar) -> Option<Vec<u8>> {
    jar.get(COOKIE).map(|cookie| Sha256::digest(cookie.value()).to_vec())
}

/// Lets a terminal trust who signed in by password; a browser that is none yet becomes one.
pub(crate) async fn trust(app: &App, jar: CookieJar, person: Uuid) -> Result<CookieJar, Problem> {
    let jar = if jar.get(COOKIE).is_some() {
        jar
    } else {
        let secret = format!("{:032x}{:032x}", rand::rng().random::<u128>(), rand::rng().random::<u128>());
        let cookie = Cookie::build((COOKIE, secret))
            .path("/api")
            .http_only(true)
            .same_site(SameSite::Strict)
            .max_age(time::Duration::days(KEPT_DAYS));
        jar.add(cookie)
    };
    if let Some(terminal) = hash_of(&jar) {
        store::terminals::trust(&app.pool, &terminal, person, Utc::now()).await?;
    }
    Ok(jar)
}
