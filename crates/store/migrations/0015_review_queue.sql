-- The queue of those who review: what was sent back first, then the oldest. ------------------------------------------

alter table episode
    -- Some of what it tells of was sent back once.
    add column sent_back boolean not null default false;
update episode e set sent_back = true where exists (
    select from signal g join review_of o on o.signal_id = g.id join review r on r.id = o.review_id
    where g.episode_id = e.id and r.decision = 'sent_back');
create index episode_queue on episode (sent_back desc, raised_at, id)
    where state in ('sent_back', 'open', 'found_late', 'answered');

-- What a person looks for again and again.
create table saved_filter (
    id        uuid primary key,
    person_id uuid not null references person,
    name      text not null check (length(name) between 1 and 80),
    -- As the address of the list holds it.
    query     text not null check (length(query) between 1 and 2000),
    constraint saved_filter_named unique (person_id, name)
);
