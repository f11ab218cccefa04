//! Studies, cause trees, peer groups and recipes.

use serde_json::json;
use sqlx::PgConnection;

use super::compare::each;
use crate::StoreError;
use crate::trail::report::Report;
use crate::trail::work::{Work, version_of};

pub(super) async fn of_work(conn: &mut PgConnection, work: &Work, report: &mut Report) -> Result<(), StoreError> {
    studies(&mut *conn, work, report).await?;
    cause_trees(&mut *conn, work, report).await?;
    peers(&mut *conn, work, report).await?;
    recipes(conn, work, report).await
}

/// Studies with digests of their answers, made anew from what is kept, and who signed them.
async fn studies(conn: &mut PgConnection, work: &Work, report: &mut Report) -> Result<(), StoreError> {
    let studies = sqlx::query!(
        r#"select id, sort, name, remark, question, encode(sha256(convert_to(answer, 'UTF8')), 'hex') as "digest!", frozen_of
           from study"#
    );
    let studies = studies.fetch_all(&mut *conn).await?.into_iter().map(|row| {
        let holds = json!({"sort": row.sort, "name": row.name, "remark": row.remark, "question": row.question,
                           "answer": row.digest, "frozen_of": row.frozen_of});
        (row.id, holds)
    });
    each(report, "study", &work.studies, studies);
    let signatures = sqlx::query!("select id, study_id, person_id, name, at, digest from study_signature");
    let signatures = signatures.fetch_all(conn).await?.into_iter().map(|row| {
        let holds = json!({"study": row.study_id, "person": row.person_id, "name": row.name, "at": row.at,
                           "digest": row.digest});
        (row.id, holds)
    });
    each(report, "study_signature", &work.study_signatures, signatures);
    Ok(())
}

/// Cause trees with their ideas, those that were taken out among them.
async fn cause_trees(conn: &mut PgConnection, work: &Work, report: &mut Report) -> Result<(), StoreError> {
    let trees = sqlx::query!("select id, name, facts, origin, copy_of from cause_tree");
    let trees = trees.fetch_all(&mut *conn).await?.into_iter().map(|row| {
        let holds = json!({"name": row.name, "facts": row.facts, "origin": row.origin, "copy_of": row.copy_of});
        (row.id, holds)
    });
    each(report, "cause_tree", &work.cause_trees, trees);
    let ideas = sqlx::query!(
        "select id, tree_id, parent_id, place, text, cause_group, state, owner_id, due, evidence, actions, cause_id, removed
         from idea"
    );
    let ideas = ideas.fetch_all(conn).await?.into_iter().map(|row| {
        let holds = json!({"id": row.id, "tree": row.tree_id, "parent": row.parent_id, "place": row.place,
                           "text": row.text, "group": row.cause_group, "state": row.state, "owner": row.owner_id,
                           "due": row.due, "evidence": row.evidence, "actions": row.actions, "cause": row.cause_id,
                           "removed": row.removed});
        (row.id, holds)
    });
    each(report, "idea", &work.ideas, ideas);
    Ok(())
}

/// Groups with digests of their tokens, results as they stand, statistics.
async fn peers(conn: &mut PgConnection, work: &Work, report: &mut Report) -> Result<(), StoreError> {
    let groups = sqlx::query!(
        r#"select id, name, laboratory, url, since, active,
                  encode(sha256(convert_to(token, 'UTF8')), 'hex') as token,
                  coalesce((select jsonb_agg(jsonb_build_object('characteristic', characteristic_id, 'code', code)
                            order by characteristic_id, code) from peer_level where group_id = g.id), '[]') as "levels!"
           from peer_group g"#
    );
    let groups = groups.fetch_all(&mut *conn).await?.into_iter().map(|row| {
        let holds = json!({"name": row.name, "laboratory": row.laboratory, "url": row.url, "since": row.since,
                           "active": row.active, "token": row.token, "levels": row.levels});
        (row.id, holds)
    });
    each(report, "peer_group", &work.peer_groups, groups);
    let results = sqlx::query!(
        "select id, group_id, sample_id, value, unit, taken_at, reagent_lot, control_lot, withdrawn_by, withdrawn_because
         from peer_result"
    );
    let results = results.fetch_all(&mut *conn).await?.into_iter().map(|row| {
        let holds = json!({"id": row.id, "group": row.group_id, "sample": row.sample_id, "value": row.value,
                           "unit": row.unit, "taken_at": row.taken_at, "reagent_lot": row.reagent_lot,
                           "control_lot": row.control_lot, "withdrawn_by": row.withdrawn_by,
                           "withdrawn_because": row.withdrawn_because});
        (row.id, holds)
    });
    each(report, "peer_result", &work.peer_results, results);
    let statistics = sqlx::query!(
        "select id, group_id, characteristic_id, month, control_lot, reagent_lot, laboratories, n, mean, sd
         from peer_statistic"
    );
    let statistics = statistics.fetch_all(conn).await?.into_iter().map(|row| {
        let holds = json!({"id": row.id, "group": row.group_id, "characteristic": row.characteristic_id,
                           "month": row.month, "control_lot": row.control_lot, "reagent_lot": row.reagent_lot,
                           "laboratories": row.laboratories, "n": row.n, "mean": row.mean, "sd": row.sd});
        (row.id, holds)
    });
    each(report, "peer_statistic", &work.peer_statistics, statistics);
    Ok(())
}

/// Recipes for tables, with every version that they had.
async fn recipes(conn: &mut PgConnection, work: &Work, report: &mut Report) -> Result<(), StoreError> {
    let recipes = sqlx::query!("select id, name, body, key, version from recipe").fetch_all(&mut *conn).await?;
    let recipes = recipes
        .into_iter()
        .map(|row| (row.id, json!({"name": row.name, "recipe": row.body, "key": row.key, "version": row.version})));
    each(report, "recipe", &work.recipes, recipes);
    let versions =
        sqlx::query!("select recipe_id, version, body, key, person_id from recipe_version").fetch_all(conn).await?;
    let versions = versions.into_iter().map(|row| {
        let holds = json!({"recipe": row.body, "key": row.key, "person": row.person_id});
        (version_of(row.recipe_id, i64::from(row.version)), holds)
    });
    each(report, "recipe_version", &work.recipe_versions, versions);
    Ok(())
}
