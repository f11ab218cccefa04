-- The next number of a sample, beside its characteristic: a row that every save changes is a small one
-- without conditions to check again. Who changes anything of a characteristic holds this row.
create table sample_head (
    characteristic_id uuid primary key references characteristic,
    next_number       bigint not null default 1
);
insert into sample_head select id, next_number from characteristic;
alter table characteristic drop column next_number;

-- Laboratory: analytes, their levels, and runs over them. ------------------------------------------

create table analyte (
    id         uuid primary key,
    station_id uuid not null references station,
    name       text not null check (name <> ''),
    place      int not null default 0,
    -- Rules of the multirule that judge it.
    rules      jsonb not null,
    unique (station_id, name)
);

-- A level is a characteristic, so it has limits, a chart, corrections and a trail like any other.
create table level (
    characteristic_id uuid primary key references characteristic,
    analyte_id        uuid not null references analyte,
    place             smallint not null check (place between 1 and 9),
    name              text not null check (name <> ''),
    unique (analyte_id, place),
    unique (analyte_id, name)
);

create table run (
    id                 uuid primary key,
    station_id         uuid not null references station,
    number             bigint not null check (number > 0),
    device             uuid not null,
    entry              uuid not null,
    taken_at           timestamptz not null,
    arrived_at         timestamptz not null,
    person_id          uuid not null references person,
    -- One run repeats another; what repeats the repeat names the repeat.
    repeats            uuid unique references run,
    verdict            text not null check (verdict in ('accepted', 'warning', 'rejected')),
    -- By analyte, as judged while the run was not settled.
    judgements         jsonb not null,
    -- What a correction after the release makes of it.
    verdict_since      text check (verdict_since in ('accepted', 'warning', 'rejected')),
    overridden_at      timestamptz,
    overridden_by      uuid references person,
    overridden_because text check (length(overridden_because) between 1 and 2000),
    released_at        timestamptz,
    released_by        uuid references person,
    version            int not null default 1,
    unique (station_id, number),
    constraint run_entry_once unique (device, entry),
    check (num_nulls(overridden_at, overridden_by, overridden_because) in (0, 3)),
    check (num_nulls(released_at, released_by) in (0, 2)),
    constraint run_release check (released_at is null or verdict <> 'rejected' or overridden_at is not null)
);
create index run_in_order on run (station_id, taken_at, number);

alter table sample add column run_id uuid references run;
create index sample_of_run on sample (run_id) where run_id is not null;

-- Pieces made at a station, counted once each however often a device sends them. ----------------

create table piece_count (
    id         uuid primary key,
    station_id uuid not null references station,
    pieces     bigint not null check (pieces between 1 and 1000000),
    at         timestamptz not null,
    arrived_at timestamptz not null,
    person_id  uuid not null references person,
    device     uuid not null,
    entry      uuid not null,
    constraint piece_count_entry_once unique (device, entry)
);

-- Devices. -----------------------------------------------------------------------------------------

-- What a device sends is saved in its own name; it signs in nowhere.
alter table person
    drop constraint person_role_check,
    add constraint person_role check (role in ('technician', 'supervisor', 'engineer', 'administrator', 'device')),
    add constraint person_device check (role <> 'device' or not active);

create table device (
    id         uuid primary key references person,
    kind       text not null check (kind in ('ingest', 'gauge', 'analyser', 'sensor')),
    -- Of the token that an ingest device shows; the token itself is shown once and not kept.
    token_hash bytea unique,
    settings   jsonb not null default '{}',
    created_at timestamptz not null,
    revoked_at timestamptz,
    heard_at   timestamptz,
    accepted   bigint not null default 0,
    version    int not null default 1,
    -- What a stream has come to since its last sample.
    progress   jsonb,
    constraint device_token check ((kind = 'ingest') = (token_hash is not null))
);

create table device_station (
    device_id  uuid not null references device,
    station_id uuid not null references station,
    primary key (device_id, station_id)
);

-- Messages of a stream that were taken, so that one that is delivered again counts once.
create table stream_message (
    device_id uuid not null references device,
    message   uuid not null,
    at        timestamptz not null,
    primary key (device_id, message)
);
create index stream_message_old on stream_message (device_id, at);

-- Refusals are counted by reason, so that a device that goes mad fills no disk.
create table device_refusal (
    device_id uuid not null references device,
    reason    text not null,
    count     bigint not null check (count > 0),
    last_at   timestamptz not null,
    last      text not null check (length(last) <= 500),
    primary key (device_id, reason)
);

-- A value that a device offers to whoever enters a sample or a run.
create table offer (
    id                uuid primary key,
    device_id         uuid not null references device,
    station_id        uuid not null references station,
    -- The level that an analyser means; nothing for a gauge.
    characteristic_id uuid references characteristic,
    -- As the device names the message, so that one sent again is one offer.
    message           text,
    value             text not null check (length(value) between 1 and 64),
    measured_at       timestamptz not null,
    arrived_at        timestamptz not null,
    taken_at          timestamptz,
    taken_by          uuid references person,
    constraint offer_once unique (device_id, message, characteristic_id),
    check (num_nulls(taken_at, taken_by) in (0, 2))
);
create index offer_open on offer (station_id, arrived_at) where taken_at is null;
