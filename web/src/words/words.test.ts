import { describe, expect, it } from 'vitest';
import type { Pattern, Rule, Side } from '../api/client';
import { episodeLabel, episodeSentence } from './episodes';
import { figure } from './numbers';
import { type SignalFacts, sentence, spanLabel } from './signals';
import { atClock, hangClock, momentOf, stretch, when } from './time';

const facts = (rule: Rule, change: Partial<SignalFacts> = {}): SignalFacts => ({
  rule,
  side: 'above',
  panel: 'mean',
  from_number: 11,
  to_number: 19,
  points: 9,
  since: new Date().toISOString(),
  ...change,
});

describe('a signal is a sentence about the process', () => {
  it.each<[SignalFacts, RegExp]>([
    [
      facts({ kind: 'one_side', n: 8 }),
      /^Nine means in a row lie above the centre line, since sample 11 \(\d\d:\d\d\)\.$/,
    ],
    [
      facts({ kind: 'beyond', k: 3 }, { side: 'below', panel: 'individual' }),
      /^The value of sample 19 .* lies below its lower control limit\.$/,
    ],
    [
      facts({ kind: 'beyond', k: 3 }, { side: 'below', panel: 'value' }),
      /^Sample 19 \(\d\d:\d\d\) lies closer to the event before than the lower control limit allows\.$/,
    ],
    [
      facts({ kind: 'trend', n: 6 }, { side: 'falling', panel: 'range' }),
      /^Nine ranges in a row fall, since sample 11/,
    ],
    [
      facts({ kind: 'm_of_n', m: 4, n: 5, k: 1 }),
      /^At least four of five means in a row lie more than 1 sigma above the centre line/,
    ],
    [
      facts({ kind: 'hugging', n: 15, k: 1 }, { to_number: 40, points: 30 }),
      /^30 means in a row lie within 1 sigma of the centre line/,
    ],
  ])('%#', (given, expected) => {
    expect(sentence(given)).toMatch(expected);
  });

  it('names the rule of a run as the trade does', () => {
    const rule = { kind: 'multirule', rule: 'R-4s' } as const;
    expect(spanLabel(rule, 'above', 'individual')).toBe('R-4s');
    expect(sentence({ ...facts({ kind: 'beyond', k: 3 }), rule })).toMatch(
      /^Sample 19 \(.*\) breaks R-4s: one result beyond \+2 sd and another beyond −2 sd\.$/,
    );
  });

  it('is short in the lane and says which panel when it is not the first', () => {
    expect(spanLabel({ kind: 'beyond', k: 3 }, 'above', 'mean')).toBe('beyond the limit, high');
    expect(spanLabel({ kind: 'one_side', n: 8 }, 'below', 'moving_range')).toBe('moving range: eight on one side, low');
  });
});

describe('an episode is one sentence, the most telling thing first', () => {
  const run: Pattern = { rule: { kind: 'one_side', n: 8 }, panel: 'mean', side: 'above', points: 15, signals: 1 };
  const beyond: Pattern = { rule: { kind: 'beyond', k: 3 }, panel: 'mean', side: 'above', points: 1, signals: 2 };
  const near: Pattern = {
    rule: { kind: 'm_of_n', m: 2, n: 3, k: 2 },
    panel: 'mean',
    side: 'above',
    points: 4,
    signals: 2,
  };
  const rising: Pattern = { rule: { kind: 'trend', n: 6 }, panel: 'mean', side: 'rising', points: 7, signals: 1 };
  const now = new Date().toISOString();
  const told = (patterns: Pattern[], side: Side | null = 'above') =>
    episodeSentence({ side, from_number: 1329, to_number: 1343, since: now, until: now, patterns });

  it('of a run says each rule once, and not what the chart of a level says of the same', () => {
    const broken = (rule: '1-3s' | '2-2s', side: Side): Pattern => ({
      ...beyond,
      rule: { kind: 'multirule', rule },
      panel: 'individual',
      side,
    });
    const of = (patterns: Pattern[]) =>
      episodeSentence({
        run: { id: 'r', number: 214 },
        from_number: 9,
        to_number: 9,
        since: '2026-01-01T00:00:00Z',
        until: new Date().toISOString(),
        patterns,
      });
    expect(of([broken('1-3s', 'above'), broken('2-2s', 'above'), broken('2-2s', 'below'), beyond])).toMatch(
      /^Run 214 \(\d\d:\d\d\) is out of control: one result beyond 3 sd \(1-3s\); two in a row beyond 2 sd on one side \(2-2s\)\.$/,
    );
    expect(of([beyond])).toMatch(/^Run 214 \(.*\) is out of control: beyond the limit, high\.$/);
  });

  it.each<[string, RegExp]>([
    [
      told([run, beyond, near]),
      /^The mean has run high since sample 1329 \(.*\): fifteen in a row above the centre line, two beyond the limit, two of three beyond 2 sigma, twice\.$/,
    ],
    [told([beyond]), /^The mean has run high since sample 1329 \(.*\): two beyond the limit\.$/],
    [told([{ ...beyond, signals: 1 }]), /^The mean of sample 1343 .* lies above its upper control limit\.$/],
    [told([run]), /^Fifteen means in a row lie above the centre line, since sample 1329/],
    [
      told([rising, { ...rising, signals: 2 }], null),
      /^The mean has risen since sample 1329 .*: seven in a row rising/,
    ],
  ])('%#', (said, expected) => {
    expect(said).toMatch(expected);
  });

  it('has the wording of its strongest pattern on the chart, and says how many more there are', () => {
    expect(episodeLabel([run])).toBe('eight on one side, high');
    expect(episodeLabel([run, beyond, near])).toBe('eight on one side, high, and four more');
  });
});

it('figures keep the decimals of the unit and a real minus', () => {
  expect([figure(-1.5, 2), figure(12, 0), figure(null, 2)]).toEqual(['−1.50', '12', '–']);
});

it.each([
  [59 * 60_000, '59 min'],
  [65 * 60_000, '1 h 05 min'],
  [50 * 3_600_000, '2 days'],
  [-5, '0 min'],
])('a stretch of %i ms is %s', (milliseconds, words) => {
  expect(stretch(milliseconds)).toBe(words);
});

describe('the clock', () => {
  it('is the one of the site, with its summer time and its days', () => {
    hangClock('Europe/London');
    expect([atClock('2026-07-01T08:00:00Z'), atClock('2026-11-26T08:00:00Z')]).toEqual(['09:00', '08:00']);
    const now = new Date('2026-07-01T23:30:00Z');
    expect(when('2026-07-01T23:10:00Z', now)).toBe('00:10');
    expect(when('2026-07-01T22:50:00Z', now)).toMatch(/^Wed,? 1 Jul, 23:50$/);
  });

  it.each([
    ['2026-07-01T09:00', '2026-07-01T08:00:00.000Z'],
    ['2026-11-26T08:00', '2026-11-26T08:00:00.000Z'],
    // Around the hour that the clock is set back.
    ['2026-10-25T00:30', '2026-10-24T23:30:00.000Z'],
    ['2026-10-25T03:30', '2026-10-25T03:30:00.000Z'],
    ['yesterday', null],
    ['', null],
  ])('names the moment of %s', (typed, moment) => {
    hangClock('Europe/London');
    expect(momentOf(typed)).toBe(moment);
  });
});
