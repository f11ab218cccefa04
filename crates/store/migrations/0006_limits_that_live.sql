-- How a characteristic is charted and judged. Another scheme holds from the next sample on; what held before is
-- kept, since points keep what they were judged by. -----------------------------------------------------------

alter table characteristic
    add column options jsonb not null default '{}',
    add column k       double precision not null default 3 check (k > 0),
    drop constraint characteristic_chart,
    add constraint characteristic_chart check (case kind
        when 'measured' then case
            when chart = 'i_mr' then subgroup_size = 1
            when chart in ('xbar_r', 'xbar_s', 'median_r', 'between_within') then subgroup_size > 1
            else chart in ('ewma', 'cusum', 'moving_average', 'run') end
        when 'nonconforming_units' then chart in ('np', 'p', 'p_prime')
        else chart in ('c', 'u', 'u_prime') end);
alter table characteristic alter column options drop default, alter column k drop default;

create table earlier_scheme (
    characteristic_id uuid not null references characteristic,
    -- It held for samples taken before.
    ends_at           timestamptz not null,
    chart             text not null,
    options           jsonb not null,
    rule_set          jsonb not null,
    k                 double precision not null check (k > 0),
    primary key (characteristic_id, ends_at)
);

-- Counts changes of limits and of what they rest on; a change names the version it was made on.
alter table sample_head add column limits_version int not null default 1;

-- One place on a chart. ----------------------------------------------------------------------------------------

alter table sample
    -- As set_aside and restart say; here too, since every judgement asks.
    add column aside   boolean not null default false,
    add column restart boolean not null default false,
    -- What an EWMA or CUSUM had come to with this point, so that saving the next one looks back no further.
    add column sums    double precision[] check (cardinality(sums) = 2);

create table set_aside (
    id            uuid primary key,
    sample_id     uuid not null references sample,
    at            timestamptz not null,
    person_id     uuid not null references person,
    cause_id      uuid references cause,
    cause_text    text check (length(cause_text) between 1 and 2000),
    taken_back_at timestamptz,
    taken_back_by uuid references person,
    check (num_nonnulls(cause_id, cause_text) = 1),
    check (num_nulls(taken_back_at, taken_back_by) in (0, 2))
);
create unique index set_aside_now on set_aside (sample_id) where taken_back_at is null;
create index set_aside_of_sample on set_aside (sample_id, at);

create table restart (
    id        uuid primary key,
    sample_id uuid not null references sample,
    at        timestamptz not null,
    person_id uuid not null references person,
    reason    text not null check (length(reason) between 1 and 2000),
    undone_at timestamptz,
    undone_by uuid references person,
    check (num_nulls(undone_at, undone_by) in (0, 2))
);
create unique index restart_now on restart (sample_id) where undone_at is null;
create index restart_of_sample on restart (sample_id, at);

-- Phases and limits. -------------------------------------------------------------------------------------------

alter table phase
    add column merged_at timestamptz,
    drop constraint phase_characteristic_id_starts_at_key;
create unique index phase_starts on phase (characteristic_id, starts_at) where merged_at is null;

alter table limits
    add column sigma_between   double precision check (sigma_between >= 0),
    add column mean_n          double precision check (mean_n > 0),
    add column shape           double precision check (shape > 0),
    add column scale           double precision check (scale > 0),
    add column lower           double precision,
    add column upper           double precision,
    -- What they were estimated from: points, and values in them (of counts, units inspected).
    add column baseline_points int check (baseline_points > 0),
    add column baseline_size   double precision check (baseline_size > 0),
    add column basis           jsonb not null default '{"from": "phase"}',
    add column name            text check (name <> ''),
    add column remark          text check (length(remark) between 1 and 2000),
    add column reason          text check (length(reason) between 1 and 2000),
    add column next_look       date,
    drop constraint limits_check,
    drop constraint limits_in_force,
    drop constraint limits_figures;
update limits l set baseline_points = l.used, baseline_size = l.used * c.subgroup_size
    from phase p join characteristic c on c.id = p.characteristic_id where p.id = l.phase_id;
update limits l set name = p.name from phase p where p.id = l.phase_id and l.put_in_force_at is not null;
update limits set basis = jsonb_build_object('from', 'given', 'source', 'Assigned to the control material',
        'figures', jsonb_build_object('center', center, 'sigma', sigma))
    where sigma_method = 'assigned';
alter table limits
    alter column basis drop default,
    drop column used,
    drop column k,
    add constraint limits_frozen check (num_nulls(put_in_force_at, put_in_force_by, name) in (0, 3)),
    add constraint limits_trial check (state <> 'trial' or put_in_force_at is null),
    add constraint limits_figures check ((put_in_force_at is null) = (num_nonnulls(center, shape) = 0)),
    add constraint limits_in_force check (state <> 'in_force' or put_in_force_at is not null),
    add constraint limits_sides check (lower < upper);

-- Signals. -----------------------------------------------------------------------------------------------------

alter table signal
    drop constraint signal_panel,
    add constraint signal_panel check (panel in ('mean', 'median', 'individual', 'range', 'sd', 'moving_range',
        'proportion', 'count', 'rate', 'ewma', 'cusum_up', 'cusum_down', 'moving_average', 'value')),
    add column withdrawn_reason text check (withdrawn_reason in ('late', 'corrected', 'withdrawn', 'set_aside',
        'taken_back', 'restart', 'limits', 'phase', 'scheme')),
    -- Who made a finding that counted go away: somebody else reviews that.
    add column cleared_by uuid references person,
    drop constraint signal_check1;
update signal g set withdrawn_reason = case
        when s.withdrawn_at is not null then 'withdrawn'
        when exists (select from correction c where c.sample_id = s.id) then 'corrected'
        else 'late' end
    from sample s where s.id = g.withdrawn_because;
alter table signal
    add constraint signal_withdrawn check ((withdrawn_at is null) = (withdrawn_reason is null)),
    add constraint signal_cleared check (cleared_by is null or withdrawn_at is not null);

-- Withdrawn ones are looked at too: they are taken up again where their finding holds again.
drop index signal_in_order;
create index signal_in_order on signal (characteristic_id, to_taken_at);

-- What made a finding go away is reviewed, answered or not.
alter table review alter column answer_id drop not null;

-- Points of a longer stretch that are judged again in the background; the change that asked for it is made when they are.
create table judging_again (
    id                bigint primary key generated always as identity,
    characteristic_id uuid not null references characteristic,
    change            jsonb not null,
    person_id         uuid not null references person,
    at                timestamptz not null,
    total             bigint not null check (total > 0),
    done              bigint not null default 0,
    failed            boolean not null default false
);
create index judging_again_of on judging_again (characteristic_id);
