//! Other programs that are told, as they are set up.

use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField, all_unlike, name, web_address};
use quality::notice::NoticeKind;
use quality::object::ObjectKind;
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sha2::{Digest, Sha256};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::act::Act;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// Areas of a webhook at most.
const AREAS_AT_MOST: usize = 200;

/// Another program that is told.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Webhook {
    /// 1 to 80 characters, each once.
    pub name: String,
    /// Where it is told, by `http` or `https`.
    pub url: String,
    /// Of what: at least one.
    pub kinds: Vec<NoticeKind>,
    /// In which areas; everywhere when there is none.
    pub areas: Vec<Uuid>,
    /// Is told.
    pub active: bool,
}

/// A webhook, and how it fares.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct WebhookView {
    pub id: Uuid,
    #[serde(flatten)]
    pub webhook: Webhook,
    /// Counts its changes.
    pub version: i32,
    /// Notices that were sent.
    pub sent: i64,
    /// When the last was.
    pub sent_at: Option<DateTime<Utc>>,
    /// Notices that wait to be sent again.
    pub waiting: i64,
    /// Notices that were given up.
    pub given_up: i64,
    /// Why the last try failed, of those that wait or were given up.
    pub failed: Option<String>,
}

/// All of them, by name.
#[compiled_once]
pub async fn webhooks(pool: &PgPool) -> Result<Vec<WebhookView>, StoreError> {
    let rows = sqlx::query!(
        r#"select w.id, w.name, w.url, w.kinds, w.areas, w.active, w.version, d.sent as "sent!", d.sent_at,
                  d.waiting as "waiting!", d.given_up as "given_up!",
                  (select f.failed from delivery f where f.webhook_id = w.id and f.sent_at is null
                   order by f.next_at desc nulls last limit 1) as failed
           from webhook w cross join lateral (
               select count(*) filter (where sent_at is not null) as sent, max(sent_at) as sent_at,
                      count(*) filter (where next_at is not null) as waiting,
                      count(*) filter (where sent_at is null and next_at is null) as given_up
               from delivery where webhook_id = w.id) d
           order by w.name"#
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    rows.map(|row| {
        let kinds = row.kinds.into_iter().map(word::value).collect::<Result<_, _>>()?;
        let webhook = Webhook { name: row.name, url: row.url, kinds, areas: row.areas, active: row.active };
        Ok(WebhookView {
            id: row.id,
            webhook,
            version: row.version,
            sent: row.sent,
            sent_at: row.sent_at,
            waiting: row.waiting,
            given_up: row.given_up,
            failed: row.failed,
        })
    })
    .collect()
}

impl Webhook {
    fn accept(mut self) -> Result<Self, WrongField> {
        self.name = name("name", &self.name)?;
        self.url = web_address("url", &self.url)?;
        self.kinds.sort();
        self.areas.sort();
        let kinds = Allowed::Entries { least: 1, most: NoticeKind::ALL.len() };
        let areas = Allowed::Entries { least: 0, most: AREAS_AT_MOST };
        if self.kinds.is_empty() || !all_unlike(&self.kinds) {
            return Err(WrongField::new("kinds", kinds));
        }
        if self.areas.len() > AREAS_AT_MOST || !all_unlike(&self.areas) {
            return Err(WrongField::new("areas", areas));
        }
        Ok(self)
    }

    fn words(&self) -> Result<Vec<String>, StoreError> {
        self.kinds.iter().map(word::word).collect()
    }

    /// What the trail is told; of the secret a digest alone.
    fn detail(&self, secret: &str) -> Result<Value, StoreError> {
        let mut detail = serde_json::to_value(self)?;
        detail["secret"] = json!(hex::encode(Sha256::digest(secret)));
        Ok(detail)
    }
}

fn taken(error: sqlx::Error) -> StoreError {
    StoreError::of_constraint(error, |name| (name == "webhook_named").then_some(SetUpRefusal::Taken("name").into()))
}

/// Sets one up, with the secret that signs what is sent.
///
/// # Errors
/// When it cannot be so, or its name is taken.
#[compiled_once]
pub async fn set_up_webhook(
    pool: &PgPool,
    given: Webhook,
    secret: &str,
    (by, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let new = given.accept()?;
    let mut act = Act::begin(pool).await?;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into webhook (id, name, url, secret, kinds, areas, active) values ($1, $2, $3, $4, $5, $6, $7)",
        id,
        new.name,
        new.url,
        secret,
        &new.words()?,
        &new.areas,
        new.active
    )
    .execute(act.conn())
    .await
    .map_err(taken)?;
    act.did_unseen(SITE_CHAIN, Deed::new(at, Some(by), Action::WebhookSetUp, id, &new.detail(secret)?));
    act.commit().await?;
    Ok(id)
}

/// Changes one; `version` is the one that was seen. What waits for one that is told no more waits until it is again, or
/// is given up.
///
/// # Errors
/// When it is missing, was changed since, cannot be so, or its name is taken.
#[compiled_once]
pub async fn change_webhook(
    pool: &PgPool,
    id: Uuid,
    version: i32,
    given: Webhook,
    (by, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let new = given.accept()?;
    let mut act = Act::begin(pool).await?;
    let old = sqlx::query!("select version, secret from webhook where id = $1 for update", id)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Webhook))?;
    same_version(ObjectKind::Webhook, version, old.version)?;
    sqlx::query!(
        "update webhook set name = $2, url = $3, kinds = $4, areas = $5, active = $6, version = version + 1
         where id = $1",
        id,
        new.name,
        new.url,
        &new.words()?,
        &new.areas,
        new.active
    )
    .execute(act.conn())
    .await
    .map_err(taken)?;
    act.did_unseen(SITE_CHAIN, Deed::new(at, Some(by), Action::WebhookChanged, id, &new.detail(&old.secret)?));
    act.commit().await
}
