//! Changes of limits that are made in the background, since they ask to judge more points again than anybody waits for. A
//! change is made when they are judged, wholly or not at all; what is entered meanwhile is judged by what holds until then, and again at the switch.

use chrono::{DateTime, Utc};
use quality::signal::FoundBy;
use quality::trail::Action;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::characteristics::{self, CharacteristicView};
use crate::imports::{Behind, Come, done, from_staged, staged_from};
use crate::judging::{Changed, How, Judged, Pending, Progress, Range, judge, judge_again, look_again, write};
use crate::limits::{LimitsChange, Made, make, settle};
use crate::news::News;
use crate::once::compiled_once;
use crate::phases::{Phase, phases};
use crate::series::{Rank, Stretch};

struct Waiting {
    id: i64,
    characteristic: Uuid,
    pending: Json<Pending<LimitsChange>>,
    person: Uuid,
    at: DateTime<Utc>,
}

/// Makes every change that waits, one after another; gives how many. One instance does so at a time, see
/// [`crate::turn`].
///
/// # Errors
/// When the database fails; what was under way is as it was before, and waits.
#[compiled_once]
pub async fn make_waiting(pool: &PgPool) -> Result<usize, StoreError> {
    let mut made = 0;
    loop {
        let next = sqlx::query_as!(
            Waiting,
            r#"select id, characteristic_id as characteristic, change as "pending: Json<Pending<LimitsChange>>",
                      person_id as person, at
               from judging_again where not failed order by id limit 1"#
        );
        let Some(waiting) = next.fetch_optional(pool).await? else { return Ok(made) };
        match make_one(pool, &waiting).await {
            Ok(()) => made += 1,
            Err(error) if error.is_fault() => return Err(error),
            Err(_) => fail(pool, &waiting).await?,
        }
    }
}

async fn fail(pool: &PgPool, waiting: &Waiting) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    sqlx::query!("update judging_again set failed = true where id = $1", waiting.id).execute(act.conn()).await?;
    if let Pending::Import { import } = waiting.pending.0 {
        sqlx::query!(
            "update import set state = 'failed', ended_at = now() where id = $1 and state = 'waiting'",
            import
        )
        .execute(act.conn())
        .await?;
    }
    act.tell(News::Limits { characteristic: waiting.characteristic });
    act.keep().await
}

/// How often points are judged beside those who enter some, before they have to wait a moment.
const TRIES: usize = 3;

async fn make_one(pool: &PgPool, waiting: &Waiting) -> Result<(), StoreError> {
    if waiting.is_made(pool).await? || waiting.brought_in_behind(pool).await? {
        return waiting.forget(pool).await;
    }
    for _ in 0..TRIES {
        if Ready::make(pool, waiting).await?.switch(pool, waiting).await? {
            return Ok(());
        }
    }
    // Something changed each time: now it is done while others wait.
    let mut act = Act::begin(pool).await?;
    let setup = act.take(waiting.characteristic).await?;
    if !waiting.still_waits(act.conn()).await? {
        return Ok(());
    }
    let (made, after) = waiting.change(&mut act, &setup).await?;
    if let Some(range) = made.range {
        judge_again(&mut act, &setup, after, range, made.because(waiting.person, waiting.at), None).await?;
    }
    waiting.end(act, made).await
}

impl Waiting {
    /// It is an import that was brought in where it was tried, and its server ended before this was forgotten.
    async fn is_made(&self, pool: &PgPool) -> Result<bool, StoreError> {
        let Pending::Import { import } = self.pending.0 else { return Ok(false) };
        let made = sqlx::query_scalar!(
            r#"select exists (select from import where id = $1 and state = 'done') as "made!""#,
            import
        );
        Ok(made.fetch_one(pool).await?)
    }

    /// It is an import that comes behind all that is there, and is brought in where it is tried. What waits is not touched
    /// meanwhile: it tells how far the trial is, from elsewhere, and whoever cancels it changes the import.
    async fn brought_in_behind(&self, pool: &PgPool) -> Result<bool, StoreError> {
        let Pending::Import { import } = self.pending.0 else { return Ok(false) };
        let from = staged_from(&mut *pool.acquire().await?, import).await?;
        let behind = Behind { characteristic: self.characteristic, import, from, by: (self.person, self.at) };
        behind.bring_in(pool, Come::Staged, Progress::new(pool, self.id, self.characteristic)).await
    }

    /// Nothing is to be done any more.
    async fn forget(&self, pool: &PgPool) -> Result<(), StoreError> {
        sqlx::query!("delete from judging_again where id = $1", self.id).execute(pool).await?;
        Ok(())
    }

    /// Writes the change, within an act; gives the phases as they are then.
    async fn change(&self, act: &mut Act, setup: &CharacteristicView) -> Result<(Made, Vec<Phase>), StoreError> {
        let before = phases(act.conn(), self.characteristic).await?;
        let made = match &self.pending.0 {
            Pending::Change(change) => make(act, setup, &before, change, (self.person, self.at)).await?,
            Pending::Behind { taken_at, number, because } => Made {
                range: Some(Range { from: Some((*taken_at, *number)), before: None }),
                reason: because.reason,
                sample: because.sample,
                counts: None,
            },
            Pending::Import { import } => from_staged(act, setup, *import).await?,
        };
        Ok((made, phases(act.conn(), self.characteristic).await?))
    }

    /// It was not taken back meanwhile, and is not until the act ends.
    async fn still_waits(&self, conn: &mut PgConnection) -> Result<bool, StoreError> {
        let held = sqlx::query_scalar!("select id from judging_again where id = $1 for update", self.id);
        Ok(held.fetch_optional(conn).await?.is_some())
    }

    async fn end(&self, mut act: Act, made: Made) -> Result<(), StoreError> {
        sqlx::query!("delete from judging_again where id = $1", self.id).execute(act.conn()).await?;
        if let Pending::Import { import } = self.pending.0 {
            done(&mut act, self.characteristic, import).await?;
        }
        settle(&mut act, self.characteristic, made.counts).await?;
        act.tell(News::Limits { characteristic: self.characteristic });
        match self.pending.0 {
            Pending::Change(_) | Pending::Import { .. } => act.commit().await,
            // What it goes back to was said when the point changed.
            Pending::Behind { .. } => act.keep().await,
        }
    }
}

/// Points judged beside those who enter some, ready for the switch.
struct Ready {
    judged: Vec<Judged>,
    /// Entries of the trail when they were read.
    position: i64,
    /// The last sample that was there then.
    last: Option<(Rank, i64)>,
}

impl Ready {
    /// Makes the change, judges what it asks to judge, and takes all of it back again.
    async fn make(pool: &PgPool, waiting: &Waiting) -> Result<Self, StoreError> {
        let characteristic = waiting.characteristic;
        let mut act = Act::begin_at_one_moment(pool).await?;
        let head = sqlx::query!("select position from trail_head where chain = $1", characteristic);
        let position = head.fetch_one(act.conn()).await?.position;
        let last = sqlx::query!(
            r#"select taken_at, number, (select next_number - 1 from sample_head where characteristic_id = $1) as "newest!"
               from sample where characteristic_id = $1 order by taken_at desc, number desc limit 1"#,
            characteristic
        );
        let last = last.fetch_optional(act.conn()).await?.map(|row| ((row.taken_at, row.number), row.newest));
        let setup = characteristics::find(act.conn(), characteristic).await?;
        let (made, after) = waiting.change(&mut act, &setup).await?;
        let progress = Progress::new(pool, waiting.id, characteristic);
        let judged = match made.range {
            Some(range) => look_again(act.conn(), &setup, after, range, progress).await?,
            None => vec![],
        };
        Ok(Self { judged, position, last })
    }

    /// Makes the change for good and writes what was judged; then judges what was saved since. `false`, and nothing
    /// is done, where more has changed than that samples were added at the end.
    async fn switch(self, pool: &PgPool, waiting: &Waiting) -> Result<bool, StoreError> {
        let characteristic = waiting.characteristic;
        let mut act = Act::begin(pool).await?;
        let setup = act.take(characteristic).await?;
        if !waiting.still_waits(act.conn()).await? {
            return Ok(true);
        }
        if !self.only_added(act.conn(), characteristic).await? {
            return Ok(false);
        }
        let (made, after) = waiting.change(&mut act, &setup).await?;
        let because = made.because(waiting.person, waiting.at);
        let how = How { because, found: FoundBy::JudgingAgain, late: true };
        for mut judged in self.judged {
            // A phase that begins was made, taken back and made again, under other names.
            if let Some(phase) = after.get(judged.held) {
                judged.phase.limits = phase.limits;
            }
            write(&mut act, &setup, &after, &judged, how).await?;
        }
        let schemes = setup.schemes();
        let all = Stretch::all(&setup, &schemes);
        for (sample, point) in all.since(act.conn(), self.last.map_or(0, |(_, newest)| newest)).await? {
            let it = Changed {
                sample,
                number: point.number,
                taken_at: point.taken_at,
                place: point.place,
                because,
                person: waiting.person,
                changed: true,
                beside: None,
            };
            judge(&mut act, &setup, after.clone(), it).await?;
        }
        waiting.end(act, made).await?;
        Ok(true)
    }

    /// Whether all that happened since is that samples were saved behind the last, and judged.
    async fn only_added(&self, conn: &mut PgConnection, characteristic: Uuid) -> Result<bool, StoreError> {
        use Action::{NoteChanged, NoteWritten, SampleSaved, SampleSkipped, SignalGathered, SignalGrown, SignalRaised};
        let harmless =
            [SampleSaved, SampleSkipped, SignalRaised, SignalGrown, SignalGathered, NoteWritten, NoteChanged];
        let harmless = harmless.into_iter().map(crate::word::word).collect::<Result<Vec<_>, _>>()?;
        let (at, number, newest) = self.last.map_or((DateTime::UNIX_EPOCH, 0, 0), |((at, n), newest)| (at, n, newest));
        Ok(sqlx::query_scalar!(
            r#"select not exists (select from trail where chain = $1 and position > $2 and action <> all($3))
                  and not exists (select from sample where characteristic_id = $1 and number > $6
                                  and (taken_at, number) < ($4, $5)) as "only_added!""#,
            characteristic,
            self.position,
            &harmless,
            at,
            number,
            newest
        )
        .fetch_one(conn)
        .await?)
    }
}
