-- Peer groups: reviewed results of the laboratory are given to them, and they tell what all of them found. ----

create table peer_group (
    id         uuid primary key,
    name       text not null constraint peer_group_named unique check (length(name) between 1 and 80),
    -- What this laboratory is called there.
    laboratory text not null check (length(laboratory) between 1 and 80),
    -- Nothing where files are handed over.
    url        text check (length(url) between 1 and 2000),
    -- What this laboratory is known by there, so it is kept as it is.
    token      text check (length(token) between 1 and 500),
    since      timestamptz not null,
    active     boolean not null default true,
    version    int not null default 1 check (version > 0),
    -- When it is asked for its statistics again; nothing where it cannot be.
    asks_at    timestamptz,
    -- Tries since it last answered.
    asked      int not null default 0,
    answered_at timestamptz,
    -- Why the last try failed, in short.
    failed     text,
    check ((url is null) = (token is null)),
    check (asks_at is null or url is not null)
);

create table peer_level (
    group_id          uuid not null references peer_group,
    characteristic_id uuid not null references level,
    code              text not null check (length(code) between 1 and 80),
    primary key (group_id, characteristic_id),
    unique (group_id, code)
);

-- A result of a reviewed run, as it is given.
create table peer_result (
    id                uuid primary key,
    group_id          uuid not null references peer_group,
    sample_id         uuid not null references sample,
    characteristic_id uuid not null references characteristic,
    value             double precision not null,
    unit              text not null,
    taken_at          timestamptz not null,
    reagent_lot       text,
    control_lot       text,
    -- Counts what was said of it: given, corrected, withdrawn.
    revision          int not null default 1 check (revision > 0),
    withdrawn_at      timestamptz,
    withdrawn_by      uuid references person,
    -- Nothing where its run counts it no more.
    withdrawn_because text check (length(withdrawn_because) between 1 and 2000),
    -- The revision that is kept there; 0 where none is.
    taken_revision    int not null default 0,
    tries             int not null default 0,
    -- When the revision is sent; nothing once it is kept there or given up, and where files are handed over.
    next_at           timestamptz,
    -- When the last revision that is kept there was.
    given_at          timestamptz,
    -- It will never be taken: why, in the words of the other side.
    failed            text,
    ended             boolean not null default false,
    constraint peer_result_once unique (group_id, sample_id),
    check (taken_revision between 0 and revision),
    check ((withdrawn_at is null) = (withdrawn_by is null)),
    check (withdrawn_because is null or withdrawn_at is not null)
);
create index peer_result_due on peer_result (next_at) where next_at is not null;
create index peer_result_newest on peer_result (group_id, taken_at desc, id);

-- What a group told of a month of a level.
create table peer_statistic (
    id                uuid primary key,
    group_id          uuid not null references peer_group,
    characteristic_id uuid not null references characteristic,
    -- Its first day.
    month             date not null check (extract(day from month) = 1),
    -- Of all lots where none is named.
    control_lot       text,
    reagent_lot       text,
    laboratories      int check (laboratories >= 0),
    n                 bigint not null check (n >= 2),
    mean              double precision not null,
    sd                double precision not null check (sd > 0),
    told_at           timestamptz not null,
    constraint peer_statistic_once unique nulls not distinct
        (group_id, characteristic_id, month, control_lot, reagent_lot)
);

-- What of the laboratory's results may be given to which group: measured on one of its levels since it takes part, in
-- a run that was reviewed as it stands; counted where it is neither withdrawn, set aside nor of a rejected analyte.
create view peer_candidate as
    select g.id as group_id, r.id as run_id, s.id as sample_id, s.characteristic_id, s.readings[1] as value, c.unit,
           s.taken_at, s.tags->>'reagent lot' as reagent_lot, s.tags->>'control lot' as control_lot,
           g.url is not null as sends,
           not s.gap and not s.aside and s.readings[1] is not null
               and not (r.overridden_at is null and exists (
                   select from jsonb_array_elements(r.judgements) j
                   where j->>'analyte' = v.analyte_id::text and j->>'verdict' = 'rejected')) as counted
    from peer_group g
    join peer_level l on l.group_id = g.id
    join level v on v.characteristic_id = l.characteristic_id
    join characteristic c on c.id = l.characteristic_id
    join sample s on s.characteristic_id = l.characteristic_id and s.taken_at >= g.since
    join run r on r.id = s.run_id
    where g.active and exists (select from run_review w where w.run_id = r.id and w.version = r.version);
