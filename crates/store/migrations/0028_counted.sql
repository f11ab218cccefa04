-- What was counted, summed up by quarters of an hour, so that a million samples need not be read for a dozen sums.
-- Every zone's midnights, weeks and months begin with one. Gaps are not in; samples that are set aside stand apart.

create table counted (
    characteristic_id uuid not null references characteristic,
    quarter           timestamptz not null,
    aside             boolean not null,
    samples           bigint not null,
    inspected         bigint not null,
    count             bigint not null,
    primary key (characteristic_id, quarter, aside)
) with (fillfactor = 80);

-- Of each kind, by its identity in the set-up, or in words.
create table counted_kind (
    characteristic_id uuid not null references characteristic,
    quarter           timestamptz not null,
    aside             boolean not null,
    kind              text not null,
    count             bigint not null,
    primary key (characteristic_id, quarter, aside, kind)
) with (fillfactor = 80);

create function quarter_of(at timestamptz) returns timestamptz
    language sql immutable parallel safe
    return date_bin('15 minutes', at, timestamptz '2000-01-03 00:00:00+00');

-- Takes a sample into the sums, or out of them.
create function sum_up(of sample, times int) returns void language plpgsql as $$
begin
    if of.count is null or of.gap then
        return;
    end if;
    insert into counted as c (characteristic_id, quarter, aside, samples, inspected, count)
    values (of.characteristic_id, quarter_of(of.taken_at), of.aside, times, times * of.inspected::bigint, times * of.count::bigint)
    on conflict (characteristic_id, quarter, aside) do update
        set samples = c.samples + excluded.samples, inspected = c.inspected + excluded.inspected,
            count = c.count + excluded.count;
    insert into counted_kind as c (characteristic_id, quarter, aside, kind, count)
    select of.characteristic_id, quarter_of(of.taken_at), of.aside, coalesce(d->>'kind', d->>'word'),
           times * sum((d->>'count')::bigint)
    from jsonb_array_elements(of.defects) d group by 4
    on conflict (characteristic_id, quarter, aside, kind) do update set count = c.count + excluded.count;
end $$;

create function sum_up_sample() returns trigger language plpgsql as $$
begin
    if tg_op = 'UPDATE' then
        perform sum_up(old, -1);
    end if;
    perform sum_up(new, 1);
    return null;
end $$;

create trigger sample_counted after insert on sample
    for each row when (new.count is not null) execute function sum_up_sample();
create trigger sample_counted_otherwise
    after update of count, inspected, defects, aside, taken_at, skipped_because, withdrawn_at on sample
    for each row when (old.count is not null or new.count is not null) execute function sum_up_sample();

insert into counted (characteristic_id, quarter, aside, samples, inspected, count)
select characteristic_id, quarter_of(taken_at), aside, count(*), sum(inspected), sum(count)
from sample where count is not null and not gap group by 1, 2, 3;

insert into counted_kind (characteristic_id, quarter, aside, kind, count)
select s.characteristic_id, quarter_of(s.taken_at), s.aside, coalesce(d->>'kind', d->>'word'), sum((d->>'count')::bigint)
from sample s cross join jsonb_array_elements(s.defects) d
where s.count is not null and not s.gap group by 1, 2, 3, 4;
