//! Trees listed and opened.

use chrono::{DateTime, NaiveDate, Utc};
use quality::cause_tree::{Facts, Idea, Origin};
use quality::object::ObjectKind;
use serde::Serialize;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::{StoreError, word};

/// A tree, as it is listed.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct CauseTreeRow {
    pub id: Uuid,
    pub name: String,
    /// What is wrong.
    pub what: String,
    /// Where it is seen: characteristic and product.
    pub about: Option<String>,
    pub made_at: DateTime<Utc>,
    pub made_by: String,
    /// Ideas in all, those that somebody is to check, those found true.
    pub ideas: i64,
    pub to_check: i64,
    pub found_true: i64,
    /// Checks and looks at actions whose day has passed.
    pub overdue: i64,
}

/// An idea with what is known of it.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct IdeaView {
    #[serde(flatten)]
    pub idea: Idea,
    pub version: i32,
    /// Who changed it last, and when.
    pub changed_by: String,
    pub changed_at: DateTime<Utc>,
    /// The entry of the catalogue that was made of it.
    pub cause: Option<Uuid>,
}

/// A tree with all its ideas.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct CauseTreeView {
    pub id: Uuid,
    pub name: String,
    pub facts: Facts,
    pub origin: Option<Origin>,
    /// Where it is seen: characteristic and product.
    pub about: Option<String>,
    pub copy_of: Option<Uuid>,
    pub version: i32,
    pub made_at: DateTime<Utc>,
    pub made_by: String,
    pub ideas: Vec<IdeaView>,
}

/// Trees listed at once at most.
const LISTED: i64 = 500;

/// The latest trees, at most 500; within stations those about their characteristics alone. `today` is that of the site.
#[compiled_once]
pub async fn list(pool: &PgPool, within: Option<&[Uuid]>, today: NaiveDate) -> Result<Vec<CauseTreeRow>, StoreError> {
    let rows = sqlx::query_as!(
        CauseTreeRow,
        r#"select t.id, t.name, t.facts->>'what' as "what!", c.name || ', ' || d.name as about, t.made_at,
                  p.name as made_by, i.ideas as "ideas!", i.to_check as "to_check!", i.found_true as "found_true!",
                  i.overdue as "overdue!"
           from cause_tree t join person p on p.id = t.made_by
           left join characteristic c on c.id = t.characteristic_id left join product d on d.id = c.product_id
           cross join lateral (
               select count(*) filter (where parent_id is not null) as ideas,
                      count(*) filter (where state = 'to_check') as to_check,
                      count(*) filter (where state = 'found_true') as found_true,
                      count(*) filter (where (state in ('idea', 'to_check') and due < $2)
                          or exists (select from jsonb_array_elements(actions) a
                                     where (a->>'check_on')::date < $2 and a->>'outcome' is null)) as overdue
               from idea where tree_id = t.id and not removed) i
           where $1::uuid[] is null or c.station_id = any($1)
           order by t.made_at desc, t.id desc limit $3"#,
        within,
        today,
        LISTED
    );
    Ok(rows.fetch_all(pool).await?)
}

/// A tree.
///
/// # Errors
/// When there is none such.
#[compiled_once]
pub async fn find(pool: &PgPool, id: Uuid) -> Result<CauseTreeView, StoreError> {
    let mut conn = pool.acquire().await?;
    let row = sqlx::query!(
        r#"select t.name, t.facts as "facts: Json<Facts>", t.origin as "origin: Json<Origin>", t.copy_of, t.version,
                  t.made_at, p.name as made_by, c.name || ', ' || d.name as about
           from cause_tree t join person p on p.id = t.made_by
           left join characteristic c on c.id = t.characteristic_id left join product d on d.id = c.product_id
           where t.id = $1"#,
        id
    )
    .fetch_optional(&mut *conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::CauseTree))?;
    let ideas = ideas_of(&mut conn, id).await?;
    Ok(CauseTreeView {
        id,
        name: row.name,
        facts: row.facts.0,
        origin: row.origin.map(|origin| origin.0),
        about: row.about,
        copy_of: row.copy_of,
        version: row.version,
        made_at: row.made_at,
        made_by: row.made_by,
        ideas,
    })
}

/// Ideas of a tree by their places.
pub(super) async fn ideas_of(conn: &mut PgConnection, tree: Uuid) -> Result<Vec<IdeaView>, StoreError> {
    let rows = sqlx::query!(
        r#"select i.id, parent_id, place, text, cause_group, state, owner_id, due, evidence, actions, cause_id, i.version,
                  changed_at, p.name as changed_by
           from idea i join person p on p.id = i.changed_by
           where tree_id = $1 and not removed order by place, i.id"#,
        tree
    );
    let rows = rows.fetch_all(conn).await?.into_iter();
    rows.map(|row| {
        let idea = Idea {
            id: row.id,
            parent: row.parent_id,
            place: row.place,
            text: row.text,
            group: row.cause_group.map(word::value).transpose()?,
            state: word::value(row.state)?,
            owner: row.owner_id,
            due: row.due,
            evidence: serde_json::from_value(row.evidence)?,
            actions: serde_json::from_value(row.actions)?,
        };
        let (version, changed_by, changed_at, cause) = (row.version, row.changed_by, row.changed_at, row.cause_id);
        Ok(IdeaView { idea, version, changed_by, changed_at, cause })
    })
    .collect()
}
