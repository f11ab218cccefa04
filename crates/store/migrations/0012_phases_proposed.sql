-- Kinds of events that propose a phase; nothing begins one by itself.
alter table characteristic add column phase_events uuid[] not null default '{}';

-- Somebody looked, and began none.
create table phase_declined (
    characteristic_id uuid not null references characteristic,
    event_id          uuid not null references event,
    person_id         uuid not null references person,
    at                timestamptz not null,
    primary key (characteristic_id, event_id)
);
