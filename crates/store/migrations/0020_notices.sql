-- Notices: what somebody is told who does not look. ------------------------------------------------------

create table notice (
    id         uuid primary key,
    kind       text not null check (kind in ('episode_raised', 'open_too_long', 'sent_back', 'overruled',
                   'run_rejected', 'cause_proposed')),
    at         timestamptz not null,
    -- Where it happened; nothing where it concerns no station.
    station_id uuid references station,
    -- Whom alone it concerns; nothing where it concerns a role.
    person_id  uuid references person,
    -- What it tells of.
    episode_id uuid references episode,
    run_id     uuid references run,
    cause_id   uuid references cause,
    check (num_nonnulls(episode_id, run_id, cause_id) = 1)
);
create index notice_newest on notice (at desc, id);

alter table person
    add column email           text check (length(email) between 3 and 254),
    -- Kinds of notices that are sent there.
    add column mails           text[] not null default '{}',
    add column notices_seen_at timestamptz;

-- Other programs that are told. The secret signs what is sent, so it is kept as it is.
create table webhook (
    id      uuid primary key,
    name    text not null constraint webhook_named unique check (length(name) between 1 and 80),
    url     text not null check (length(url) between 1 and 2000),
    secret  text not null,
    kinds   text[] not null,
    -- Empty: all of them.
    areas   uuid[] not null default '{}',
    active  boolean not null default true,
    version int not null default 1 check (version > 0)
);

-- One notice to one person or one program, until it is sent or given up.
create table delivery (
    id         uuid primary key,
    notice_id  uuid not null references notice,
    person_id  uuid references person,
    webhook_id uuid references webhook,
    tries      int not null default 0,
    -- Nothing once it is sent or given up.
    next_at    timestamptz,
    sent_at    timestamptz,
    -- Why the last try failed, in short.
    failed     text,
    check (num_nonnulls(person_id, webhook_id) = 1),
    check (sent_at is null or next_at is null),
    constraint delivery_once unique nulls not distinct (notice_id, person_id, webhook_id)
);
create index delivery_due on delivery (next_at) where next_at is not null;
