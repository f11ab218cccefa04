-- Gaps are looked past; whether there was one between two samples is asked when either is judged.
create index sample_gaps on sample (characteristic_id, taken_at, number) where gap;

-- The chain of the site is there from the start: it lists the others.
insert into trail_head (chain, position, hash) values ('00000000-0000-0000-0000-000000000000', 0, '')
    on conflict do nothing;
