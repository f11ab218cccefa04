//! What is seen with a decision, as it is now.

use std::collections::HashMap;

use quality::signature::Seen;
use serde_json::Value;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;

/// What is seen with each of these decisions. Times are told in microseconds, which no time zone turns.
pub(crate) async fn seen(conn: &mut PgConnection, reviews: &[Uuid]) -> Result<HashMap<Uuid, Seen>, StoreError> {
    let rows = sqlx::query!(
        r#"select r.id,
                  jsonb_build_object('decision', r.decision, 'remark', r.remark, 'person', r.person_id,
                      'at', (extract(epoch from r.at) * 1000000)::bigint) as "decision!",
                  found.signals as "signals!", said.answers as "answers!", taken.samples as "samples!"
           from review r
           cross join lateral (
               select coalesce(jsonb_agg(jsonb_build_object('signal', g.id, 'panel', g.panel, 'rule', g.rule,
                   'side', g.side, 'from', g.from_sample, 'to', g.to_sample, 'center', g.center, 'sigma', g.sigma,
                   'k', g.k, 'holds', g.withdrawn_at is null) order by g.id), '[]') as signals
               from review_of o join signal g on g.id = o.signal_id where o.review_id = r.id) found
           cross join lateral (
               select coalesce(jsonb_agg(jsonb_build_object('answer', a.id, 'person', a.person_id,
                   'at', (extract(epoch from a.at) * 1000000)::bigint, 'cause', coalesce(k.name, a.cause_text),
                   'action', a.action, 'comment', a.comment, 'steps', a.steps, 'held', a.held,
                   'corrected', a.corrected,
                   'files', (select coalesce(jsonb_agg(encode(sha256(f.content), 'hex') order by f.id), '[]')
                             from file f where f.answer_id = a.id),
                   'additions', (select coalesce(jsonb_agg(jsonb_build_object('addition', d.id, 'person', d.person_id,
                       'comment', d.comment, 'files',
                       (select coalesce(jsonb_agg(encode(sha256(f.content), 'hex') order by f.id), '[]')
                        from file f where f.addition_id = d.id)) order by d.at, d.id), '[]')
                       from addition d where d.answer_id = a.id)) order by a.at, a.id), '[]') as answers
               from answer a left join cause k on k.id = a.cause_id
               where a.id in (select o.answer_id from review_of o where o.review_id = r.id)) said
           cross join lateral (
               select coalesce(jsonb_agg(jsonb_build_object('number', s.number, 'readings', s.readings,
                   'components', s.components, 'inspected', s.inspected, 'defects', s.defects, 'distance', s.distance,
                   'tags', s.tags, 'aside', s.aside, 'withdrawn', s.withdrawn_at is not null)
                   order by s.taken_at, s.number), '[]') as samples
               from sample s where s.id in (
                   select i.id from review_of o join signal g on g.id = o.signal_id
                   join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
                   join sample i on i.characteristic_id = g.characteristic_id
                        and (i.taken_at, i.number) >= (f.taken_at, f.number)
                        and (i.taken_at, i.number) <= (t.taken_at, t.number)
                   where o.review_id = r.id)) taken
           where r.id = any($1)"#,
        reviews
    );
    let rows = rows.fetch_all(conn).await?.into_iter();
    let of = |decision: Value, signals, answers, samples| Seen { decision, signals, answers, samples };
    Ok(rows.map(|row| (row.id, of(row.decision, row.signals, row.answers, row.samples))).collect())
}
