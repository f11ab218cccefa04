-- Answers that carry more: causes in groups, files, what is added later, a restart with the next sample. -------------

-- The name of a cause never changes, so that what was answered reads as it was chosen.
alter table cause
    -- Nothing where nobody has placed it yet.
    add column cause_group text check (cause_group in
        ('machine', 'material', 'method', 'person', 'measurement', 'surroundings')),
    add column state text not null default 'in_use' check (state in ('proposed', 'in_use', 'retired')),
    add column version int not null default 1,
    add column proposed_by uuid references person,
    add column proposed_at timestamptz,
    -- Another one that says the same and is used in its place.
    add column same_as uuid references cause,
    add constraint cause_proposed check (num_nulls(proposed_by, proposed_at) in (0, 2)),
    add constraint cause_same_as_another check (same_as is null or (same_as <> id and state = 'retired')),
    drop constraint cause_name_key;
-- One name once in an area, and once for all of them.
create unique index cause_named on cause (lower(name), coalesce(area_id, '00000000-0000-0000-0000-000000000000'));

alter table answer
    -- Made by the device; answering twice keeps one answer.
    add column entry uuid constraint answer_entry_once unique,
    -- When it reached the server; nothing where that was when it was given.
    add column arrived_at timestamptz,
    -- The process was corrected: rules start afresh with the next sample.
    add column corrected boolean not null default false;

-- What was said later: an answer is added to, never rewritten.
create table addition (
    id         uuid primary key,
    answer_id  uuid not null references answer,
    person_id  uuid not null references person,
    at         timestamptz not null,
    arrived_at timestamptz,
    comment    text not null check (length(comment) between 1 and 2000),
    entry      uuid constraint addition_entry_once unique
);
create index addition_of_answer on addition (answer_id, at);

-- Photos and documents. They come before what they belong to.
create table file (
    id          uuid primary key,
    name        text not null check (length(name) between 1 and 80),
    kind        text not null check (kind in ('png', 'jpeg', 'pdf')),
    content     bytea not null check (length(content) between 1 and 10485760),
    person_id   uuid not null references person,
    at          timestamptz not null,
    answer_id   uuid references answer,
    addition_id uuid references addition,
    check (num_nonnulls(answer_id, addition_id) <= 1)
);
-- What is compressed already is not compressed again.
alter table file alter column content set storage external;
create index file_of_answer on file (answer_id) where answer_id is not null;
create index file_of_addition on file (addition_id) where addition_id is not null;
create index file_loose on file (person_id, at) where answer_id is null and addition_id is null;

-- Restarts that answers ask for: at the first sample taken after the correction, once there is one.
create table planned_restart (
    answer_id         uuid primary key references answer,
    characteristic_id uuid not null references characteristic,
    corrected_at      timestamptz not null,
    -- When the sample that it begins with was taken.
    starts_at         timestamptz,
    -- The restart there; nothing where somebody had marked one before.
    restart_id        uuid references restart,
    dropped           boolean not null default false,
    check (restart_id is null or starts_at is not null)
);
create index planned_restart_by_time on planned_restart (characteristic_id, corrected_at) where not dropped;
create index planned_restart_of on planned_restart (restart_id);
