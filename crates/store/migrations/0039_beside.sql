-- The latest points of a stretch before one rank and the first after another, so many of each at most, each with whether a
-- gap lies between it and the one before it on its side, and whether that bears a restart. One plain query, so that it
-- becomes part of those that ask for it: alone, or with the sample that is saved between them.
create function beside(
    characteristic uuid,
    before_at timestamptz, before_number bigint, after_at timestamptz, after_number bigint,
    starts_at timestamptz, ends_before timestamptz,
    most_before bigint, most_after bigint
) returns table (
    is_later boolean, id uuid, number bigint, taken_at timestamptz, readings double precision[], count int, inspected int,
    distance double precision, part text, aside boolean, restart boolean, sums double precision[], gap boolean,
    last_signal timestamptz
) language sql stable as $$
    with earlier as (
        select * from sample s
        where s.characteristic_id = characteristic and not s.gap
          and (s.taken_at, s.number) < (coalesce(before_at, 'infinity'::timestamptz), before_number)
          and s.taken_at < coalesce(ends_before, 'infinity'::timestamptz)
          and s.taken_at >= coalesce(starts_at, '-infinity'::timestamptz)
        order by s.taken_at desc, s.number desc limit most_before),
    later as (
        select * from sample s
        where s.characteristic_id = characteristic and not s.gap
          and (s.taken_at, s.number) > (coalesce(after_at, 'infinity'::timestamptz), after_number)
          and s.taken_at < coalesce(ends_before, 'infinity'::timestamptz)
          and s.taken_at >= coalesce(starts_at, '-infinity'::timestamptz)
        order by s.taken_at, s.number limit most_after),
    -- Each with the stretch that a gap beside it lies in.
    places as (
        select false as is_later, e.*, e.taken_at as from_at, e.number as from_number,
               lag(e.taken_at, 1, coalesce(before_at, 'infinity'::timestamptz)) over back as until_at,
               lag(e.number, 1, before_number) over back as until_number
        from earlier e window back as (order by e.taken_at desc, e.number desc)
        union all
        select true, l.*, lag(l.taken_at, 1, after_at) over ahead, lag(l.number, 1, after_number) over ahead, l.taken_at,
               l.number
        from later l window ahead as (order by l.taken_at, l.number))
    select p.is_later, p.id, p.number, p.taken_at, p.readings, p.count, p.inspected, p.distance, p.tags ->> 'part', p.aside,
           p.restart, p.sums,
           (select bool_or(g.restart) from sample g where g.characteristic_id = characteristic and g.gap
                   and (g.taken_at, g.number) > (p.from_at, p.from_number)
                   and (g.taken_at, g.number) < (p.until_at, p.until_number)),
           -- Once, beside what is read anyway: most windows hold no signal, and need not be asked for them.
           (select g.to_taken_at from signal g where g.characteristic_id = characteristic order by g.to_taken_at desc limit 1)
    from places p
$$;
