import { beforeEach, describe, expect, it, vi } from 'vitest';
import { device, freshDraft, keepDraft, loadDraft } from './draft';

const kept = new Map<string, string>();

beforeEach(() => {
  kept.clear();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
    removeItem: (key: string) => kept.delete(key),
  });
});

describe('a draft', () => {
  it('is there again with its entry id after the page was left', () => {
    const draft = { ...freshDraft(3), readings: ['6.2', '6,3', ''], sentAt: '2026-03-02T08:00:00Z' };
    keepDraft('wall', draft);
    expect(loadDraft('wall', 3)).toEqual(draft);
  });

  it('is forgotten once nothing is typed', () => {
    keepDraft('wall', { ...freshDraft(1), readings: ['6.2'] });
    keepDraft('wall', freshDraft(1));
    expect(kept.size).toBe(0);
  });

  it.each(['{', '[]', '{"entry":1}', '{"entry":"a","readings":["1"],"sentAt":null}'])(
    'that cannot be read gives way to a fresh one: %s',
    (text) => {
      kept.set('nuvek.draft.wall', text);
      expect(loadDraft('wall', 3).readings).toEqual(['', '', '']);
    },
  );
});

it('a device keeps its number', () => {
  expect(device()).toBe(device());
});
