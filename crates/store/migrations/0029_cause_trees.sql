-- Cause trees: a problem with its facts, and ideas under ideas of what may cause it. ----------------------------

create table cause_tree (
    id                uuid primary key,
    name              text not null check (name <> ''),
    facts             jsonb not null,
    -- What it was started from, and where that is.
    origin            jsonb,
    characteristic_id uuid references characteristic,
    -- The tree that it is a copy of.
    copy_of           uuid references cause_tree,
    version           int not null default 1 check (version > 0),
    made_at           timestamptz not null,
    made_by           uuid not null references person
);
create index cause_tree_by_time on cause_tree (made_at desc, id desc);

create table idea (
    id         uuid primary key,
    tree_id    uuid not null references cause_tree,
    parent_id  uuid references idea,
    place      double precision not null,
    text       text not null check (length(text) <= 300),
    -- Where a branch stands for a group of causes.
    cause_group text,
    state      text not null,
    owner_id   uuid references person,
    due        date,
    evidence   jsonb not null default '[]',
    actions    jsonb not null default '[]',
    -- The entry of the catalogue of causes that was made of it.
    cause_id   uuid references cause,
    version    int not null default 1 check (version > 0),
    changed_at timestamptz not null,
    changed_by uuid not null references person,
    -- It was taken out of the tree, with all that hung on it.
    removed    boolean not null default false
);
create index idea_of_tree on idea (tree_id) where not removed;
create index idea_waiting on idea (owner_id) where state = 'to_check' and not removed;
