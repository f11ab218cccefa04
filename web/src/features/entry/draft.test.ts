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
    {
      ...typed(draft, { kind: 'measured', varying: false, chart: 'xbar_r' }),
      entry: draft.entry,
      device: 'd',
      confirmed: false,
    },
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
    expect(typed(draft, { kind: 'nonconformities', varying: false, chart: 'u' }).defects).toEqual([
      { kind: 'e', word: null, count: 1 },
    ]);
    expect(undo(undo(undo(draft))).defects).toEqual([]);
  });

  it('of a rare event says how many came since the one before, or nothing but its time', () => {
    const draft = { ...freshDraft(counts), between: '120', when: '2026-09-21T08:00' };
    const of = (chart: 'g' | 't') => typed(draft, { kind: 'rare_event', varying: false, chart });
    expect(of('g')).toMatchObject({ between: '120', inspected: null, readings: [] });
    expect(of('t').between).toBeNull();
  });

  it('says the number inspected only where it varies', () => {
    const draft = { ...freshDraft(counts), inspected: '48' };
    expect(typed(draft, { kind: 'nonconforming_units', varying: true, chart: 'p' }).inspected).toBe('48');
    expect(typed(draft, { kind: 'nonconforming_units', varying: false, chart: 'p' }).inspected).toBeNull();
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
