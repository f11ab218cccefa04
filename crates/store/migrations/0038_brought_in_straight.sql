-- How far an import is whose samples are brought in straight away. It is for the eye, and written beside the one
-- transaction that brings them in; what is left of it after a crash says nothing.
create unlogged table import_progress (
    import_id uuid primary key,
    -- A sample is copied, and judged: two steps.
    done      bigint not null check (done >= 0)
);

-- The numbers of an import follow one another: it is found by them, and a million samples need one index less.
drop index sample_of_import;
