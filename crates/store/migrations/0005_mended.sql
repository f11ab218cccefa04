-- Gaps are looked past; whether there was one between two samples is asked when either is judged.
create index sample_gaps on sample (characteristic_id, taken_at, number) where gap;
