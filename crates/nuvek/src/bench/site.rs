//! People and characteristics of a site that is there for a bench.

use anyhow::{Context, Result, ensure};
use chrono::{DateTime, Utc};
use quality::account::Account;
use quality::limits::NewLimits;
use quality::role::Role;
use reqwest::Client;
use serde_json::json;
use sqlx::PgPool;
use store::limits::LimitsChange;
use store::people::NewPerson;
use uuid::Uuid;

const PASSWORD: &str = "load and nothing else";

/// Adds people who sign in with the same password, which takes a while to digest.
pub async fn people(pool: &PgPool, people: &[(String, Role)]) -> Result<Vec<Uuid>> {
    let hash = server::hash_password(PASSWORD).map_err(|error| anyhow::anyhow!(error))?;
    let mut added = vec![];
    for (login, role) in people {
        let account = Account::everywhere(login, *role);
        let new = NewPerson { login, account, password_hash: &hash, password_is_first: false };
        added.push(store::people::add(pool, new, None, Utc::now()).await?);
    }
    Ok(added)
}

/// Signs in; gives the cookie.
pub async fn sign_in(client: &Client, url: &str, login: &str) -> Result<String> {
    let body = json!({"login": login, "password": PASSWORD});
    let response = client.post(format!("{url}/api/session")).json(&body).send().await?;
    ensure!(response.status().is_success(), "{login} cannot sign in: {}", response.status());
    let cookies = response.headers().get_all("set-cookie").iter().filter_map(|cookie| cookie.to_str().ok());
    let session = cookies.filter_map(|cookie| cookie.split(';').next()).find(|c| c.starts_with("nuvek_session"));
    Ok(session.context("no session")?.to_owned())
}

/// Puts limits in force that come from the samples of its phase, whatever so few look like.
pub async fn put_in_force(pool: &PgPool, id: Uuid, by: (Uuid, DateTime<Utc>)) -> Result<()> {
    let mut conn = pool.acquire().await?;
    let phase = store::phases::phases(&mut conn, id).await?.first().context("a phase")?.id;
    let seen = store::limits::version(&mut conn, id).await?;
    drop(conn);
    let limits = NewLimits { reason: Some("For a bench.".into()), ..NewLimits::of_phase("First limits") };
    store::limits::change(pool, id, seen, &LimitsChange::PutInForce { phase, limits: Box::new(limits) }, by).await?;
    Ok(())
}
