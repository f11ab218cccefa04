import { type DBSchema, type IDBPDatabase, openDB } from 'idb';

interface Schema extends DBSchema {
  /** Entries that the server has not confirmed, in the order in which they were made. */
  waiting: { key: number; value: { entry: string }; indexes: { entry: string } };
  /** Answers of the server, as they were seen last. */
  seen: { key: string; value: unknown };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;

/** What this device keeps over its pages and its nights. */
export function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('nuvek', 1, {
    upgrade(db) {
      db.createObjectStore('waiting', { autoIncrement: true }).createIndex('entry', 'entry', { unique: true });
      db.createObjectStore('seen');
    },
  });
  return opened;
}
