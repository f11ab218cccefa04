//! What the supervisor signed: each day's decisions in the evening; those of the last day are still to be signed.

use anyhow::{Result, anyhow};
use chrono::{DateTime, Duration, Utc};
use sqlx::PgPool;
use store::signatures::{Unsigned, sign, unsigned};
use uuid::Uuid;

pub async fn write(pool: &PgPool, supervisor: Uuid, now: DateTime<Utc>) -> Result<()> {
    let person = store::people::find(pool, supervisor).await?.ok_or_else(|| anyhow!("no supervisor"))?;
    let until = now - Duration::days(1);
    loop {
        let mut decisions = unsigned(pool, supervisor).await?;
        decisions.retain(|decision| decision.at < until);
        if decisions.is_empty() {
            return Ok(());
        }
        for of_day in decisions.chunk_by(|a, b| a.at.date_naive() == b.at.date_naive()) {
            sign_all(pool, &person, of_day, now).await?;
        }
    }
}

async fn sign_all(
    pool: &PgPool,
    person: &store::people::Person,
    of_day: &[Unsigned],
    now: DateTime<Utc>,
) -> Result<()> {
    let Some(last) = of_day.last() else { return Ok(()) };
    let seen: Vec<_> = of_day.iter().map(|decision| (decision.review, decision.digest.clone())).collect();
    let at = (last.at + Duration::minutes(20)).min(now);
    sign(pool, person, at, &seen).await?;
    Ok(())
}
