//! A notice is raised in the act that it tells of, with a delivery to everybody who wishes for it: it is there when, and
//! only when, what it tells of is.

use chrono::{DateTime, Utc};
use quality::notice::NoticeKind;
use quality::role::Role;
use uuid::Uuid;

use crate::act::Act;
use crate::news::News;
use crate::{StoreError, word};

/// What a notice tells of.
#[derive(Debug, Clone, Copy)]
pub(crate) enum About {
    Episode(Uuid),
    Run(Uuid),
    Cause(Uuid),
    Note(Uuid),
}

/// A notice to raise.
#[derive(Debug, Clone, Copy)]
pub(crate) struct NewNotice {
    pub kind: NoticeKind,
    pub at: DateTime<Utc>,
    /// Where it happened.
    pub station: Option<Uuid>,
    /// Whom alone it concerns.
    pub person: Option<Uuid>,
    pub about: About,
}

const ROLES: [Role; 4] = [Role::Technician, Role::Supervisor, Role::Engineer, Role::Administrator];

/// Raises a notice; one that rings nobody's bell only where somebody wishes to be sent it.
pub(crate) async fn raise(act: &mut Act, new: NewNotice) -> Result<(), StoreError> {
    let kind = word::word(new.kind)?;
    let roles: Vec<Role> = ROLES.into_iter().filter(|role| new.kind.concerns(*role)).collect();
    let roles = roles.iter().map(word::word).collect::<Result<Vec<_>, _>>()?;
    let (mut episode, mut run, mut cause, mut note) = (None, None, None, None);
    match new.about {
        About::Episode(id) => episode = Some(id),
        About::Run(id) => run = Some(id),
        About::Cause(id) => cause = Some(id),
        About::Note(id) => note = Some(id),
    }
    let raised = sqlx::query!(
        r#"with there as (select s.id, s.area_id from station s where s.id = $4),
           wishing as (
               select p.id as person_id, null::uuid as webhook_id from person p
               where p.active and p.email is not null and $2 = any(p.mails) and p.role = any($6)
                 and ($5::uuid is null or p.id = $5)
                 -- What is addressed to one alone is sent to them wherever they belong.
                 and ($4::uuid is null or $5::uuid is not null or not exists (select from belonging b where b.person_id = p.id)
                      or exists (select from belonging b, there t where b.person_id = p.id
                                 and (b.station_id = t.id or b.area_id = t.area_id)))
               union all
               select null, w.id from webhook w
               where w.active and $2 = any(w.kinds)
                 and ($4::uuid is null or cardinality(w.areas) = 0
                      or exists (select from there t where t.area_id = any(w.areas)))),
           raised as (
               insert into notice (id, kind, at, station_id, person_id, episode_id, run_id, cause_id, note_id)
               select $1, $2, $3, $4, $5, $7, $8, $9, $11 where $10 or exists (select from wishing)
               returning id)
           insert into delivery (id, notice_id, person_id, webhook_id, next_at)
           select gen_random_uuid(), r.id, w.person_id, w.webhook_id, $3 from raised r, wishing w"#,
        Uuid::new_v4(),
        kind,
        new.at,
        new.station,
        new.person,
        &roles,
        episode,
        run,
        cause,
        new.kind.rings(),
        note
    )
    .execute(act.conn())
    .await?;
    if new.kind.rings() || raised.rows_affected() > 0 {
        act.tell(News::Notice);
    }
    Ok(())
}
