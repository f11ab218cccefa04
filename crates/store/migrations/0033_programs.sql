-- Programs that read with a token.

alter table device
    drop constraint device_kind_check,
    add constraint device_kind_check
        check (kind in ('ingest', 'gauge', 'analyser', 'sensor', 'display', 'folder', 'program')),
    drop constraint device_token,
    add constraint device_token check ((kind in ('ingest', 'display', 'program')) = (token_hash is not null));
