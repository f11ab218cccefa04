-- Folders that are watched for tables.

alter table device
    drop constraint device_kind_check,
    add constraint device_kind_check check (kind in ('ingest', 'gauge', 'analyser', 'sensor', 'display', 'folder'));
