//! The demonstration site is what its guide promises.

use sqlx::PgPool;

use crate::common::{nuvek, said, succeeded, without_tables};

async fn count(pool: &PgPool, question: &'static str) -> i64 {
    sqlx::query_scalar(question).fetch_one(pool).await.unwrap()
}

#[sqlx::test]
async fn eight_weeks_with_their_stories(pool: PgPool) {
    succeeded(&pool, &["load-demo"]);
    for (kind, least) in [("measured", 7), ("nonconforming_units", 2), ("nonconformities", 2)] {
        let of_kind: i64 = sqlx::query_scalar("select count(*) from characteristic where kind = $1")
            .bind(kind)
            .fetch_one(&pool)
            .await
            .unwrap();
        assert!(of_kind >= least, "{of_kind} {kind}");
    }
    assert!(count(&pool, "select count(*) from sample where skipped_because is not null").await >= 2);
    assert!(count(&pool, "select count(*) from event where lot is not null").await >= 3);
    let weeks = "select extract(day from max(taken_at) - min(taken_at))::bigint / 7 from sample";
    assert!(count(&pool, weeks).await >= 7);
    assert_eq!(count(&pool, "select count(*) from sample where taken_at > now()").await, 0);
    let due = "select count(*) from characteristic c where (select max(taken_at) from sample s
               where s.characteristic_id = c.id) + make_interval(mins => (sampling->>'count')::int) < now()
               and sampling->>'every' = 'minutes'";
    assert!(count(&pool, due).await >= 2, "Rounds has something due");
    let shift = "select count(*) from phase p join limits l on l.phase_id = p.id
                 where p.name = 'Clay lot K-17' and l.state = 'in_force'";
    assert_eq!(count(&pool, shift).await, 1);
    let told = "select count(*) from signal g join characteristic c on c.id = g.characteristic_id
                join review_of o on o.signal_id = g.id join review r on r.id = o.review_id
                join answer a on a.id = o.answer_id
                join cause k on k.id = a.cause_id
                where c.name = 'Viscosity' and k.name = 'Water content of the slip' and r.decision = 'accepted'";
    assert!(count(&pool, told).await >= 1, "one bad sample with a good answer");
    let sent_back =
        "select count(*) from signal g join review_of o on o.signal_id = g.id join review r on r.id = o.review_id
                     where r.decision = 'sent_back' and g.state = 'sent_back'";
    assert!(count(&pool, sent_back).await >= 1);
    let wear = "select count(*) from signal g join characteristic c on c.id = g.characteristic_id
                join station s on s.id = c.station_id
                where s.name = 'Casting line 2' and g.state = 'open' and g.raised_at > now() - interval '1 day'";
    assert!(count(&pool, wear).await >= 1, "tool wear shows now");
    let waiting = "select count(*) from episode where state = 'answered' and not gone";
    assert!(count(&pool, waiting).await >= 1, "something waits for review");
    let runs = "select count(*) from run where released_at is not null";
    assert!(count(&pool, runs).await >= 100, "the laboratory released its runs");
    let rejected = "select count(*) from run r where verdict = 'rejected' and
                    (released_at is null) = (overridden_at is null)";
    assert!(count(&pool, rejected).await >= 3, "one repeated, one overridden, one waiting");
    let waiting = "select count(*) from run where number = (select max(number) from run) and verdict = 'rejected'";
    assert_eq!(count(&pool, waiting).await, 1, "the newest run is rejected");
    let signed =
        "select count(*) from study s join study_signature g on g.study_id = s.id where s.frozen_of is not null";
    assert_eq!(count(&pool, signed).await, 1, "a study is signed");
    assert!(succeeded(&pool, &["verify-trail"]).starts_with("The trail is whole: "));
    let seal = std::env::temp_dir().join(format!("nuvek-seal-{}", std::process::id()));
    let seal = seal.to_str().unwrap();
    succeeded(&pool, &["seal", seal]);
    assert!(!nuvek(&pool, &["seal", seal]).status.success(), "a seal is not overwritten");
    assert!(succeeded(&pool, &["verify-trail", "--against", seal]).contains("goes on from the seal"));
    sqlx::query("update sample set readings[1] = readings[1] + 0.01 where number = 7 and readings is not null")
        .execute(&pool)
        .await
        .unwrap();
    let broken = nuvek(&pool, &["verify-trail"]);
    assert!(!broken.status.success() && said(&broken).contains("readings is ["), "{}", said(&broken));
    std::fs::remove_file(seal).unwrap();
}

/// Looking at a database changes nothing in it.
#[sqlx::test(migrations = false)]
async fn a_check_brings_nothing_up_to_date(pool: PgPool) {
    without_tables(&pool).await;
    let refused = nuvek(&pool, &["verify-trail"]);
    assert!(!refused.status.success() && said(&refused).contains("nuvek migrate"), "{}", said(&refused));
    assert_eq!(count(&pool, "select count(*) from pg_tables where schemaname = 'public'").await, 0);
}
