//! What the database itself refuses, and a trail that shows when it was touched.

use quality::episode::{Answer, Decision};
use quality::role::Role;
use quality::sample::Content;
use quality::trail::Action;
use rstest::rstest;
use sqlx::postgres::PgPoolOptions;
use sqlx::{AssertSqlSafe, PgPool};
use store::notes::NewNote;
use store::roles::DatabaseRole;
use store::trail::{Finding, Seal, TrailFilter, verify};
use uuid::Uuid;

use crate::common::{self, Site, accepted, decided, person, save_wall, site};

#[sqlx::test]
async fn everything_that_is_done_stands_in_the_trail(pool: PgPool) {
    let site = site(&pool, "").await;
    let saved = save_wall(&pool, &site, 0, 5.9).await;
    // Sent twice it is one note.
    for _ in 0..2 {
        let entry = Uuid::from_u128(3);
        let note = NewNote::new(entry, " dropped ");
        store::notes::write(&pool, saved.sample, (site.technician, site.since), note).await.unwrap();
    }
    let entries = common::trail_of(&pool, site.wall, 10).await;
    let deeds: Vec<String> = entries.iter().rev().map(|e| format!("{:?} {}", e.action, e.detail["text"])).collect();
    let set_up = ["CharacteristicSetUp null", "PhaseStarted null", "LimitsPutInForce null"];
    assert_eq!(deeds[..3], set_up);
    assert_eq!(deeds[3..], ["SampleSaved null", "SignalRaised null", "SignalGathered null", "NoteWritten \"dropped\""]);
    assert_eq!(entries[3].detail["readings"][1], 5.9);
}

#[rstest]
#[case::changed("update trail set detail = '{}' where position = 2")]
#[case::removed("delete from trail where position = 2")]
#[case::emptied("truncate trail")]
#[sqlx::test]
async fn the_trail_is_append_only(#[ignore] pool: PgPool, #[case] attack: &'static str) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.9).await;
    let refused = sqlx::query(attack).execute(&pool).await.unwrap_err().to_string();
    assert!(refused.contains("append-only"), "{refused}");
}

/// A sample beyond the limit that was answered and reviewed, one that was corrected, and one more.
async fn told(pool: &PgPool) -> Site {
    store::migrate(pool).await.unwrap();
    let site = site(pool, "").await;
    let beyond = save_wall(pool, &site, 0, 5.9).await;
    let answer = Answer {
        cause: None,
        cause_text: None,
        nothing_found: true,
        action: "Measured again.".into(),
        ..Answer::default()
    };
    store::answers::answer(pool, beyond.asking[0], 1, store::answers::By::at(site.technician, site.since), answer)
        .await
        .unwrap();
    let overruled = Decision::Overruled;
    let remark = Some("wrong gauge");
    store::answers::review(pool, beyond.asking[0], 2, &decided(site.supervisor, site.since, overruled, remark))
        .await
        .unwrap();
    let slip = save_wall(pool, &site, 1, 5.0).await;
    let engineer = person(site.engineer, Role::Engineer);
    let content = &accepted(Content::readings([5.0, 5.1, 5.0]));
    store::samples::correct(pool, slip.sample, 1, &engineer, site.since, content, "slip").await.unwrap();
    store::samples::withdraw(pool, slip.sample, 2, &engineer, site.since, "wrong part").await.unwrap();
    save_wall(pool, &site, 2, 5.0).await;
    site
}

async fn touch(pool: &PgPool, attack: &'static str) {
    sqlx::raw_sql("alter table trail disable trigger user").execute(pool).await.unwrap();
    sqlx::raw_sql(attack).execute(pool).await.unwrap();
}

#[rstest]
#[case::changed(
    "update trail set detail = replace(detail, '5.9', '5.1') where position = 4 and action = 'sample_saved'",
    4
)]
#[case::removed("delete from trail where position = 5 and action = 'signal_raised'", 5)]
#[case::cut_off(
    "delete from trail where position > 4 and chain = (select id from characteristic where name = 'Wall thickness')",
    5
)]
#[case::moved(
    "update trail set at = at + interval '1 microsecond' where position = 7 and action = 'episode_answered'",
    7
)]
#[case::head_deleted(
    "delete from trail_head where chain = (select id from characteristic where name = 'Wall thickness')",
    13
)]
#[case::head_deleted_and_an_entry_changed(
    "delete from trail_head where chain = (select id from characteristic where name = 'Wall thickness');
     update trail set detail = replace(detail, '5.9', '5.1') where position = 4 and action = 'sample_saved'",
    4
)]
#[sqlx::test]
async fn who_gets_around_the_lock_is_seen(#[ignore] pool: PgPool, #[case] attack: &'static str, #[case] at: i64) {
    let site = told(&pool).await;
    let report = verify(&pool, None).await.unwrap();
    assert!(report.is_whole() && report.chains == 4 && report.rows >= 12, "{report:?}");
    touch(&pool, attack).await;
    let report = verify(&pool, None).await.unwrap();
    assert!(report.findings.contains(&Finding::Broken { chain: site.wall, position: at }), "{report:?}");
}

#[sqlx::test]
async fn a_chain_that_is_gone_with_its_end_is_missed(pool: PgPool) {
    let site = told(&pool).await;
    touch(
        &pool,
        "delete from trail where action <> 'chain_begun' and chain <> '00000000-0000-0000-0000-000000000000';
                  delete from trail_head where chain <> '00000000-0000-0000-0000-000000000000'",
    )
    .await;
    let report = verify(&pool, None).await.unwrap();
    assert!(report.findings.contains(&Finding::Broken { chain: site.wall, position: 1 }), "{report:?}");
    // And with what it told of.
    sqlx::raw_sql("truncate characteristic cascade").execute(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    assert!(report.findings.contains(&Finding::Chain { chain: site.wall, listed: true }), "{report:?}");
}

#[rstest]
#[case::tail_cut_and_head_set_back(
    "delete from trail where position > 4 and action like 'sample_%' or position > 4 and (action like 'signal_%' or action like 'episode_%');
     update trail_head h set position = 4, hash = (select hash from trail t where t.chain = h.chain and position = 4)
     where chain = (select id from characteristic where name = 'Wall thickness')"
)]
#[case::all_gone(
    "delete from trail where chain = (select id from characteristic where name = 'Wall thickness');
     delete from trail_head where chain = (select id from characteristic where name = 'Wall thickness')"
)]
#[sqlx::test]
async fn what_was_sealed_must_go_on(#[ignore] pool: PgPool, #[case] attack: &'static str) {
    let site = told(&pool).await;
    let seal = store::trail::seal(&pool, site.since).await.unwrap();
    let kept = serde_json::to_string(&seal).unwrap();
    let seal: Seal = serde_json::from_str(&kept).unwrap();
    save_wall(&pool, &site, 3, 5.0).await;
    assert!(verify(&pool, Some(&seal)).await.unwrap().is_whole(), "the chain has gone on");
    touch(&pool, attack).await;
    let report = verify(&pool, Some(&seal)).await.unwrap();
    assert!(report.findings.contains(&Finding::NotAsSealed { chain: site.wall, position: 12 }), "{report:?}");
}

/// Each is a change of a row behind the trail's back.
#[rstest]
#[case::readings("update sample set readings = '{5.1,5.1,5.1}' where number = 1", "sample", "readings")]
#[case::doubts("update sample set doubts = '[{\"piece\": 1, \"first\": \"9\"}]' where number = 1", "sample", "doubts")]
#[case::time("update sample set taken_at = taken_at - interval '1 day' where number = 3", "sample", "taken_at")]
#[case::who(
    "alter table sample disable trigger sample_stays;
     update sample set person_id = (select id from person where login = 'tom') where number = 3",
    "sample",
    "person"
)]
#[case::withdrawn_taken_back(
    "update sample set withdrawn_at = null, withdrawn_by = null, withdrawn_because = null where number = 2",
    "sample",
    "withdrawn"
)]
#[case::sample_deleted("delete from sample where number = 3", "sample", "row")]
#[case::correction("update correction set reason = 'none'", "correction", "reason")]
#[case::correction_deleted("delete from correction", "correction", "row")]
#[case::sigma("update limits set sigma = 2 * sigma where sigma is not null", "limits", "sigma")]
#[case::sigma_of_a_signal("update signal set sigma = 2 * sigma", "signal", "sigma")]
#[case::state("update signal set state = 'open'", "signal", "state")]
#[case::answer("update answer set action = 'Nothing done.'", "answer", "action")]
#[case::review("update review set decision = 'accepted'", "review", "decision")]
#[case::review_deleted("delete from review_of; delete from review", "review", "row")]
#[case::answer_of_another("delete from review_of; delete from answer_of", "answer", "row")]
#[case::episode_of_a_signal(
    "insert into episode select gen_random_uuid(), characteristic_id, aspect, side, from_taken_at, from_number, to_taken_at,
         to_number, raised_at, state, trial, gone, version, follows, joined from episode;
     update signal set episode_id = (select id from episode where id <> episode_id limit 1)",
    "signal",
    "episode"
)]
#[case::state_of_an_episode("update episode set state = 'open'", "episode", "state")]
#[case::end_of_an_episode("update episode set to_number = 3", "episode", "to")]
#[case::role("update person set role = 'supervisor' where login = 'tom'", "person", "role")]
#[case::person_added(
    "insert into person (id, login, name, role, password_hash) values (gen_random_uuid(), 'x', 'x', 'engineer', '')",
    "person",
    "row"
)]
#[sqlx::test]
async fn a_row_that_is_not_as_the_trail_tells_it_is_named(
    #[ignore] pool: PgPool,
    #[case] attack: &'static str,
    #[case] table: &str,
    #[case] field: &str,
) {
    told(&pool).await;
    sqlx::raw_sql(attack).execute(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    let named = |finding: &Finding| matches!(finding, Finding::Row(d) if d.table == table && d.field == field);
    assert!(report.findings.iter().any(named), "{report:?}");
}

/// What was there before the trail told of it is written down once, and not again.
#[sqlx::test]
async fn an_older_database_is_written_down_once(pool: PgPool) {
    let site = site(&pool, "").await;
    sqlx::raw_sql(
        "alter table trail disable trigger user; delete from trail; delete from trail_head;
         insert into trail_head (chain, position, hash) values ('00000000-0000-0000-0000-000000000000', 0, '')",
    )
    .execute(&pool)
    .await
    .unwrap();
    store::migrate(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    assert!(report.is_whole() && report.entries == 1, "{report:?}");
    sqlx::query("update person set role = 'engineer' where id = $1")
        .bind(site.technician)
        .execute(&pool)
        .await
        .unwrap();
    store::migrate(&pool).await.unwrap();
    assert!(!verify(&pool, None).await.unwrap().is_whole(), "a later start hides nothing");
}

/// The role that serves does its work and cannot touch what stands in the trail.
#[sqlx::test]
async fn who_serves_can_only_append_to_the_trail(pool: PgPool) {
    let site = told(&pool).await;
    let role = format!("serves_{}", site.wall.simple());
    let run = |sql: String| sqlx::raw_sql(AssertSqlSafe(sql)).execute(&pool);
    run(format!("create role {role}")).await.unwrap();
    store::roles::let_serve(&pool, &role).await.unwrap();
    let as_role = role.clone();
    let serving = PgPoolOptions::new()
        .max_connections(2)
        .after_connect(move |conn, _| {
            let become_it = format!("set role {as_role}");
            Box::pin(async move { sqlx::raw_sql(AssertSqlSafe(become_it)).execute(conn).await.map(|_| ()) })
        })
        .connect_with((*pool.connect_options()).clone())
        .await
        .unwrap();
    assert_eq!(store::roles::role(&serving).await.unwrap(), DatabaseRole::Serves);
    save_wall(&serving, &site, 9, 5.9).await;
    assert!(verify(&serving, None).await.unwrap().is_whole());
    for attack in [
        "update trail set detail = '{}'",
        "delete from trail",
        "truncate trail",
        "alter table trail disable trigger user",
        "drop trigger trail_is_append_only on trail",
        "drop table trail",
        "delete from trail_head",
    ] {
        let refused = sqlx::query(attack).execute(&serving).await.unwrap_err();
        let code = refused.as_database_error().and_then(|e| e.code().map(|code| code.into_owned()));
        assert_eq!(code.as_deref(), Some("42501"), "{attack}: {refused}");
    }
    serving.close().await;
    run(format!("drop owned by {role}; drop role {role}")).await.unwrap();
}

#[rstest]
#[case::all_readings_missing("update sample set readings = array[null, null]::float8[]", "sample_readings")]
#[case::no_readings("update sample set readings = '{}'", "sample_readings")]
#[case::nothing_recorded("update sample set readings = null", "sample_content")]
#[case::readings_and_a_count("update sample set count = 1, inspected = 2", "sample_content")]
#[case::count_without_inspected("update sample set readings = null, count = 1", "sample_count")]
#[case::withdrawn_by_nobody("update sample set withdrawn_at = now()", "sample_withdrawn")]
#[case::lot_without_a_beginning("update station set lot = 'K-1'", "station_lot_began")]
#[case::chart_of_another_kind("update characteristic set chart = 'p' where kind = 'measured'", "characteristic_chart")]
#[case::spec("update characteristic set lsl = 2, usl = 1", "characteristic_spec")]
#[case::unknown_characteristic(
    "insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
     select gen_random_uuid(), gen_random_uuid(), 1, device, gen_random_uuid(), taken_at, taken_at, person_id, readings
     from sample where number = 1",
    "sample_of_characteristic"
)]
#[case::unknown_person(
    "insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
     select gen_random_uuid(), characteristic_id, 9, device, gen_random_uuid(), taken_at, taken_at, gen_random_uuid(), readings
     from sample where number = 1",
    "sample_of_person"
)]
#[case::unknown_import(
    "insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings, import_id,
         source_digest)
     select gen_random_uuid(), characteristic_id, 9, device, gen_random_uuid(), taken_at, taken_at, person_id, readings,
         gen_random_uuid(), 'x' from sample where number = 1",
    "sample_of_import"
)]
#[case::sample_of_another("update sample set characteristic_id = gen_random_uuid()", "sample_of_samples")]
#[case::characteristic_gone("delete from characteristic", "characteristic_of_samples")]
#[case::person_gone("delete from person", "person_of_samples")]
#[case::person_of_another_name("update person set id = gen_random_uuid()", "person_of_samples")]
#[case::number_twice("update sample set number = 1", "sample_characteristic_id_number_key")]
#[case::entry_twice("update sample set entry = '00000000-0000-0000-0000-000000000001'", "sample_entry_once")]
#[case::state("update signal set state = 'closed'", "signal_state")]
#[case::withdrawn_without_reason("update signal set withdrawn_at = now()", "signal_withdrawn")]
#[case::limits_without_figures("update limits set put_in_force_at = null where state = 'in_force'", "limits_figures")]
#[case::subgroup_of_individuals(
    "update characteristic set subgroup_size = 1 where chart = 'xbar_r'",
    "characteristic_chart"
)]
#[sqlx::test]
async fn the_database_refuses(#[ignore] pool: PgPool, #[case] attack: &'static str, #[case] constraint: &'static str) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.9).await;
    save_wall(&pool, &site, 1, 5.0).await;
    let error = sqlx::query(attack).execute(&pool).await.unwrap_err();
    assert_eq!(error.as_database_error().unwrap().constraint(), Some(constraint), "{error}");
}

#[sqlx::test(migrations = false)]
async fn instances_that_start_at_once_migrate_once(pool: PgPool) {
    // New databases may come with the tables.
    sqlx::raw_sql("drop schema public cascade; create schema public").execute(&pool).await.unwrap();
    let (one, two) = futures::join!(store::migrate(&pool), store::migrate(&pool));
    one.unwrap();
    two.unwrap();
    let tables: i64 =
        sqlx::query_scalar("select count(*) from pg_tables where tablename = 'sample'").fetch_one(&pool).await.unwrap();
    assert_eq!(tables, 1);
}

/// Much was done at one moment; no page skips an entry or shows it twice.
#[sqlx::test]
async fn the_trail_is_narrowed_and_paged_to_its_beginning(pool: PgPool) {
    let site = told(&pool).await;
    sqlx::raw_sql("alter table trail disable trigger user; update trail set at = '2026-01-05' where position % 3 > 0")
        .execute(&pool)
        .await
        .unwrap();
    let count = async |narrowed: &str| -> i64 {
        let count = format!("select count(*) from trail where {narrowed}");
        sqlx::query_scalar(AssertSqlSafe(count)).fetch_one(&pool).await.unwrap()
    };
    let paged = async |mut filter: TrailFilter| {
        let mut seen = Vec::new();
        loop {
            let page = store::trail::list(&pool, &filter, 3).await.unwrap();
            seen.extend(page.iter().map(|entry| (entry.chain, entry.position)));
            let Some(last) = page.last() else { break };
            filter.behind = Some((last.at, last.chain, last.position));
        }
        let once: std::collections::BTreeSet<_> = seen.iter().collect();
        assert_eq!(once.len(), seen.len());
        seen.len() as i64
    };
    let all = TrailFilter::default;
    let new_year = "2026-01-06T00:00:00Z".parse().ok();
    assert_eq!(paged(all()).await, count("true").await);
    assert_eq!(
        paged(TrailFilter { person: Some(site.supervisor), ..all() }).await,
        count(&format!("person_id = '{}'", site.supervisor)).await
    );
    assert_eq!(
        paged(TrailFilter { actions: vec![Action::SampleSaved], ..all() }).await,
        count("action = 'sample_saved'").await
    );
    assert_eq!(
        paged(TrailFilter { characteristic: Some(site.wall), until: new_year, ..all() }).await,
        count(&format!("chain = '{}' and at < '2026-01-06'", site.wall)).await
    );
    assert_eq!(paged(TrailFilter { from: new_year, ..all() }).await, count("at >= '2026-01-06'").await);
    assert_eq!(
        paged(TrailFilter { object: Some(Uuid::nil()), ..all() }).await,
        count(&format!("object = '{}'", Uuid::nil())).await
    );
}
