//! Signing decisions.

use chrono::{DateTime, Utc};
use quality::episode::Decision;
use quality::field::{Allowed, WrongField};
use quality::object::ObjectKind;
use quality::signature::{Meaning, digest};
use quality::trail::{Action, Deed};
use quality::version::Changed;
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::seen::seen;
use crate::act::Act;
use crate::episodes::{EpisodeRow, rows};
use crate::news::News;
use crate::once::compiled_once;
use crate::people::Person;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// Decisions that are signed at once at most.
const AT_ONCE: usize = 500;

/// A decision that nobody has signed yet.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Unsigned {
    pub review: Uuid,
    pub decision: Decision,
    /// Reason or question.
    pub remark: Option<String>,
    pub at: DateTime<Utc>,
    /// What it was decided of, as it stands now.
    pub episode: EpisodeRow,
    /// Of all that is seen with it; whoever signs names it.
    pub digest: String,
}

/// Decisions of a person that are not signed, the oldest first; at most 500.
#[compiled_once]
pub async fn unsigned(pool: &PgPool, person: Uuid) -> Result<Vec<Unsigned>, StoreError> {
    let mut conn = pool.acquire().await?;
    let reviews = sqlx::query!(
        r#"select r.id, r.decision, r.remark, r.at, e.id as episode from review r
           cross join lateral (select g.episode_id as id from review_of o join signal g on g.id = o.signal_id
                               where o.review_id = r.id order by g.id limit 1) e
           where r.person_id = $1 and not exists (select from signed s where s.review_id = r.id)
           order by r.at, r.id limit $2"#,
        person,
        AT_ONCE as i64
    )
    .fetch_all(&mut *conn)
    .await?;
    let ids: Vec<Uuid> = reviews.iter().map(|review| review.id).collect();
    let seen = seen(&mut conn, &ids).await?;
    drop(conn);
    let episodes: Vec<Uuid> = reviews.iter().filter_map(|review| review.episode).collect();
    let episodes = rows(pool, &episodes).await?;
    let mut all = Vec::new();
    for review in reviews {
        let episode = episodes.iter().find(|row| Some(row.id) == review.episode);
        let (Some(episode), Some(seen)) = (episode, seen.get(&review.id)) else { continue };
        all.push(Unsigned {
            review: review.id,
            decision: word::value(review.decision)?,
            remark: review.remark,
            at: review.at,
            episode: episode.clone(),
            digest: digest(&seen.text()),
        });
    }
    Ok(all)
}

/// Signs decisions of a person, each with the digest of what they saw; gives the signature.
///
/// # Errors
/// When none or too many are named, one is not theirs or signed already, or what belongs to one has changed since.
#[compiled_once]
pub async fn sign(
    pool: &PgPool,
    person: &Person,
    at: DateTime<Utc>,
    reviews: &[(Uuid, String)],
) -> Result<Uuid, StoreError> {
    let once = reviews.iter().enumerate().all(|(i, (id, _))| reviews[..i].iter().all(|(other, _)| other != id));
    if reviews.is_empty() || reviews.len() > AT_ONCE || !once {
        return Err(WrongField::new("reviews", Allowed::Entries { least: 1, most: AT_ONCE }).into());
    }
    let ids: Vec<Uuid> = reviews.iter().map(|(id, _)| *id).collect();
    let mut act = Act::begin(pool).await?;
    theirs(act.conn(), person.id, &ids).await?;
    let now = seen(act.conn(), &ids).await?;
    let (id, meaning) = (Uuid::new_v4(), Meaning::Reviewed);
    sqlx::query!(
        "insert into signature (id, person_id, name, at, meaning) values ($1, $2, $3, $4, $5)",
        id,
        person.id,
        person.name,
        at,
        word::word(meaning)?
    )
    .execute(act.conn())
    .await?;
    let (mut contents, mut digests) = (Vec::new(), Vec::new());
    for (review, seen_digest) in reviews {
        let content = now.get(review).map(quality::signature::Seen::text).unwrap_or_default();
        if digest(&content) != *seen_digest {
            return Err(Changed(ObjectKind::Review).into());
        }
        digests.push(seen_digest.clone());
        contents.push(content);
    }
    sqlx::query!(
        "insert into signed (review_id, signature_id, content, digest)
         select review, $1, content, digest from unnest($2::uuid[], $3::text[], $4::text[]) u (review, content, digest)",
        id,
        &ids,
        &contents,
        &digests
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        // Signed meanwhile, at another screen.
        let signed = StoreError::from(Changed(ObjectKind::Review));
        StoreError::of_constraint(error, |name| (name == "signed_pkey").then_some(signed))
    })?;
    let covers: Vec<_> = reviews.iter().map(|(review, digest)| json!({"review": review, "digest": digest})).collect();
    let detail = json!({"meaning": meaning, "name": person.name, "at": at, "reviews": covers});
    act.did_unseen(SITE_CHAIN, Deed::new(at, Some(person.id), Action::ReviewsSigned, id, &detail));
    let told = sqlx::query!(
        r#"select distinct g.characteristic_id, g.episode_id as "episode!"
           from review_of o join signal g on g.id = o.signal_id where o.review_id = any($1)"#,
        &ids
    );
    for row in told.fetch_all(act.conn()).await? {
        act.tell(News::Episode { characteristic: row.characteristic_id, episode: row.episode });
    }
    act.commit().await?;
    Ok(id)
}

/// Nobody signs for another.
async fn theirs(conn: &mut PgConnection, person: Uuid, ids: &[Uuid]) -> Result<(), StoreError> {
    let theirs = sqlx::query_scalar!(
        r#"select count(*) as "theirs!" from review where id = any($1) and person_id = $2"#,
        ids,
        person
    );
    let theirs = theirs.fetch_one(conn).await?;
    if usize::try_from(theirs) == Ok(ids.len()) { Ok(()) } else { Err(StoreError::Missing(ObjectKind::Review)) }
}
