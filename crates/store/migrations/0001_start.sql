-- Where and what. ------------------------------------------------------------------------------

create table area (
    id   uuid primary key,
    name text not null unique
);

create table station (
    id      uuid primary key,
    area_id uuid not null references area,
    name    text not null unique,
    place   int  not null default 0
);

create table product (
    id   uuid primary key,
    name text not null unique
);

create table person (
    id            uuid primary key,
    login         text not null unique check (login = lower(login) and login <> ''),
    name          text not null check (name <> ''),
    role          text not null check (role in ('technician', 'supervisor', 'engineer', 'administrator')),
    password_hash text not null,
    active        boolean not null default true
);

create table characteristic (
    id                uuid primary key,
    station_id        uuid not null references station,
    product_id        uuid not null references product,
    name              text not null check (name <> ''),
    unit              text not null,
    decimals          smallint not null check (decimals between 0 and 9),
    chart             text not null check (chart in ('xbar_r', 'i_mr')),
    subgroup_size     int not null check (subgroup_size between 1 and 200),
    rule_set          jsonb not null,
    interval_minutes  int not null check (interval_minutes > 0),
    hard_lower        double precision,
    hard_upper        double precision,
    soft_lower        double precision,
    soft_upper        double precision,
    reaction_plan     text[] not null default '{}',
    created_at        timestamptz not null,
    -- Also the row that savers of one characteristic queue on.
    next_number       bigint not null default 1,
    unique (station_id, product_id, name),
    check ((chart = 'i_mr') = (subgroup_size = 1)),
    check (hard_lower < hard_upper),
    check (soft_lower < soft_upper)
);

-- Limits. --------------------------------------------------------------------------------------

create table phase (
    id                uuid primary key,
    characteristic_id uuid not null references characteristic,
    name              text not null check (name <> ''),
    starts_at         timestamptz not null,
    unique (characteristic_id, starts_at)
);

-- Trial limits have no figures of their own: they move with every point.
create table limits (
    id              uuid primary key,
    phase_id        uuid not null references phase,
    state           text not null check (state in ('trial', 'in_force', 'retired')),
    k               double precision not null check (k > 0),
    center          double precision,
    sigma           double precision check (sigma > 0),
    sigma_method    text not null,
    used            int check (used > 0),
    put_in_force_at timestamptz,
    put_in_force_by uuid references person,
    check ((state = 'trial') = (center is null)),
    check (num_nulls(center, sigma, used, put_in_force_at, put_in_force_by) in (0, 5))
);
create unique index limits_current on limits (phase_id) where state <> 'retired';

-- Samples: the readings of a sample in one row. -------------------------------------------------

create table sample (
    id                uuid primary key,
    characteristic_id uuid not null references characteristic,
    number            bigint not null check (number > 0),
    device            uuid not null,
    entry             uuid not null,
    taken_at          timestamptz not null,
    arrived_at        timestamptz not null,
    person_id         uuid not null references person,
    readings          double precision[] not null
                      check (cardinality(readings) > 0 and array_position(readings, null) is null),
    unique (characteristic_id, number),
    constraint sample_entry_once unique (device, entry)
);
-- The order of points: time of the sample, then arrival.
create index sample_in_order on sample (characteristic_id, taken_at, number);

create table note (
    id        uuid primary key,
    sample_id uuid not null references sample,
    person_id uuid not null references person,
    at        timestamptz not null,
    text      text not null check (length(text) between 1 and 2000)
);
create index note_of_sample on note (sample_id);

-- Signals, answers, reviews. ---------------------------------------------------------------------

create table cause (
    id    uuid primary key,
    name  text not null unique check (name <> ''),
    place int not null default 0
);

-- A signal keeps the figures it was raised against, whatever happens to the limits later.
create table signal (
    id                uuid primary key,
    characteristic_id uuid not null references characteristic,
    panel             text not null check (panel in ('mean', 'individual', 'range', 'moving_range')),
    rule              jsonb not null,
    side              text check (side in ('above', 'below', 'rising', 'falling')),
    from_sample       uuid not null references sample,
    at_sample         uuid not null references sample,
    to_sample         uuid not null references sample,
    at_taken_at       timestamptz not null,
    to_taken_at       timestamptz not null,
    raised_at         timestamptz not null,
    limits_id         uuid not null references limits,
    center            double precision not null,
    sigma             double precision not null,
    k                 double precision not null,
    trial             boolean not null,
    late              boolean not null,
    state             text not null default 'open' check (state in ('open', 'answered', 'reviewed')),
    version           int not null default 1,
    answered_by       uuid references person,
    withdrawn_at      timestamptz,
    withdrawn_because uuid references sample,
    check (state <> 'answered' or answered_by is not null),
    check ((withdrawn_at is null) = (withdrawn_because is null))
);
create index signal_in_order on signal (characteristic_id, to_taken_at) where withdrawn_at is null;
create index signal_waiting on signal (characteristic_id) where state = 'open' and withdrawn_at is null;
create index signal_by_state on signal (state, raised_at desc);
create index signal_by_time on signal (raised_at desc);

create table answer (
    id            uuid primary key,
    signal_id     uuid not null references signal,
    person_id     uuid not null references person,
    at            timestamptz not null,
    cause_id      uuid references cause,
    cause_text    text check (length(cause_text) between 1 and 2000),
    nothing_found boolean not null,
    action        text not null check (length(action) between 1 and 2000),
    unique (id, signal_id, person_id),
    check (num_nonnulls(cause_id, cause_text, nullif(nothing_found, false)) = 1)
);
create index answer_of_signal on answer (signal_id, at);

create table review (
    id          uuid primary key,
    signal_id   uuid not null,
    answer_id   uuid not null unique,
    answered_by uuid not null,
    person_id   uuid not null references person,
    at          timestamptz not null,
    decision    text not null check (decision in ('accepted', 'overruled', 'sent_back')),
    remark      text check (length(remark) between 1 and 2000),
    foreign key (answer_id, signal_id, answered_by) references answer (id, signal_id, person_id),
    constraint review_not_own check (person_id <> answered_by),
    check (decision = 'accepted' or remark is not null)
);
create index review_of_signal on review (signal_id, at);

-- The trail: append-only, one hash chain for each characteristic and one for the site. -----------

create table trail_head (
    chain    uuid primary key,
    position bigint not null,
    hash     text not null
);

create table trail (
    chain     uuid not null,
    position  bigint not null,
    at        timestamptz not null,
    person_id uuid references person,
    action    text not null,
    object    uuid not null,
    detail    text not null,
    hash      text not null,
    primary key (chain, position)
);
create index trail_by_time on trail (at desc, chain, position desc);

create function trail_is_append_only() returns trigger language plpgsql as $$
begin
    raise exception 'the trail is append-only' using errcode = 'integrity_constraint_violation';
end $$;
create trigger trail_is_append_only before update or delete on trail
    for each row execute function trail_is_append_only();
create trigger trail_is_not_emptied before truncate on trail
    for each statement execute function trail_is_append_only();

-- Access. ----------------------------------------------------------------------------------------

create table session (
    token_hash bytea primary key,
    data       jsonb not null,
    expires_at timestamptz not null
);
create index session_by_expiry on session (expires_at);

create table sign_in_attempt (
    login   text not null,
    address text not null,
    at      timestamptz not null
);
create index sign_in_attempt_recent on sign_in_attempt (login, address, at);
create index sign_in_attempt_by_time on sign_in_attempt (at);
