-- Shared terminals: who may take over by PIN or badge, where they once signed in by password. ----

alter table person
    add column pin_hash  text,
    add column pin_tries int not null default 0 check (pin_tries >= 0),
    add column badge     text unique check (badge ~ '^[0-9A-Z]{4,32}$');

-- A terminal is known by a secret that its browser keeps; only the hash is stored.
create table terminal_person (
    terminal_hash bytea not null,
    person_id     uuid not null references person,
    since         timestamptz not null,
    primary key (terminal_hash, person_id)
);
