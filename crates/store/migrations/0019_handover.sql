-- From shift to shift: words that one leaves to the next, and who has read what stood there. -----------

create table handover_word (
    id          uuid primary key,
    -- The shift it was written for, by when it began.
    shift_began timestamptz not null,
    -- Nothing: for all areas.
    area_id     uuid references area,
    person_id   uuid not null references person,
    at          timestamptz not null,
    text        text not null check (length(text) between 1 and 2000),
    entry       uuid not null constraint handover_word_entry_once unique
);
create index handover_word_of_shift on handover_word (shift_began, at);

create table handover_read (
    id          uuid primary key,
    shift_began timestamptz not null,
    person_id   uuid not null references person,
    at          timestamptz not null,
    -- Episodes that stood open before them.
    open        uuid[] not null,
    constraint handover_read_once unique (shift_began, person_id)
);
