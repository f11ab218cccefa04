import { describe, expect, it } from 'vitest';
import { hangClock } from '../../words/time';
import { addressOf, comesAgain, handedAt, handOutOf, isWhole } from './handOut';

const asked = handOutOf(new URLSearchParams('of=a,b&shape=grouped&tag=lot&value=K-1&signals=true'));

describe('what is handed out', () => {
  it('is told by the address, and told again the same', () => {
    expect(asked).toMatchObject({ of: ['a', 'b'], shape: 'grouped', tag: 'lot', value: 'K-1', signals: true });
    expect(handOutOf(addressOf(asked))).toEqual(asked);
    expect(handOutOf(new URLSearchParams('shape=sideways&cell=most'))).toMatchObject({ shape: 'across', cell: 'mean' });
  });

  it('leaves out what its shape has no room for', () => {
    const crossed = { ...asked, shape: 'crossed' as const, rows: 'lot', limits: true };
    expect(addressOf(crossed).toString()).toBe('of=a%2Cb&shape=crossed&tag=lot&value=K-1&rows=lot&cell=mean');
    expect(addressOf({ ...asked, tag: '' }).has('value')).toBe(false);
  });

  it('needs characteristics, and two tags for a matrix', () => {
    expect(isWhole(asked)).toBe(true);
    expect(isWhole({ ...asked, of: [] })).toBe(false);
    expect(isWhole({ ...asked, shape: 'crossed', rows: 'lot' })).toBe(false);
    expect(isWhole({ ...asked, shape: 'crossed', rows: 'lot', columns: 'mould' })).toBe(true);
  });

  it('asks for days from midnight of the site', () => {
    hangClock('Asia/Tokyo');
    const at = new URL(handedAt({ ...asked, since: '2026-05-04', last: '20' }, 'ods', '/recipes'), 'http://site');
    expect(at.pathname).toBe('/api/data/samples/recipes');
    expect(at.searchParams.get('since')).toBe('2026-05-03T15:00:00.000Z');
    expect([at.searchParams.get('as'), at.searchParams.get('last')]).toEqual(['ods', '20']);
  });

  it('comes again where every sample keeps its readings', () => {
    expect(['across', 'grouped', 'down', 'crossed'].filter((shape) => comesAgain(shape as never))).toEqual([
      'across',
      'grouped',
    ]);
  });
});
