import { describe, expect, test } from 'vitest';
import { askedOf, fileOf } from './asked';

const ID = '01234567-89ab-4cde-8f01-23456789abcd';
const of = (query: string) => askedOf(new URLSearchParams(query));

describe('the address of a report', () => {
  test.each(['', 'report=episodes', 'from=2026-11-01', 'from=soon&until=later'])('%s asks for nothing yet', (query) => {
    expect(of(query)).toBeNull();
  });

  test('asks for a kind, a period and a place', () => {
    expect(of(`report=points&from=2026-11-01&until=2026-11-08&area=${ID}&station=kiln`)).toEqual({
      report: 'points',
      from: new Date('2026-11-01T00:00:00').toISOString(),
      until: new Date('2026-11-08T00:00:00').toISOString(),
      area: ID,
    });
  });

  test('takes episodes for a kind that there is not', () => {
    expect(of('report=gossip&from=2026-11-01&until=2026-11-08')?.report).toBe('episodes');
  });

  test('leads to the same as a file', () => {
    const asked = of(`report=reviews&from=2026-11-01&until=2026-11-08&analyte=${ID}`);
    expect(asked).not.toBeNull();
    const url = new URL(fileOf(asked ?? ({} as never), 'xlsx'), 'http://nuvek');
    expect(url.pathname).toBe('/api/report.xlsx');
    expect([...url.searchParams.keys()].sort()).toEqual(['analyte', 'from', 'report', 'until']);
  });
});
