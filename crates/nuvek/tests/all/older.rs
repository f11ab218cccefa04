//! A site that an older program filled and served is carried to the tables of today, and goes on there.

use std::io::{Cursor, Read};

use chrono::Utc;
use quality::entry::{Accepted, Tags};
use quality::episode::{Answer, Decision};
use quality::sample::Content;
use serde_json::Value;
use sqlx::{AssertSqlSafe, Connection, PgConnection, PgPool};
use store::answers::{By, answer, review};
use store::samples::{NewSample, Visit, save};
use tempfile::TempDir;
use uuid::Uuid;
use zip::ZipArchive;

use crate::common::site::{decided, episode};
use crate::common::{charts, empty, gone, nuvek, said, succeeded, url, without_tables};

/// As PostgreSQL's own `pg_dump` wrote it: two weeks of a site with a laboratory, answered and reviewed signals, some that
/// wait, one answer sent back, a sample withdrawn, one corrected and one set aside, a restart and a second phase.
const OF_SCHEMA_12: &[u8] = include_bytes!("../data/site-of-schema-12.zip");

/// What it was, whatever the tables are called by now.
const KEPT: [&str; 8] = [
    "select to_jsonb(array_agg(r order by id)) from (
         select id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings, components,
                inspected, count, defects, tags, pieces_made, skipped_because, withdrawn_at, withdrawn_because, version,
                gap, run_id, aside, restart, sums, doubts, event, distance from sample) r",
    "select to_jsonb(array_agg(r order by id)) from (
         select id, station_id, product_id, name, unit, decimals, kind, chart, subgroup_size, hard_lower, hard_upper, k, sampling,
                reaction_plan from characteristic) r",
    "select to_jsonb(array_agg(r order by id)) from (
         select id, phase_id, state, name, center, sigma, sigma_method, sigma_between, mean_n, lower, upper, baseline_points,
                basis, reason, put_in_force_at, put_in_force_by from limits) r",
    "select to_jsonb(array_agg(r order by id)) from (
         select id, characteristic_id, panel, rule, side, from_sample, at_sample, to_sample, raised_at, limits_id, center,
                sigma, k, trial, late, answered_by, withdrawn_at from signal) r",
    "select to_jsonb(array_agg(r order by id)) from (
         select id, person_id, at, cause_id, cause_text, nothing_found, action from answer) r",
    "select to_jsonb(array_agg(r order by id)) from (select id, person_id, at, decision, remark from review) r",
    "select to_jsonb(array_agg(r order by id)) from (select id, sample_id, person_id, at, text from note) r",
    "select to_jsonb(array_agg(r order by chain, position)) from (
         select chain, position, at, person_id, action, object, detail, hash from trail
         where action <> 'signal_gathered') r",
];

async fn kept(pool: &PgPool) -> Vec<Value> {
    let mut all = vec![];
    for question in KEPT {
        all.push(sqlx::query_scalar(question).fetch_one(pool).await.unwrap());
    }
    all
}

async fn count(pool: &PgPool, question: &'static str) -> i64 {
    sqlx::query_scalar(question).fetch_one(pool).await.unwrap()
}

/// Puts the site into the database of a test, with the tables that it had.
async fn as_it_was(pool: &PgPool) {
    without_tables(pool).await;
    let mut text = String::new();
    let mut archive = ZipArchive::new(Cursor::new(OF_SCHEMA_12)).unwrap();
    archive.by_index(0).unwrap().read_to_string(&mut text).unwrap();
    // On a connection of its own: it sets what others would not expect.
    let mut conn = PgConnection::connect(&url(pool)).await.unwrap();
    sqlx::raw_sql(AssertSqlSafe(text)).execute(&mut conn).await.unwrap();
    conn.close().await.unwrap();
}

#[sqlx::test(migrations = false)]
async fn a_site_from_before_there_were_episodes_goes_on_as_it_was(pool: PgPool) {
    as_it_was(&pool).await;
    let refused = nuvek(&pool, &["verify-trail"]);
    assert!(!refused.status.success() && said(&refused).contains("nuvek migrate"), "{}", said(&refused));
    let before = kept(&pool).await;
    assert!(before.iter().all(|rows| rows.as_array().is_some_and(|rows| !rows.is_empty())));
    let sent_back = "select count(*) from review where decision = 'sent_back'";
    assert_eq!(count(&pool, sent_back).await, 1);
    let open = count(&pool, "select count(*) from signal where state = 'open' and withdrawn_at is null").await;
    assert!(open >= 10, "{open} wait");

    succeeded(&pool, &["migrate"]);
    for (before, after) in before.iter().zip(&kept(&pool).await) {
        let differs = before.as_array().unwrap().iter().zip(after.as_array().unwrap()).find(|(was, is)| was != is);
        assert!(before == after, "{differs:?}");
    }
    assert!(succeeded(&pool, &["verify-trail"]).starts_with("The trail is whole"));

    // Who waited waits, gathered by what happened; what was sent back says so.
    assert_eq!(count(&pool, "select count(*) from signal where episode_id is null").await, 0);
    let waiting = "select count(*) from signal g join episode e on e.id = g.episode_id
                   where g.withdrawn_at is null and g.state in ('open', 'sent_back')
                     and e.state in ('open', 'sent_back') and not e.gone";
    assert_eq!(count(&pool, waiting).await, open);
    assert!(count(&pool, "select count(*) from signal where state = 'sent_back'").await >= 1);
    // What was counted is in the sums that are kept of it now.
    let counted = "select sum(count)::bigint from counted";
    assert_eq!(
        count(&pool, counted).await,
        count(&pool, "select sum(count) from sample where count is not null and not gap").await
    );

    // What the older program found, the rules of today find at the same points.
    let drawn = charts(&pool).await;
    let mut flagged = vec![];
    for chart in &drawn {
        let of: Uuid = serde_json::from_value(chart["characteristic"]["id"].clone()).unwrap();
        for panel in chart["panels"].as_array().unwrap() {
            let points = panel["flagged"].as_array().unwrap().iter();
            let numbers = points.map(|at| chart["points"]["number"][at.as_u64().unwrap() as usize].as_i64().unwrap());
            flagged.extend(numbers.map(|number| (of, number)));
        }
    }
    let found: Vec<(Uuid, i64)> = sqlx::query_as(
        "select g.characteristic_id, s.number from signal g join sample s on s.id = g.at_sample
         where g.withdrawn_at is null and s.run_id is null",
    )
    .fetch_all(&pool)
    .await
    .unwrap();
    assert!(found.len() > 20, "{found:?}");
    for point in found {
        assert!(flagged.contains(&point), "{point:?}");
    }
    goes_on(&pool).await;
    moves(&pool).await;
}

/// A sample is saved under the next number, raises a signal, is answered and reviewed.
async fn goes_on(pool: &PgPool) {
    let person = async |login: &str| -> Uuid {
        sqlx::query_scalar("select id from person where login = $1").bind(login).fetch_one(pool).await.unwrap()
    };
    let (technician, supervisor) = (person("tilda").await, person("sanna").await);
    let (characteristic, newest): (Uuid, i64) = sqlx::query_as(
        "select c.id, max(s.number) from characteristic c join sample s on s.characteristic_id = c.id
         where c.name = 'Viscosity' group by c.id",
    )
    .fetch_one(pool)
    .await
    .unwrap();
    let now = Utc::now();
    let content = Content::readings([120.0]);
    let new = NewSample {
        characteristic,
        device: Uuid::new_v4(),
        entry: Uuid::new_v4(),
        taken_at: now,
        arrived_at: now,
        person: technician,
        visit: Visit::Taken(Accepted { content, tags: Tags::default(), typed_first: vec![] }),
    };
    let saved = save(pool, &new).await.unwrap();
    assert_eq!(saved.number, newest + 1);
    let asks = saved.asking[0];
    let version = async || episode(pool, asks).await.version;
    let said = Answer { nothing_found: true, action: "Measured again.".into(), ..Answer::default() };
    answer(pool, asks, version().await, By::at(technician, now), said).await.unwrap();
    review(pool, asks, version().await, &decided(supervisor, now, Decision::Accepted, None)).await.unwrap();
    assert!(succeeded(pool, &["verify-trail"]).starts_with("The trail is whole"));
}

/// Its archive becomes the same site.
async fn moves(pool: &PgPool) {
    let folder = TempDir::new().unwrap();
    let file = folder.path().join("site.zip");
    let file = file.to_str().unwrap();
    let other = empty(pool).await;
    succeeded(pool, &["backup", file]);
    succeeded(&other, &["restore", file]);
    assert_eq!(charts(pool).await, charts(&other).await);
    gone(pool, other).await;
}
