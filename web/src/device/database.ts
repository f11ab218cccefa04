import { type DBSchema, type IDBPDatabase, openDB } from 'idb';

interface Schema extends DBSchema {
  /** Entries that the server has not confirmed, in the order in which they were made. */
  waiting: { key: number; value: { entry: string }; indexes: { entry: string } };
  /** Answers of the server, as they were seen last. */
  seen: { key: string; value: unknown };
  /** Photos and documents that go with an answer which is not given yet, by their ids. */
  files: { key: string; value: Blob };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;

/** What this device keeps over its pages and its nights. */
export function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('nuvek', 2, {
    upgrade(db, before) {
      if (before < 1) {
        db.createObjectStore('waiting', { autoIncrement: true }).createIndex('entry', 'entry', { unique: true });
        db.createObjectStore('seen');
      }
      db.createObjectStore('files');
    },
    // Another page of an older program holds it: that one lets go.
    blocking: (_, __, event) => (event.target as IDBDatabase).close(),
  });
  return opened;
}
