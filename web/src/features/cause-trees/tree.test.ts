import { describe, expect, it } from 'vitest';
import { blank, type Ideas, indented, moved, nextAfter, nextBranch, outdented, rowsOf, withAllBelow } from './tree';

const idea = (id: string, parent: string | null, place: number) => ({ ...blank(parent, place), id, text: id });

const tree = (...all: ReturnType<typeof idea>[]): Ideas => new Map(all.map((one) => [one.id, one]));

const machine = tree(
  idea('machine', null, 0),
  idea('worn', 'machine', 0),
  idea('lip', 'worn', 0),
  idea('loose', 'machine', 1),
  idea('material', null, 1),
);

const shape = (ideas: Ideas) => rowsOf(ideas).map(({ idea: { id }, level }) => `${level} ${id}`);
const after = (ideas: Ideas, changed: readonly ReturnType<typeof idea>[]): Ideas =>
  new Map([...ideas, ...changed.map((one) => [one.id, one] as const)]);

describe('a tree', () => {
  it('is read from top to bottom', () => {
    expect(shape(machine)).toEqual(['1 machine', '2 worn', '3 lip', '2 loose', '1 material']);
  });

  it('takes the next idea beside the one it is typed after, and first under a branch', () => {
    const next = nextAfter(machine, 'worn');
    expect([next?.parent, next?.place]).toEqual(['machine', 0.5]);
    const first = nextAfter(machine, 'machine');
    expect([first?.parent, first?.place]).toEqual(['machine', -1]);
    expect(nextBranch(machine).place).toBe(2);
  });

  it('hangs an idea under the one above, and back out', () => {
    const under = after(machine, indented(machine, 'loose'));
    expect(shape(under)).toEqual(['1 machine', '2 worn', '3 lip', '3 loose', '1 material']);
    expect(shape(after(under, outdented(under, 'loose')))).toEqual(shape(machine));
    expect(indented(machine, 'worn')).toEqual([]);
    expect(outdented(machine, 'machine')).toEqual([]);
  });

  it('keeps a branch that stands for a group at the top', () => {
    const grouped = tree(idea('a', null, 0), { ...idea('b', null, 1), group: 'machine' });
    expect(indented(grouped, 'b')).toEqual([]);
  });

  it('moves an idea among those beside it, with all below', () => {
    expect(shape(after(machine, moved(machine, 'loose', -1)))).toEqual([
      '1 machine',
      '2 loose',
      '2 worn',
      '3 lip',
      '1 material',
    ]);
    expect(moved(machine, 'loose', 1)).toEqual([]);
    expect(withAllBelow(machine, 'machine')).toEqual(['machine', 'worn', 'loose', 'lip']);
  });
});
