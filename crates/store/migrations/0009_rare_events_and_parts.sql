-- Rare events: how far each lies from the one before. Short runs: parts that share a chart. ---------------------

alter table characteristic
    add column parts jsonb not null default '[]',
    drop constraint characteristic_kind_check,
    add constraint characteristic_kind
        check (kind in ('measured', 'nonconforming_units', 'nonconformities', 'rare_event')),
    drop constraint characteristic_chart,
    add constraint characteristic_chart check (case kind
        when 'measured' then case
            when chart = 'i_mr' then subgroup_size = 1
            when chart in ('xbar_r', 'xbar_s', 'median_r', 'between_within') then subgroup_size > 1
            else chart in ('ewma', 'cusum', 'moving_average', 'run') end
        when 'nonconforming_units' then chart in ('np', 'p', 'p_prime')
        when 'rare_event' then chart in ('g', 't')
        else chart in ('c', 'u', 'u_prime') end);
alter table characteristic alter column parts drop default;

alter table sample
    add column event    boolean not null default false,
    -- Conforming units since the event before, as entered; or hours since it, which an event that comes late changes.
    add column distance double precision check (distance >= 0),
    drop constraint sample_content,
    add constraint sample_content check (num_nonnulls(readings, count, skipped_because) + event::int = 1),
    add constraint sample_distance check (event or distance is null);

