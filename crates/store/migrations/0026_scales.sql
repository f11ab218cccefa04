-- The scale of a chart is kept with its set-up, for everybody. -------------------------------------

alter table characteristic add column scales jsonb not null default '[]' check (jsonb_typeof(scales) = 'array');
