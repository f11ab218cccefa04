-- The laboratory's queue: runs that a supervisor has looked at, and what was done about a result or a run. ----

-- A run that changes after its review waits for another.
create table run_review (
    id        uuid primary key,
    run_id    uuid not null references run,
    person_id uuid not null references person,
    at        timestamptz not null,
    -- The version that was seen.
    version   int not null check (version > 0),
    remark    text check (length(remark) between 1 and 2000),
    constraint run_review_once unique (run_id, version)
);

create table run_action (
    id                uuid primary key,
    run_id            uuid not null references run,
    -- The level it is about; nothing for the whole run.
    characteristic_id uuid references characteristic,
    person_id         uuid not null references person,
    at                timestamptz not null,
    text              text not null check (length(text) between 1 and 2000),
    entry             uuid not null constraint run_action_entry_once unique
);
create index run_action_of_run on run_action (run_id, at);
create index run_newest on run (taken_at desc, number desc, id);
