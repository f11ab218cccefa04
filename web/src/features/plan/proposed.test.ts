import { describe, expect, it } from 'vitest';
import { proposedFields } from './proposed';

const of = (query: string) => proposedFields(new URLSearchParams(query), ['O', 'U']);

describe('what a page proposes for a new characteristic', () => {
  it('fills what it names, and nothing else', () => {
    expect(of('name=Kiln&decimals=1&pieces=4&kind=measured&same=yes&tag=lot&tag=mould')).toEqual({
      name: 'Kiln',
      decimals: '1',
      pieces: '4',
      kind: 'measured',
      same: 'yes',
      tags: ['lot', 'mould'],
    });
    expect(of('')).toEqual({});
  });

  it('gives kinds letters of their own', () => {
    const { kinds } = of('kind=nonconformities&counted=Chip&counted=Crack');
    expect(kinds?.map(({ name, letter }) => [name, letter])).toEqual([
      ['Chip', 'C'],
      ['Crack', 'R'],
    ]);
  });

  it('leaves out what cannot be', () => {
    expect(of('kind=thing&same=perhaps&looking=no')).toEqual({});
  });

  it('hides what is for looking alone, and judges it by no rule', () => {
    expect(of('looking=yes')).toEqual({ hidden: true, preset: 'own' });
  });
});
