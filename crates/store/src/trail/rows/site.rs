//! People, limits given before the trail, rule sets, causes.

use std::collections::{BTreeMap, BTreeSet, HashMap, HashSet};

use serde_json::{Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

use super::compare::{compare, each, missing, rest};
use super::work::of_work;
use crate::StoreError;
use crate::trail::expected::Expected;
use crate::trail::report::Report;

/// People and their roles.
pub(in crate::trail) async fn of_site(
    conn: &mut PgConnection,
    site: &Expected,
    report: &mut Report,
) -> Result<(), StoreError> {
    let people = sqlx::query!(
        r#"select id, login, name, role, bound, active, email, mails,
                  array(select area_id from belonging where person_id = p.id and area_id is not null order by 1) as "areas!: Vec<Uuid>",
                  array(select station_id from belonging where person_id = p.id and station_id is not null order by 1) as "stations!: Vec<Uuid>"
           from person p"#
    );
    let people = people.fetch_all(&mut *conn).await?.into_iter().map(|row| {
        let holds = json!({"login": row.login, "name": row.name, "role": row.role, "bound": row.bound,
                           "active": row.active, "email": row.email, "mails": row.mails, "areas": row.areas, "stations": row.stations});
        (row.id, holds)
    });
    each(report, "person", &site.people, people);
    let limits =
        sqlx::query_scalar!("select id from limits where put_in_force_at is not null").fetch_all(&mut *conn).await?;
    rest(report, "limits", &site.limits_before, &limits.into_iter().collect());
    rule_sets(&mut *conn, &site.rule_sets, report).await?;
    causes(&mut *conn, &site.causes, report).await?;
    runs(&mut *conn, site, report).await?;
    handovers(&mut *conn, site, report).await?;
    let webhooks = sqlx::query!(
        r#"select id, name, url, kinds, areas, active, encode(sha256(convert_to(secret, 'UTF8')), 'hex') as "secret!"
           from webhook"#
    );
    let webhooks = webhooks.fetch_all(&mut *conn).await?.into_iter().map(|row| {
        let holds = json!({"name": row.name, "url": row.url, "kinds": row.kinds, "areas": row.areas,
                           "active": row.active, "secret": row.secret});
        (row.id, holds)
    });
    each(report, "webhook", &site.webhooks, webhooks);
    of_work(&mut *conn, &site.work, report).await?;
    signatures(conn, &site.signatures, report).await
}

/// Runs that were reviewed, and what was done about them.
async fn runs(conn: &mut PgConnection, site: &Expected, report: &mut Report) -> Result<(), StoreError> {
    let reviews = sqlx::query!("select id, run_id, person_id, version, remark from run_review");
    let reviews = reviews.fetch_all(&mut *conn).await?.into_iter().map(|row| {
        let holds = json!({"run": row.run_id, "person": row.person_id, "version": row.version, "remark": row.remark});
        (row.id, holds)
    });
    each(report, "run_review", &site.run_reviews, reviews);
    let actions = sqlx::query!("select id, run_id, person_id, characteristic_id, text from run_action");
    let actions = actions.fetch_all(conn).await?.into_iter().map(|row| {
        let holds = json!({"run": row.run_id, "person": row.person_id, "characteristic": row.characteristic_id,
                           "text": row.text});
        (row.id, holds)
    });
    each(report, "run_action", &site.run_actions, actions);
    Ok(())
}

/// Words from shift to shift, and who has read them.
async fn handovers(conn: &mut PgConnection, site: &Expected, report: &mut Report) -> Result<(), StoreError> {
    let words = sqlx::query!("select id, shift_began, area_id, person_id, text from handover_word");
    let words = words.fetch_all(&mut *conn).await?.into_iter().map(|row| {
        let holds = json!({"shift": row.shift_began, "area": row.area_id, "person": row.person_id, "text": row.text});
        (row.id, holds)
    });
    each(report, "handover_word", &site.handover_words, words);
    let read = sqlx::query!("select id, shift_began, person_id, open from handover_read");
    let read = read.fetch_all(conn).await?.into_iter();
    let read = read.map(|row| (row.id, json!({"shift": row.shift_began, "person": row.person_id, "open": row.open})));
    each(report, "handover_read", &site.handover_read, read);
    Ok(())
}

/// Versions of named rule sets.
async fn rule_sets(
    conn: &mut PgConnection,
    told: &BTreeMap<(Uuid, i64), Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let mut seen = BTreeSet::new();
    let rows = sqlx::query!("select rule_set_id, version, rules, person_id from rule_set_version");
    for row in rows.fetch_all(conn).await? {
        let key = (row.rule_set_id, i64::from(row.version));
        seen.insert(key);
        match told.get(&key) {
            Some(says) => {
                let holds = json!({"rules": row.rules, "person": row.person_id});
                compare(report, "rule_set_version", row.rule_set_id, says, &holds);
            }
            None => missing(report, "rule_set_version", row.rule_set_id, false),
        }
    }
    for (of, _) in told.keys().filter(|key| !seen.contains(*key)) {
        missing(report, "rule_set_version", *of, true);
    }
    Ok(())
}

/// The catalogue of causes; older entries were there before the trail told of them.
async fn causes(conn: &mut PgConnection, told: &HashMap<Uuid, Value>, report: &mut Report) -> Result<(), StoreError> {
    let mut seen = HashSet::new();
    let rows = sqlx::query!("select id, name, cause_group, area_id, state, same_as from cause");
    for row in rows.fetch_all(conn).await? {
        seen.insert(row.id);
        if let Some(says) = told.get(&row.id) {
            let holds = json!({"name": row.name, "group": row.cause_group, "area": row.area_id, "state": row.state,
                               "same_as": row.same_as});
            compare(report, "cause", row.id, says, &holds);
        }
    }
    rest(report, "cause", told, &seen);
    Ok(())
}

/// Signatures, with the digests of what they cover made anew from what is kept.
async fn signatures(
    conn: &mut PgConnection,
    told: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let mut seen = HashSet::new();
    let rows = sqlx::query!(
        r#"select s.id, s.person_id, s.name, s.at, s.meaning,
                  (select coalesce(jsonb_agg(jsonb_build_object(
                      'review', d.review_id, 'digest', encode(sha256(convert_to(d.content, 'UTF8')), 'hex'))), '[]')
                   from signed d where d.signature_id = s.id) as "reviews!"
           from signature s"#
    );
    for row in rows.fetch_all(conn).await? {
        seen.insert(row.id);
        let holds = json!({"meaning": row.meaning, "name": row.name, "person": row.person_id, "at": row.at,
                           "reviews": in_order(&row.reviews)});
        match told.get(&row.id) {
            Some(says) => {
                let mut says = says.clone();
                says["reviews"] = in_order(&says["reviews"]);
                compare(report, "signature", row.id, &says, &holds);
            }
            None => missing(report, "signature", row.id, false),
        }
    }
    rest(report, "signature", told, &seen);
    Ok(())
}

fn in_order(reviews: &Value) -> Value {
    let mut reviews: Vec<Value> = reviews.as_array().cloned().unwrap_or_default();
    reviews.sort_by(|a, b| a["review"].as_str().cmp(&b["review"].as_str()));
    Value::Array(reviews)
}
