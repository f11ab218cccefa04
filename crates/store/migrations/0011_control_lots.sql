-- A new control lot runs beside the old one before it takes over: a level of its own meanwhile, judged by no run.
alter table level
    add column beside       uuid references level,
    add column lot          text check (lot <> ''),
    add column took_over_at timestamptz,
    drop constraint level_place_check,
    add constraint level_place check (place between 1 and 99),
    add constraint level_lot check ((beside is null) = (lot is null)),
    add constraint level_took_over check (took_over_at is null or beside is not null);
create unique index level_beside on level (beside) where took_over_at is null;

-- A laboratory's own sd is that of all its accepted results.
update characteristic set options = options || '{"sigma_method": "overall"}'
    where id in (select characteristic_id from level);
