import { describe, expect, it } from 'vitest';
import { device } from '../../device/id';
import { storageInMemory } from '../../device/storageInMemory';
import { counted, draftOf, type Form, freshDraft, keepDraft, loadDraft, pasted, tap, typed, undo } from './draft';

const kept = storageInMemory();
const form: Form = { pieces: 3, components: 0, tags: { lot: 'K-17' } };

describe('a draft', () => {
  it('is there again with its entry id after the page was left', () => {
    const draft = { ...freshDraft(form), readings: ['6.2', '6,3', ''], leftOut: [3] };
    keepDraft('tilda', 'wall', draft);
    expect(loadDraft('tilda', 'wall', form)).toEqual(draft);
  });

  it('belongs to who typed it', () => {
    keepDraft('tilda', 'wall', { ...freshDraft(form), readings: ['6.2', '', ''] });
    expect(loadDraft('milo', 'wall', form).readings).toEqual(['', '', '']);
  });

  it('is forgotten once nothing is typed', () => {
    keepDraft('tilda', 'wall', { ...freshDraft(form), readings: ['6.2', '', ''] });
    keepDraft('tilda', 'wall', freshDraft(form));
    expect(kept.size).toBe(0);
  });

  it.each(['{', '[]', '{"entry":1}', '{"entry":"a","readings":["1"]}'])(
    'that cannot be read gives way to a fresh one: %s',
    (text) => {
      kept.set('nuvek.draft.tilda.wall', text);
      expect(loadDraft('tilda', 'wall', form).readings).toEqual(['', '', '']);
    },
  );

  it('remembers tags from the sample before', () => {
    expect(freshDraft(form).tags).toEqual({ lot: 'K-17' });
  });
});

it('a sample that was refused later is a draft again, under a new entry, with its time', () => {
  const draft = { ...freshDraft(form), readings: ['6.2', '6,3', '7'] };
  const takenAt = '2026-09-21T08:00:00Z';
  const again = draftOf(
    { ...typed(draft, 'measured', false), entry: draft.entry, device: 'd', confirmed: false },
    takenAt,
  );
  expect(again).toEqual({ ...draft, entry: again.entry, takenAt });
  expect(again.entry).not.toBe(draft.entry);
});

describe('a tally', () => {
  const counts: Form = { pieces: 0, components: 0, tags: {} };

  it('counts by kind and by word, and is undone tap by tap', () => {
    let draft = tap(freshDraft(counts), 'e', null, 1);
    draft = tap(draft, null, 'seam', 12);
    draft = tap(draft, 'e', null, 1);
    expect(counted(draft)).toBe(14);
    expect(undo(draft).defects).toEqual([
      { kind: 'e', word: null, count: 1 },
      { kind: null, word: 'seam', count: 12 },
    ]);
    draft = undo(undo(draft));
    expect(typed(draft, 'nonconformities', false).defects).toEqual([{ kind: 'e', word: null, count: 1 }]);
    expect(undo(undo(undo(draft))).defects).toEqual([]);
  });

  it('says the number inspected only where it varies', () => {
    const draft = { ...freshDraft(counts), inspected: '48' };
    expect(typed(draft, 'nonconforming_units', true).inspected).toBe('48');
    expect(typed(draft, 'nonconforming_units', false).inspected).toBeNull();
  });
});

it.each([
  ['a row', '6,31\t6,28\t6,42', ['6,31', '6,28', '6,42']],
  ['a column', '6.31\r\n6.28\r\n6.42\r\n', ['6.31', '6.28', '6.42']],
  ['semicolons', '6,31; 6,28', ['6,31', '6,28']],
  ['blanks', '6.31 6.28 -0.1', ['6.31', '6.28', '-0.1']],
  ['a value with its unit', '6.31 mm', ['6.31 mm']],
])('%s is taken apart', (_, text, values) => {
  expect(pasted(text)).toEqual(values);
});

it('a device keeps its number', () => {
  expect(device()).toBe(device());
});
