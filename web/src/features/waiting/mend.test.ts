import { describe, expect, it } from 'vitest';
import { storageInMemory } from '../../device/storageInMemory';
import type { Deed, Waiting } from '../../outbox/store';
import { loadDraft } from '../entry';
import { freshRun, keepRun, loadRun } from '../lab';
import { typeAgain, typedAt } from './mend';

const kept = storageInMemory();

const AT = '2026-09-21T08:00:00Z';
const form = { pieces: 2, components: 0, tags: {} };

const waiting = (deed: Deed, change: Partial<Waiting> = {}): Waiting => ({
  entry: deed.body.entry,
  person: 'tilda',
  personName: 'Tilda',
  title: '',
  at: AT,
  takenAt: null,
  deed,
  refused: { code: 'readings_refused', params: { refusals: [] }, status: 422 },
  ...change,
});

const sample: Deed = {
  what: 'sample',
  target: 'burst',
  body: { device: 'd', entry: 'e', readings: ['20.2', 'about 20'], confirmed: false },
};
const run: Deed = {
  what: 'run',
  target: 'bench',
  body: {
    device: 'd',
    entry: 'r',
    repeats: 'before',
    results: [{ characteristic: 'low', result: 'ten' }],
    offers: [],
    confirmed: false,
  },
};

describe('an entry that was refused later', () => {
  it('is typed again where it belongs', () => {
    expect(typedAt(sample)).toBe('/rounds/burst');
    expect(typedAt(run)).toBe('/lab?bench=bench&repeats=before');
    expect(typedAt({ what: 'gap', target: 'burst', body: { device: 'd', entry: 'g', because: 'none' } })).toBeNull();
  });

  it('comes back with what was typed and when, also the second time', () => {
    expect(typeAgain(waiting(sample), [])).toBe(true);
    expect(loadDraft('tilda', 'burst', form)).toMatchObject({ readings: ['20.2', 'about 20'], takenAt: AT });
    kept.clear();
    const earlier = '2026-09-21T07:00:00Z';
    expect(typeAgain(waiting(sample, { takenAt: earlier }), [])).toBe(true);
    expect(loadDraft('tilda', 'burst', form).takenAt).toBe(earlier);
    expect(typeAgain(waiting(run), [])).toBe(true);
    expect(loadRun('tilda', 'bench')).toMatchObject({ results: { low: 'ten' }, takenAt: AT });
  });

  it('does not take the place of another that is half typed there', () => {
    expect(typeAgain(waiting(sample), [])).toBe(true);
    expect(typeAgain(waiting({ ...sample, body: { ...sample.body, readings: ['1', '2'] } }), [])).toBe(false);
    expect(loadDraft('tilda', 'burst', form).readings).toEqual(['20.2', 'about 20']);
    keepRun('tilda', 'bench', { ...freshRun(), results: { low: '9' } });
    expect(typeAgain(waiting(run), [])).toBe(false);
    expect(loadRun('tilda', 'bench').results).toEqual({ low: '9' });
  });
});
