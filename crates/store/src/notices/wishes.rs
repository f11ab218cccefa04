//! Which notices somebody wishes to be sent by mail.

use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField};
use quality::notice::{NoticeKind, email};
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::act::Act;
use crate::once::compiled_once;
use crate::people::Person;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// What somebody wishes to be sent, and where.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wishes {
    /// The mailbox; nothing is sent without one.
    pub email: Option<String>,
    /// Of which kinds.
    pub kinds: Vec<NoticeKind>,
}

/// The wishes of a person.
#[compiled_once]
pub async fn wishes(pool: &PgPool, person: Uuid) -> Result<Wishes, StoreError> {
    let row = sqlx::query!("select email, mails from person where id = $1", person).fetch_one(pool).await?;
    let kinds = row.mails.into_iter().map(word::value).collect::<Result<_, _>>()?;
    Ok(Wishes { email: row.email, kinds })
}

/// Keeps what a person wishes from now on.
///
/// # Errors
/// When the address is none, or a kind does not concern their role or is named twice.
#[compiled_once]
pub async fn choose(pool: &PgPool, person: &Person, given: Wishes, at: DateTime<Utc>) -> Result<(), StoreError> {
    let email = given.email.filter(|given| !given.trim().is_empty()).map(|given| email("email", &given)).transpose()?;
    let mut kinds = given.kinds;
    kinds.sort();
    let twice = kinds.windows(2).any(|pair| pair[0] == pair[1]);
    if twice || kinds.iter().any(|kind| !kind.concerns(person.role)) {
        let most = NoticeKind::ALL.into_iter().filter(|kind| kind.concerns(person.role)).count();
        return Err(WrongField::new("kinds", Allowed::Entries { least: 0, most }).into());
    }
    let mails = kinds.iter().map(word::word).collect::<Result<Vec<_>, _>>()?;
    let mut act = Act::begin(pool).await?;
    sqlx::query!("update person set email = $2, mails = $3 where id = $1", person.id, email, &mails)
        .execute(act.conn())
        .await?;
    let deed =
        Deed::new(at, Some(person.id), Action::NoticesChosen, person.id, &json!({"email": email, "mails": mails}));
    act.did_unseen(SITE_CHAIN, deed);
    act.commit().await
}
