//! Sends what is due.

use std::time::Duration;

use chrono::Utc;
use futures::StreamExt;
use store::notices::{Due, To, due, failed, sent};
use store::{PgPool, StoreError};
use tokio::time::{sleep, timeout};
use tokio_util::sync::CancellationToken;

use super::mail::Mail;
use super::{webhook, words};
use crate::networks::Networks;
use crate::once::compiled_once;

/// How often it is looked whether something is to be sent.
const LOOKS_EVERY: Duration = Duration::from_secs(1);

/// What is claimed and sent at once.
const AT_ONCE: usize = 8;

/// The other side takes it within this time, or it is tried again.
const SENT_WITHIN: Duration = Duration::from_secs(20);

/// How notices go out.
#[derive(Clone)]
pub struct Post {
    /// The mail server; without one no mail is sent.
    pub mail: Option<Mail>,
    /// Where webhooks may be.
    pub networks: Networks,
    /// The address of this installation, for links.
    pub url: Option<String>,
}

/// Sends what is due until `shutdown`. Several instances on one database share the work.
#[compiled_once]
pub async fn run(pool: PgPool, post: Post, shutdown: CancellationToken) {
    let work = async {
        loop {
            if let Err(error) = post.send_all(&pool).await {
                tracing::warn!(%error, "notices were not sent; trying again");
            }
            sleep(LOOKS_EVERY).await;
        }
    };
    shutdown.run_until_cancelled(work).await;
}

impl Post {
    /// Everything that is due now.
    async fn send_all(&self, pool: &PgPool) -> Result<(), StoreError> {
        loop {
            let claimed = due(pool, Utc::now(), AT_ONCE as i64).await?;
            if claimed.is_empty() {
                return Ok(());
            }
            let each = futures::stream::iter(claimed).map(|due| async move { self.send_one(pool, &due).await });
            let each = each.buffer_unordered(AT_ONCE);
            let done: Vec<Result<(), StoreError>> = each.collect().await;
            done.into_iter().collect::<Result<(), _>>()?;
        }
    }

    async fn send_one(&self, pool: &PgPool, due: &Due) -> Result<(), StoreError> {
        let outcome =
            timeout(SENT_WITHIN, self.hand_over(due)).await.unwrap_or_else(|_| Err("no answer in time".into()));
        match outcome {
            Ok(()) => sent(pool, due.id, Utc::now()).await,
            Err(why) => failed(pool, due, &why, Utc::now()).await,
        }
    }

    /// Gives it to the other side; why it was not taken otherwise, in short.
    async fn hand_over(&self, due: &Due) -> Result<(), String> {
        let link = self.url.as_deref().and_then(|url| words::link(url, &due.letter));
        match &due.to {
            To::Mail { name, email } => {
                let mail = self.mail.as_ref().ok_or("no mail server is set up")?;
                let (subject, text) = words::mail(&due.letter, link.as_deref());
                mail.send((name, email), due.id, subject, text).await
            }
            To::Webhook { url, secret } => {
                let body = words::body(&due.letter, link.as_deref());
                webhook::send(&self.networks, url, secret, due.id, body).await
            }
        }
    }
}
