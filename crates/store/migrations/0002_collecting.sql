-- The site's clock. ----------------------------------------------------------------------------

create table site (
    only_one  boolean primary key default true check (only_one),
    name      text not null check (name <> ''),
    time_zone text not null
);
insert into site (name, time_zone) values ('Site', 'UTC');

-- Each lasts until the next one begins.
create table shift (
    name   text primary key check (name <> ''),
    begins time not null unique
);

-- Stations: what is worked on, and what happened there. ------------------------------------------

alter table station
    add column lot         text check (lot <> ''),
    add column lot_began   timestamptz,
    add column pieces_made bigint not null default 0 check (pieces_made >= 0),
    add constraint station_lot_began check ((lot is null) = (lot_began is null));

create table pinned_station (
    person_id  uuid not null references person,
    station_id uuid not null references station,
    primary key (person_id, station_id)
);

create table event_kind (
    id        uuid primary key,
    name      text not null unique check (name <> ''),
    place     int not null default 0,
    -- The event names the lot that is worked on from then on.
    names_lot boolean not null default false
);

create table event (
    id         uuid primary key,
    station_id uuid not null references station,
    kind_id    uuid not null references event_kind,
    at         timestamptz not null,
    arrived_at timestamptz not null,
    person_id  uuid not null references person,
    lot        text check (lot <> ''),
    text       text check (length(text) between 1 and 2000),
    device     uuid not null,
    entry      uuid not null,
    constraint event_entry_once unique (device, entry)
);
create index event_in_order on event (station_id, at);

-- Characteristics: measured and counted. ---------------------------------------------------------

alter table characteristic
    drop constraint characteristic_chart_check,
    drop constraint characteristic_check,
    add column kind          text not null default 'measured'
                             check (kind in ('measured', 'nonconforming_units', 'nonconformities')),
    add column varying       boolean not null default false,
    add column taken         text not null default 'consecutive' check (taken in ('consecutive', 'spread', 'streams')),
    add column sampling      jsonb,
    add column lsl           double precision,
    add column target        double precision,
    add column usl           double precision,
    add column asked_tags    text[] not null default '{}',
    add column labels        text[] not null default '{}',
    add column hidden        boolean not null default false,
    add column feature       text check (feature <> ''),
    add column components    text[] not null default '{}',
    add column defect_kinds  jsonb not null default '[]',
    add column version       int not null default 1,
    drop constraint characteristic_subgroup_size_check,
    add constraint characteristic_size check (subgroup_size between 1 and case kind when 'measured' then 200 else 1000000 end),
    add constraint characteristic_chart check (case kind
        when 'measured' then chart in ('i_mr', 'xbar_r', 'xbar_s', 'median_r') and (chart = 'i_mr') = (subgroup_size = 1)
        when 'nonconforming_units' then chart in ('np', 'p', 'p_prime')
        else chart in ('c', 'u', 'u_prime') end),
    add constraint characteristic_spec check (lsl < usl and (target is null or target between lsl and usl));
update characteristic set sampling = jsonb_build_object('every', 'minutes', 'count', interval_minutes);
alter table characteristic
    alter column sampling set not null,
    alter column kind drop default,
    alter column varying drop default,
    alter column taken drop default,
    drop column interval_minutes;

-- Samples: readings, counts, or a gap. -----------------------------------------------------------

alter table sample
    drop constraint sample_readings_check,
    alter column readings drop not null,
    add column components        double precision[] not null default '{}',
    add column inspected         int check (inspected > 0),
    add column count             int check (count >= 0),
    add column defects           jsonb not null default '[]',
    add column tags              jsonb not null default '{}',
    add column pieces_made       bigint not null default 0,
    add column skipped_because   text check (length(skipped_because) between 1 and 2000),
    add column withdrawn_at      timestamptz,
    add column withdrawn_by      uuid references person,
    add column withdrawn_because text check (length(withdrawn_because) between 1 and 2000),
    add column version           int not null default 1,
    add column gap               boolean not null generated always as
                                 (skipped_because is not null or withdrawn_at is not null) stored,
    add constraint sample_readings check (cardinality(readings) > 0 and cardinality(array_remove(readings, null)) > 0),
    add constraint sample_content check (num_nonnulls(readings, count, skipped_because) = 1),
    add constraint sample_count check ((count is null) = (inspected is null)),
    add constraint sample_withdrawn check (num_nulls(withdrawn_at, withdrawn_by, withdrawn_because) in (0, 3));

create table correction (
    id        uuid primary key,
    sample_id uuid not null references sample,
    at        timestamptz not null,
    person_id uuid not null references person,
    reason    text not null check (length(reason) between 1 and 2000),
    old       jsonb not null,
    new       jsonb not null
);
create index correction_of_sample on correction (sample_id, at);

-- Limits and signals of counts have no sigma of their own. ---------------------------------------

alter table limits
    drop constraint limits_check1,
    add constraint limits_in_force check (num_nulls(center, put_in_force_at, put_in_force_by) in (0, 3)),
    add constraint limits_figures check (center is not null or num_nulls(sigma, used) = 2);

alter table signal
    drop constraint signal_panel_check,
    add constraint signal_panel check (panel in ('mean', 'median', 'individual', 'range', 'sd', 'moving_range',
        'proportion', 'count', 'rate')),
    alter column sigma drop not null;
