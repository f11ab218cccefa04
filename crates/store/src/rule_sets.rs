//! Rule sets of one's own: named, kept in versions, used by many characteristics.

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::field::{Allowed, WrongField, name};
use quality::object::ObjectKind;
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde::Serialize;
use serde_json::json;
use spc::rules::{ListedRule, RuleSet};
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// A named rule set in its newest version.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct NamedRuleSet {
    pub id: Uuid,
    pub name: String,
    /// Counts its versions; a change names the version it was made on.
    pub version: i32,
    pub rules: Vec<ListedRule>,
    pub at: DateTime<Utc>,
    /// Who made this version.
    pub person: String,
    /// Rules of the versions before, the first one first.
    pub earlier: Vec<Vec<ListedRule>>,
}

/// All named rule sets in the order of their names.
#[compiled_once]
pub async fn list(pool: &PgPool) -> Result<Vec<NamedRuleSet>, StoreError> {
    let rows = sqlx::query!(
        r#"select s.id, s.name, v.version, v.rules as "rules: Json<Vec<ListedRule>>", v.at, p.name as person,
                  (select jsonb_agg(e.rules order by e.version) from rule_set_version e
                   where e.rule_set_id = s.id and e.version < v.version) as "earlier: Json<Vec<Vec<ListedRule>>>"
           from rule_set s
           join lateral (select * from rule_set_version where rule_set_id = s.id order by version desc limit 1) v on true
           join person p on p.id = v.person_id
           order by s.name"#
    );
    let rows = rows.fetch_all(pool).await?.into_iter().map(|row| NamedRuleSet {
        id: row.id,
        name: row.name,
        version: row.version,
        rules: row.rules.0,
        at: row.at,
        person: row.person,
        earlier: row.earlier.map(|earlier| earlier.0).unwrap_or_default(),
    });
    Ok(rows.collect())
}

/// The rules of a named set, as they are now.
pub(crate) async fn latest(conn: &mut PgConnection, id: Uuid) -> Result<RuleSet, StoreError> {
    let rules = sqlx::query_scalar!(
        r#"select rules as "rules: Json<Vec<ListedRule>>" from rule_set_version
           where rule_set_id = $1 order by version desc limit 1"#,
        id
    )
    .fetch_optional(conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::RuleSet))?;
    Ok(RuleSet::List(rules.0))
}

fn checked(rules: &[ListedRule]) -> Result<(), StoreError> {
    let holds = !rules.is_empty() && RuleSet::List(rules.to_vec()).check("rules").is_ok();
    if holds { Ok(()) } else { Err(WrongField::new("rules", Allowed::RulesWithinBounds).into()) }
}

/// Names a rule set; gives its identity.
///
/// # Errors
/// When the name cannot be or is taken, or the rules cannot be.
#[compiled_once]
pub async fn add(
    pool: &PgPool,
    given: &str,
    rules: &[ListedRule],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let name = name("name", given)?;
    checked(rules)?;
    let id = Uuid::new_v4();
    let mut act = Act::begin(pool).await?;
    sqlx::query!("insert into rule_set (id, name) values ($1, $2)", id, name).execute(act.conn()).await.map_err(
        |error| {
            StoreError::of_constraint(error, |constraint| {
                (constraint == "rule_set_name_key").then_some(SetUpRefusal::Taken("name").into())
            })
        },
    )?;
    write_version(&mut act, (id, 1), rules, (person, at)).await?;
    let detail = json!({"name": name, "version": 1, "rules": rules});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::RuleSetNamed, id, &detail), News::Plan);
    act.commit().await?;
    Ok(id)
}

/// Changes a named rule set: it gets a version more. Characteristics keep the version that they use.
///
/// # Errors
/// When there is no such set, it has changed since `seen_version`, or the rules cannot be.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    rules: &[ListedRule],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<i32, StoreError> {
    checked(rules)?;
    let mut act = Act::begin(pool).await?;
    let name = sqlx::query_scalar!("select name from rule_set where id = $1 for update", id)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::RuleSet))?;
    let now =
        sqlx::query_scalar!(r#"select max(version) as "version!" from rule_set_version where rule_set_id = $1"#, id)
            .fetch_one(act.conn())
            .await?;
    same_version(ObjectKind::RuleSet, seen_version, now)?;
    write_version(&mut act, (id, now + 1), rules, (person, at)).await?;
    let detail = json!({"name": name, "version": now + 1, "rules": rules});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::RuleSetChanged, id, &detail), News::Plan);
    act.commit().await?;
    Ok(now + 1)
}

async fn write_version(
    act: &mut Act,
    (id, version): (Uuid, i32),
    rules: &[ListedRule],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into rule_set_version (rule_set_id, version, rules, at, person_id) values ($1, $2, $3, $4, $5)",
        id,
        version,
        serde_json::to_value(rules)?,
        at,
        person
    )
    .execute(act.conn())
    .await?;
    Ok(())
}

/// Whether the rules of a characteristic are those of the version that it names.
///
/// # Errors
/// When they are others.
pub(crate) async fn check_named(conn: &mut PgConnection, new: &Characteristic) -> Result<(), StoreError> {
    let Some(named) = new.named_rules else { return Ok(()) };
    let rules = sqlx::query_scalar!(
        r#"select rules as "rules: Json<Vec<ListedRule>>" from rule_set_version where rule_set_id = $1 and version = $2"#,
        named.set,
        named.version
    )
    .fetch_optional(conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::RuleSet))?;
    if new.rule_set == RuleSet::List(rules.0) {
        return Ok(());
    }
    Err(SetUpRefusal::Fields(vec![WrongField::new("rule_set", Allowed::RulesOfTheSet)]).into())
}
