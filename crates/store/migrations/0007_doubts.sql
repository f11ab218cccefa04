-- Readings that were doubted when they came: not usual and kept, or changed when somebody was asked.
alter table sample add column doubts jsonb not null default '[]';
