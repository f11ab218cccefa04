-- Notes are answered, changed by who wrote them, and meant for somebody. ---------------------------

alter table note
    -- The note that it answers, of the same sample; answers to answers hang on the first one.
    add column answers_to uuid references note,
    add column version    int not null default 1 check (version > 0),
    add column changed_at timestamptz;
create index note_answers on note (answers_to) where answers_to is not null;

create table note_mention (
    note_id   uuid not null references note,
    person_id uuid not null references person,
    primary key (note_id, person_id)
);

alter table notice
    add column note_id uuid references note,
    drop constraint notice_kind_check,
    add constraint notice_kind_check check (kind in ('episode_raised', 'open_too_long', 'sent_back', 'overruled',
        'run_rejected', 'cause_proposed', 'mentioned')),
    drop constraint notice_check,
    add constraint notice_check check (num_nonnulls(episode_id, run_id, cause_id, note_id) = 1);
