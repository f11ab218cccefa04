import { describe, expect, it } from 'vitest';
import type { Analyte, Bench } from '../../api/client';
import { findingsInWords, runStanding, sdApart } from '../../words/lab';
import { cellsOf, freshRun, nextBlank, runDraftOf, takeOver, typedRun } from './runDraft';

const level = (characteristic: string, name: string) => ({
  characteristic,
  name,
  material: 'K-1',
  mean: 10,
  sd: 1,
  last: null,
  beside: null,
  lot: null,
});
const analyte = (id: string, levels: ReturnType<typeof level>[]): Analyte => ({
  id,
  name: id,
  unit: 'mg/kg',
  decimals: 1,
  rules: ['1-3s'],
  levels,
  reagent_lot: 'R-1',
  control_lot: null,
});
const bench: Bench = {
  station: 's',
  name: 'Bench',
  analytes: [analyte('a', [level('a1', 'low'), level('a2', 'high')]), analyte('b', [level('b1', 'low')])],
  runs: [],
};

describe('a run that is typed', () => {
  it('sends what is typed, with the lots used last unless others were typed', () => {
    const d = { ...freshRun(), results: { a2: ' 10,4 ', b1: ' ' }, control: { a: 'C-9' } };
    expect(typedRun(d, bench)).toEqual([
      { characteristic: 'a2', result: ' 10,4 ', reagent_lot: 'R-1', control_lot: 'C-9', typed_first: null },
    ]);
  });

  it('takes an analyser’s results over without their units, and remembers which', () => {
    const offer = {
      id: 'o',
      device: 'A-2',
      characteristic: 'a1',
      value: '42.3 mg/kg',
      measured_at: '2026-09-21T08:00:00Z',
    };
    const d = takeOver(freshRun(), [offer]);
    expect([d.results, d.offers]).toEqual([{ a1: '42.3' }, { a1: 'o' }]);
  });

  it('that was refused later is typed again as it was, with its lots and its time', () => {
    const d = { ...freshRun(), results: { a2: '10,4', b1: 'ten' }, reagent: { b: 'R-2' }, control: { a: 'C-9' } };
    const body = {
      device: 'd',
      entry: d.entry,
      repeats: null,
      results: typedRun(d, bench),
      offers: [],
      confirmed: false,
    };
    const again = runDraftOf(body, bench, '2026-09-21T08:00:00Z');
    expect(typedRun(again, bench)).toEqual(body.results);
    expect([again.takenAt, again.entry === d.entry]).toEqual(['2026-09-21T08:00:00Z', false]);
  });

  it('goes to the next blank cell, round and round', () => {
    const cells = cellsOf(bench);
    const d = { ...freshRun(), results: { a2: '1', b1: '1' } };
    expect(nextBlank(cells, d, 'a2')).toBe('a1');
    expect(nextBlank(cells, { ...d, results: { ...d.results, a1: '1' } }, 'a2')).toBeNull();
  });
});

describe('the words of the laboratory', () => {
  it('say the sharper rule and leave the warning out beside it', () => {
    const findings = [
      { rule: '1-2s' as const, levels: ['low'], runs: 1, reach: 0 },
      { rule: '2-2s' as const, levels: ['low', 'high'], runs: 2, reach: 1 },
    ];
    expect(findingsInWords({ findings })).toEqual([
      'two in a row beyond 2 sd on one side (2-2s), low and high, over two runs',
    ]);
    expect(findingsInWords({ findings: findings.slice(0, 1) })).toEqual(['one result beyond 2 sd (1-2s), low']);
  });

  it('say what a run waits for', () => {
    const run = { released: null, repeated_by: null, overridden: null };
    expect(runStanding({ ...run, verdict: 'rejected' })).toBe('to be repeated');
    expect(runStanding({ ...run, verdict: 'warning' })).toBe('waits for release');
    expect(runStanding({ ...run, verdict: 'rejected', repeated_by: { id: 'x', number: 9 } })).toBe('repeated by run 9');
  });

  it('give the distance with its sign', () => {
    expect([sdApart(-2.345), sdApart(0)]).toEqual(['−2.35 sd', '+0.00 sd']);
  });
});
