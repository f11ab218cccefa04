-- Gaps are looked past; whether there was one between two samples is asked when either is judged.
create index sample_gaps on sample (characteristic_id, taken_at, number) where gap;

-- The chain of the site is there from the start: it lists the others.
insert into trail_head (chain, position, hash) values ('00000000-0000-0000-0000-000000000000', 0, '')
    on conflict do nothing;

-- Tries to sign in: a try that fits takes itself back, and no other.
alter table sign_in_attempt add column id bigint generated always as identity primary key;
drop index sign_in_attempt_recent;
create index sign_in_attempt_of_place on sign_in_attempt (address, login, at);

-- Badge numbers that can be guessed are taken away; their people set a longer one.
update person set badge = null where length(badge) < 8;

-- An answer that was sent back is decided on once more when its signal is gone meanwhile.
alter table review drop constraint review_answer_id_key;
create unique index review_of_answer on review (answer_id) where decision <> 'sent_back';
create index review_by_answer on review (answer_id);

-- A note that is sent twice is kept once.
alter table note add column entry uuid;
alter table note add constraint note_entry_once unique (entry);

-- A cause may belong to an area: nobody looks for the kiln's burner in the slip.
alter table cause add column area_id uuid references area;
