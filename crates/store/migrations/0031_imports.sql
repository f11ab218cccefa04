-- Samples that are brought in from tables, and the recipes for that.

create table recipe (
    id         uuid primary key,
    name       text not null,
    version    int not null default 1,
    -- As docs/data.md describes it.
    body       jsonb not null,
    changed_by uuid not null references person,
    changed_at timestamptz not null,
    constraint recipe_name_key unique (name),
    constraint recipe_name check (length(name) between 1 and 80)
);

create table recipe_version (
    recipe_id uuid not null references recipe,
    version   int not null,
    body      jsonb not null,
    person_id uuid not null references person,
    at        timestamptz not null,
    primary key (recipe_id, version)
);

-- A file as it came, until what was made of it has stood for a while.
create table import_file (
    id        uuid primary key,
    name      text not null check (length(name) between 1 and 200),
    content   bytea not null,
    digest    text not null,
    person_id uuid not null references person,
    at        timestamptz not null
);

create table import (
    id                uuid primary key,
    characteristic_id uuid not null references characteristic,
    file_name         text not null,
    -- SHA-256 of the file, in hex.
    file_digest       text not null,
    -- The list that its rows belong to: the same file grown is the same list.
    source            text not null check (length(source) between 1 and 200),
    recipe            jsonb not null,
    recipe_id         uuid references recipe,
    -- Times were stated for all rows, since the table tells none.
    stated            jsonb,
    person_id         uuid not null references person,
    at                timestamptz not null,
    state             text not null check (state in ('staged', 'waiting', 'done', 'cancelled', 'failed')),
    ended_at          timestamptz,
    -- Of the rows of the table: stored now, known before, known but changed since, refused.
    stored            int not null check (stored >= 0),
    known             int not null check (known >= 0),
    changed           int not null check (changed >= 0),
    refused           int not null check (refused >= 0),
    first_number      bigint not null,
    -- SHA-256 over what its samples held at first, in hex, once they are staged.
    samples_digest    text
);
create index import_in_order on import (at desc, id);
create index import_of on import (characteristic_id, at desc);

-- Samples of an import that has not been made yet.
create table import_sample (
    import_id       uuid not null references import on delete cascade,
    id              uuid not null,
    number          bigint not null,
    entry           uuid not null,
    taken_at        timestamptz not null,
    readings        double precision[],
    inspected       int,
    count           int,
    defects         jsonb not null,
    tags            jsonb not null,
    event           boolean not null,
    distance        double precision,
    skipped_because text,
    source_row      int,
    source_digest   bytea not null,
    primary key (import_id, number)
);

alter table sample
    add column import_id uuid references import,
    -- Where it stood in its table, and what its cells said.
    add column source_row int,
    add column source_digest bytea,
    add constraint sample_imported check ((import_id is null) = (source_digest is null));
create index sample_of_import on sample (import_id, number) where import_id is not null;
