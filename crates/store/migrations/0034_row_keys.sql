-- Rows of a table that are known again by what stands in some of their columns, wherever they stand.

alter table recipe
    add column key text[] not null default '{}',
    add constraint recipe_key check (cardinality(key) <= 20);
alter table recipe_version add column key text[] not null default '{}';
alter table import add column key text[] not null default '{}';
