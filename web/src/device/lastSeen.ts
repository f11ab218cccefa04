import { database } from './database';

/** What was last seen, so that pages open without a network. */
export const lastSeen = {
  getItem: async (key: string): Promise<unknown> => (await database()).get('seen', key),
  setItem: async (key: string, value: unknown) => {
    await (await database()).put('seen', value, key);
  },
  removeItem: async (key: string) => (await database()).delete('seen', key),
  /** What is too old is found by them, and thrown away. */
  entries: async (): Promise<[string, unknown][]> => {
    const { store } = (await database()).transaction('seen');
    const [keys, values] = await Promise.all([store.getAllKeys(), store.getAll()]);
    return keys.map((key, i) => [key, values[i]]);
  },
  clear: async () => (await database()).clear('seen'),
};
