-- People: readers, where somebody belongs, passwords that were given and not chosen. -----------------

alter table person
    drop constraint person_role,
    add constraint person_role
        check (role in ('technician', 'supervisor', 'engineer', 'administrator', 'reader', 'device')),
    -- Counts its changes; who changes it names the one that was seen.
    add column version int not null default 1 check (version > 0),
    add column bound boolean not null default false,
    add column password_is_first boolean not null default false,
    add constraint person_bound check (not bound or role = 'technician');

-- An area stands for all its stations, also those that are set up later.
create table belonging (
    person_id  uuid not null references person,
    area_id    uuid references area,
    station_id uuid references station,
    check (num_nonnulls(area_id, station_id) = 1),
    constraint belonging_once unique nulls not distinct (person_id, area_id, station_id)
);

-- Sessions of a person are ended together.
create index session_of_person on session ((data->>'person'));
