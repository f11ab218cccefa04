-- A run of the laboratory is one episode an analyte: what the multirule found, and what the charts of its levels did.
-- What an older database holds stays as it was raised. -------------------------------------------------------------

alter table signal
    -- The run whose judgement raised it; nothing where a chart did.
    add column run_id uuid references run;
create unique index signal_of_run on signal (run_id, characteristic_id, (rule->>'rule')) where run_id is not null;

alter table episode
    add column run_id uuid references run,
    add column analyte_id uuid references analyte,
    add constraint episode_of_run check ((run_id is null) = (analyte_id is null));
create index episode_of_run_id on episode (run_id, analyte_id) where run_id is not null;

-- Which rules are seldom broken, so that a list narrowed to one is looked for from there.
create index signal_by_rule on signal ((rule->>'kind'), episode_id);
