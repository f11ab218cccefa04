//! Signing a frozen copy.

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::signature::digest;
use quality::study::{StudyRefusal, may_sign};
use quality::trail::{Action, Deed};
use quality::version::Changed;
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use super::list::stage;
use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::people::Person;
use crate::trail::SITE_CHAIN;

/// Signs a frozen study, exactly the answer that was seen.
///
/// # Errors
/// When it is missing, not frozen, signed by them already, or another answer was seen.
#[compiled_once]
pub async fn sign(pool: &PgPool, id: Uuid, seen: &str, person: &Person, at: DateTime<Utc>) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    let row = sqlx::query!(
        r#"select answer, frozen_of,
                  exists (select from study_signature where study_id = s.id and person_id = $2) as "signed!"
           from study s where id = $1 for update"#,
        id,
        person.id
    )
    .fetch_optional(act.conn())
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Study))?;
    may_sign(stage(row.frozen_of), row.signed)?;
    let digest = digest(&row.answer);
    if digest != seen {
        return Err(Changed(ObjectKind::Study).into());
    }
    let signature = Uuid::new_v4();
    sqlx::query!(
        "insert into study_signature (id, study_id, person_id, name, at, digest) values ($1, $2, $3, $4, $5, $6)",
        signature,
        id,
        person.id,
        person.name,
        at,
        digest
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        let twice = |name: &str| (name == "study_signature_once").then_some(StudyRefusal::SignedBefore.into());
        StoreError::of_constraint(error, twice)
    })?;
    let told = json!({"study": id, "name": person.name, "digest": digest});
    let deed = Deed::new(at, Some(person.id), Action::StudySigned, signature, &told);
    act.did(SITE_CHAIN, deed, News::Study { study: id });
    act.commit().await
}
