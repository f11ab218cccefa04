-- What a sample is judged by changes seldom. Whoever keeps it in memory sees by these whether it is still so: they are
-- others after each change, and never the same again.
alter table sample_head add column set_up uuid not null default gen_random_uuid();
alter table site add column set_up uuid not null default gen_random_uuid();

-- When, and only when, the change is committed: where one is only tried, aside, nobody waits for it.
create function set_up_of_characteristic() returns trigger language plpgsql as $$
declare
    it jsonb := to_jsonb(coalesce(new, old));
begin
    update sample_head set set_up = gen_random_uuid() where characteristic_id = coalesce(
        (it ->> 'characteristic_id')::uuid,
        (select characteristic_id from phase where id = (it ->> 'phase_id')::uuid),
        (it ->> 'id')::uuid);
    return null;
end $$;
create constraint trigger set_up after insert or update on characteristic
    deferrable initially deferred for each row execute function set_up_of_characteristic();
create constraint trigger set_up after insert or update or delete on earlier_scheme
    deferrable initially deferred for each row execute function set_up_of_characteristic();
create constraint trigger set_up after insert or update or delete on phase
    deferrable initially deferred for each row execute function set_up_of_characteristic();
create constraint trigger set_up after insert or update or delete on limits
    deferrable initially deferred for each row execute function set_up_of_characteristic();
create constraint trigger set_up after insert or update or delete on level
    deferrable initially deferred for each row execute function set_up_of_characteristic();

create function set_up_of_site() returns trigger language plpgsql as $$
begin
    update site set set_up = gen_random_uuid();
    return null;
end $$;
create constraint trigger set_up after update of name, time_zone on site
    deferrable initially deferred for each row execute function set_up_of_site();
create constraint trigger set_up after insert or update or delete on shift
    deferrable initially deferred for each row execute function set_up_of_site();
create constraint trigger set_up after update of name, area_id on station
    deferrable initially deferred for each row execute function set_up_of_site();
create constraint trigger set_up after update of name on product
    deferrable initially deferred for each row execute function set_up_of_site();
create constraint trigger set_up after update of name on person
    deferrable initially deferred for each row execute function set_up_of_site();
