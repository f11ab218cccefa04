-- Studies: saved questions about samples, with the answer that was found and the data it was found from. ----

create table study (
    id          uuid primary key,
    sort        text not null,
    name        text not null check (name <> ''),
    remark      text check (length(remark) between 1 and 2000),
    question    jsonb not null,
    -- As it was found, letter by letter: signatures and the trail rest on its digest.
    answer      text not null,
    state       jsonb not null,
    answered_at timestamptz not null,
    answered_by uuid not null references person,
    made_at     timestamptz not null,
    made_by     uuid not null references person,
    version     int not null default 1 check (version > 0),
    -- The study that it is a copy of, which stays as it is.
    frozen_of   uuid references study
);
create index study_by_time on study (made_at desc, id desc);
create index study_copies on study (frozen_of) where frozen_of is not null;

-- What it is about.
create table study_of (
    study_id          uuid not null references study,
    characteristic_id uuid not null references characteristic,
    primary key (study_id, characteristic_id)
);
create index study_of_characteristic on study_of (characteristic_id);

create table study_signature (
    id        uuid primary key,
    study_id  uuid not null references study,
    person_id uuid not null references person,
    -- As they were called then.
    name      text not null,
    at        timestamptz not null,
    -- SHA-256 of the answer that was signed.
    digest    text not null,
    constraint study_signature_once unique (study_id, person_id)
);

-- From where on a process counts as able.
alter table characteristic add column thresholds jsonb not null default '{"able": 1.33, "barely": 1.0}';
