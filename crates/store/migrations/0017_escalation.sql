-- What is open too long is raised to the supervisors, once. -----------------------------------------------------------

alter table characteristic
    -- Minutes.
    add column escalates_after smallint not null default 30 check (escalates_after between 1 and 1440);
alter table episode add column escalated_at timestamptz;
-- What was open before supervisors were told of it is told once.
create index episode_escalates on episode (raised_at)
    where state in ('open', 'sent_back') and not gone and not trial and escalated_at is null;
