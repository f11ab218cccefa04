//! Rule sets of one's own, and what rules would have done.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField};
use serde::{Deserialize, Serialize};
use spc::rules::{ListedRule, RuleSet};
use store::people::Person;
use store::replay::Replay;
use store::rule_sets::NamedRuleSet;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::json::{Body, Path, bounded};
use crate::problem::Problem;

/// Named rule sets, each in its newest version.
#[utoipa::path(get, path = "/api/plan/rule-sets", tag = "plan", responses((status = 200, body = [NamedRuleSet])))]
pub async fn rule_sets(State(app): State<App>) -> Result<Json<Vec<NamedRuleSet>>, Problem> {
    Ok(Json(store::rule_sets::list(&app.pool).await?))
}

/// A rule set to name.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewRuleSet {
    name: String,
    /// At least one.
    rules: Vec<ListedRule>,
}

/// Names a rule set.
#[utoipa::path(post, path = "/api/plan/rule-sets", tag = "plan", request_body = NewRuleSet, responses(
    (status = 201, body = Created),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn add_rule_set(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewRuleSet>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = store::rule_sets::add(&app.pool, &new.name, &new.rules, (person.id, Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// A version more of a named rule set.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewVersion {
    /// The version that was seen.
    version: i32,
    /// At least one.
    rules: Vec<ListedRule>,
}

/// The version that was made.
#[derive(Serialize, ToSchema)]
pub struct MadeVersion {
    version: i32,
}

/// Changes a named rule set; characteristics keep the version that they use until it is changed.
#[utoipa::path(post, path = "/api/plan/rule-sets/{id}/versions", tag = "plan", params(("id" = Uuid, Path)),
    request_body = NewVersion, responses(
    (status = 201, body = MadeVersion),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn change_rule_set(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewVersion>,
) -> Result<(StatusCode, Json<MadeVersion>), Problem> {
    let version = store::rule_sets::change(&app.pool, id, new.version, &new.rules, (person.id, Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(MadeVersion { version })))
}

/// Rules to replay.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ToReplay {
    /// The rules.
    rule_set: RuleSet,
    /// Multiplier of sigma that limits would be drawn with.
    k: f64,
    /// Since when.
    since: DateTime<Utc>,
}

/// What rules would have done over the history of a characteristic, at most its latest 100,000 points. Nothing is
/// changed.
#[utoipa::path(post, path = "/api/characteristics/{id}/replay", tag = "plan", params(("id" = Uuid, Path)),
    request_body = ToReplay, responses(
    (status = 200, body = Replay),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn replay(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(asked): Body<ToReplay>,
) -> Result<Json<Replay>, Problem> {
    if asked.rule_set.check("rule_set").is_err() {
        return Err(WrongField::new("rule_set", Allowed::RulesWithinBounds).into());
    }
    if !(asked.k > 0.0 && asked.k <= 1e6) {
        return Err(WrongField::new("k", Allowed::Positive { most: 1e6 }).into());
    }
    let rules = (&asked.rule_set, asked.k);
    Ok(Json(store::replay::over_history(&app.pool, id, rules, bounded(asked.since)).await?))
}
