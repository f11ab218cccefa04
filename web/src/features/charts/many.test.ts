import { describe, expect, it } from 'vitest';
import type { SmallChart } from '../../api/client';
import { askedOf, choicesOf, shown, stretchOf } from './many';

const chart = (name: string, of: Partial<SmallChart> = {}): SmallChart =>
  ({
    name,
    product: 'Cartridge',
    station: 'Kiln',
    area: 'Firing',
    labels: [],
    pinned: false,
    open_episodes: 0,
    newest_z: 0,
    ...of,
  }) as SmallChart;
const charts = [
  chart('Shrinkage', { newest_z: -2.5 }),
  chart('Peak temperature', { open_episodes: 1, labels: ['critical'] }),
  chart('Flow rate', { station: 'Leak test', area: 'Hall', newest_z: 1, pinned: true }),
  chart('Empty', { newest_z: null }),
];
const names = (address: string) => shown(charts, new URLSearchParams(address)).map(({ name }) => name);

describe('many charts', () => {
  it('stand with the worst first, or in the order of their places', () => {
    expect(names('')).toEqual(['Peak temperature', 'Shrinkage', 'Flow rate', 'Empty']);
    expect(names('order=place')).toEqual(['Shrinkage', 'Peak temperature', 'Flow rate', 'Empty']);
  });

  it('are narrowed by words, places, labels and pins together', () => {
    expect(names('find=kiln')).toEqual(['Peak temperature', 'Shrinkage', 'Empty']);
    expect(names('find=CRIT')).toEqual(['Peak temperature']);
    expect(names('area=Firing&label=critical')).toEqual(['Peak temperature']);
    expect(names('area=Firing&pinned=1')).toEqual([]);
    expect(names('station=Leak+test')).toEqual(['Flow rate']);
    expect(choicesOf(charts, 'area')).toEqual(['Firing', 'Hall']);
    expect(choicesOf(charts, 'label')).toEqual(['critical']);
  });

  it('show the last points of each, or one time of all', () => {
    expect(askedOf(stretchOf(new URLSearchParams('')), 0)).toEqual({ last: 40 });
    expect(askedOf(stretchOf(new URLSearchParams('stretch=nonsense')), 0)).toEqual({ last: 40 });
    const noon = Date.parse('2026-03-08T12:34:56Z');
    expect(askedOf('week', noon)).toEqual({ since: '2026-03-01T12:00:00.000Z' });
  });
});
