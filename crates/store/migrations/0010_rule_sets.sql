-- Rule sets of one's own: named, kept in versions, used by many characteristics. ---------------------------------

create table rule_set (
    id   uuid primary key,
    name text not null unique check (length(name) between 1 and 80)
);

create table rule_set_version (
    rule_set_id uuid not null references rule_set,
    version     int not null check (version > 0),
    rules       jsonb not null,
    at          timestamptz not null,
    person_id   uuid not null references person,
    primary key (rule_set_id, version)
);

alter table characteristic
    -- The version of a named set that its rules are; nothing where they are its own.
    add column rule_set_id      uuid,
    add column rule_set_version int,
    add constraint characteristic_rule_set foreign key (rule_set_id, rule_set_version) references rule_set_version,
    add constraint characteristic_rule_set_whole check (num_nulls(rule_set_id, rule_set_version) in (0, 2));
