-- Many samples at once: what each of them would look up by itself is looked up once.

-- The newest sample of a characteristic that was not withdrawn, so that rounds do not look for it among those of an
-- import that is still under way.
alter table sample_head
    add column newest_at     timestamptz,
    -- Pieces made at the station when it was taken.
    add column newest_pieces bigint,
    add constraint sample_head_newest check ((newest_at is null) = (newest_pieces is null));
update sample_head h set (newest_at, newest_pieces) = (
    select taken_at, pieces_made from sample s
    where s.characteristic_id = h.characteristic_id and withdrawn_at is null
    order by taken_at desc, number desc limit 1);

-- What a sample belongs to is looked up once a statement, not three times a row; and what samples may belong to is
-- never taken away, so that nobody has to hold it meanwhile.
alter table sample
    drop constraint sample_characteristic_id_fkey,
    drop constraint sample_person_id_fkey,
    drop constraint sample_import_id_fkey;

create function sample_belongs() returns trigger language plpgsql as $$
declare
    nowhere text;
begin
    select case when c.id is null then 'characteristic' when p.id is null then 'person' else 'import' end into nowhere
    from (select distinct characteristic_id, person_id, import_id from written) w
    left join characteristic c on c.id = w.characteristic_id
    left join person p on p.id = w.person_id
    left join import i on i.id = w.import_id
    where c.id is null or p.id is null or (i.id is null and w.import_id is not null)
    limit 1;
    if found then
        raise foreign_key_violation using
            message = format('a sample of a missing %s', nowhere),
            table = 'sample', constraint = format('sample_of_%s', nowhere);
    end if;
    return null;
end $$;
create trigger sample_belongs after insert on sample
    referencing new table as written for each statement execute function sample_belongs();

create function sample_stays() returns trigger language plpgsql as $$
begin
    raise integrity_constraint_violation using
        message = format('%s: what samples belong to stays', tg_table_name),
        table = tg_table_name, constraint = format('%s_of_samples', tg_table_name);
end $$;
create trigger sample_stays before update of characteristic_id, person_id, import_id on sample
    for each row execute function sample_stays();
create trigger of_samples before delete or update of id on characteristic for each row execute function sample_stays();
create trigger of_samples before delete or update of id on person for each row execute function sample_stays();
create trigger of_samples before delete or update of id on import for each row execute function sample_stays();

-- Staged samples are there until they are samples, or given up; their import is never taken away.
alter table import_sample drop constraint import_sample_import_id_fkey;
