//! Notes on points: written, answered, changed by who wrote them, and meant for somebody.

use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField, text};
use quality::note::{may_be_mentioned, may_change, mentions};
use quality::notice::NoticeKind;
use quality::object::ObjectKind;
use quality::role::Role;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::act::Act;
use crate::news::News;
use crate::notices::{About, NewNotice, raise};
use crate::once::compiled_once;
use crate::{StoreError, word};

/// A note to write.
#[derive(Debug, Clone, Copy)]
pub struct NewNote<'a> {
    /// Made by the device; sending it twice writes one note.
    pub entry: Uuid,
    pub text: &'a str,
    /// The note of the same sample that it answers.
    pub answers_to: Option<Uuid>,
    /// Whom it is meant for.
    pub mentions: &'a [Uuid],
}

impl<'a> NewNote<'a> {
    /// One that answers nothing and is meant for everybody.
    pub fn new(entry: Uuid, text: &'a str) -> Self {
        Self { entry, text, answers_to: None, mentions: &[] }
    }
}

/// Writes a note on a sample; the same entry twice keeps one.
///
/// # Errors
/// When the sample or the note that it answers is missing, a field cannot be as given, or the entry id was used for
/// another note.
pub async fn write(
    pool: &PgPool,
    sample: Uuid,
    (person, at): (Uuid, DateTime<Utc>),
    new: NewNote<'_>,
) -> Result<Uuid, StoreError> {
    let text = text("text", new.text)?;
    mentions(new.mentions)?;
    let mut act = Act::begin(pool).await?;
    let row = sqlx::query!(
        "select s.characteristic_id, s.number, c.station_id from sample s join characteristic c on c.id = s.characteristic_id
         where s.id = $1 for no key update of s",
        sample
    )
    .fetch_optional(act.conn())
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Sample))?;
    let before = sqlx::query!("select id, sample_id, person_id, text, version from note where entry = $1", new.entry)
        .fetch_optional(act.conn())
        .await?;
    if let Some(before) = before {
        // Changed since, it is the same note.
        let same = before.sample_id == sample && before.person_id == person;
        return match same && (before.version > 1 || before.text == text) {
            true => Ok(before.id),
            false => Err(StoreError::EntryReused),
        };
    }
    let answers_to = match new.answers_to {
        Some(note) => Some(first_of(act.conn(), sample, note).await?),
        None => None,
    };
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into note (id, sample_id, person_id, at, text, entry, answers_to) values ($1, $2, $3, $4, $5, $6, $7)",
        id,
        sample,
        person,
        at,
        text,
        new.entry,
        answers_to
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        StoreError::of_constraint(error, |name| (name == "note_entry_once").then_some(StoreError::EntryReused))
    })?;
    let told = mention(&mut act, id, new.mentions).await?;
    tell(&mut act, id, row.station_id, (person, at), new.mentions).await?;
    let detail = json!({"sample": row.number, "text": text, "answers_to": answers_to, "mentions": in_order(new.mentions), "for": told});
    let characteristic = row.characteristic_id;
    act.did(
        characteristic,
        Deed::new(at, Some(person), Action::NoteWritten, id, &detail),
        News::Note { characteristic },
    );
    act.commit().await?;
    Ok(id)
}

/// Changes what somebody's own note says and whom it is meant for; who is new among those is told.
///
/// # Errors
/// When it is missing or somebody else's, was changed since `seen_version`, or a field cannot be as given.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    (given, meant): (&str, &[Uuid]),
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let text = text("text", given)?;
    mentions(meant)?;
    let mut act = Act::begin(pool).await?;
    let before = sqlx::query!(
        r#"select n.person_id, n.text, n.version, s.characteristic_id, s.number, c.station_id,
                  array(select person_id from note_mention where note_id = n.id order by person_id) as "mentions!: Vec<Uuid>"
           from note n join sample s on s.id = n.sample_id join characteristic c on c.id = s.characteristic_id
           where n.id = $1 for update of n"#,
        id
    )
    .fetch_optional(act.conn())
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Note))?;
    may_change(person, before.person_id)?;
    same_version(ObjectKind::Note, seen_version, before.version)?;
    let now = in_order(meant);
    if text == before.text && now == before.mentions {
        return Ok(());
    }
    sqlx::query!("update note set text = $2, version = version + 1, changed_at = $3 where id = $1", id, text, at)
        .execute(act.conn())
        .await?;
    sqlx::query!("delete from note_mention where note_id = $1", id).execute(act.conn()).await?;
    let told = mention(&mut act, id, meant).await?;
    let new: Vec<Uuid> = meant.iter().copied().filter(|one| !before.mentions.contains(one)).collect();
    tell(&mut act, id, before.station_id, (person, at), &new).await?;
    let old = json!({"text": before.text, "mentions": before.mentions});
    let detail = json!({"sample": before.number, "old": old, "new": {"text": text, "mentions": now}, "for": told});
    let characteristic = before.characteristic_id;
    act.did(
        characteristic,
        Deed::new(at, Some(person), Action::NoteChanged, id, &detail),
        News::Note { characteristic },
    );
    act.commit().await
}

/// The note that a conversation begins with.
async fn first_of(conn: &mut PgConnection, sample: Uuid, note: Uuid) -> Result<Uuid, StoreError> {
    sqlx::query_scalar!(
        r#"select coalesce(answers_to, id) as "first!" from note where id = $1 and sample_id = $2"#,
        note,
        sample
    )
    .fetch_optional(conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Note))
}

fn in_order(people: &[Uuid]) -> Vec<Uuid> {
    let mut people = people.to_vec();
    people.sort();
    people
}

/// Keeps whom a note is meant for; gives their names.
async fn mention(act: &mut Act, note: Uuid, people: &[Uuid]) -> Result<Vec<String>, StoreError> {
    let found = sqlx::query!("select id, name, role, active from person where id = any($1) order by id", people)
        .fetch_all(act.conn())
        .await?;
    let mut names = Vec::new();
    for person in &found {
        let role: Role = word::value(person.role.clone())?;
        if person.active && may_be_mentioned(role) {
            names.push(person.name.clone());
        }
    }
    if names.len() != people.len() {
        return Err(WrongField::new("mentions", Allowed::PeopleWithABell).into());
    }
    sqlx::query!("insert into note_mention (note_id, person_id) select $1, unnest($2::uuid[])", note, people)
        .execute(act.conn())
        .await?;
    Ok(names)
}

/// Rings the bells of those whom a note mentions; nobody rings their own.
async fn tell(
    act: &mut Act,
    note: Uuid,
    station: Uuid,
    (by, at): (Uuid, DateTime<Utc>),
    people: &[Uuid],
) -> Result<(), StoreError> {
    for person in people.iter().copied().filter(|person| *person != by) {
        let about = About::Note(note);
        let notice = NewNotice { kind: NoticeKind::Mentioned, at, station: Some(station), person: Some(person), about };
        raise(act, notice).await?;
    }
    Ok(())
}
