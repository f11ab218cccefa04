/** Ideas as a tree: their order, and what becomes of them when one is typed, moved or taken out. */

import type { Idea } from '../../api/client';

export type Ideas = ReadonlyMap<string, Idea>;

/** An idea where it stands. */
export interface Row {
  idea: Idea;
  /** From 1, for a branch. */
  level: number;
}

const byPlace = (a: Idea, b: Idea) => a.place - b.place || (a.id < b.id ? -1 : 1);

/** Those that hang on each, in their order; branches under nothing. */
export function childrenOf(ideas: Ideas): Map<string | null, Idea[]> {
  const children = new Map<string | null, Idea[]>();
  for (const idea of ideas.values()) {
    const parent = idea.parent ?? null;
    const all = children.get(parent);
    if (all) all.push(idea);
    else children.set(parent, [idea]);
  }
  for (const all of children.values()) all.sort(byPlace);
  return children;
}

/** All from top to bottom. */
export function rowsOf(ideas: Ideas): Row[] {
  const children = childrenOf(ideas);
  const rows: Row[] = [];
  const walk = (parent: string | null, level: number) => {
    for (const idea of children.get(parent) ?? []) {
      rows.push({ idea, level });
      walk(idea.id, level + 1);
    }
  };
  walk(null, 1);
  return rows;
}

export const blank = (parent: string | null, place: number): Idea => ({
  id: crypto.randomUUID(),
  parent,
  place,
  text: '',
  group: null,
  state: 'idea',
  owner: null,
  due: null,
  evidence: [],
  actions: [],
});

/** A place between two, or at an end. */
function between(before: number | undefined, after: number | undefined): number {
  if (before === undefined) return after === undefined ? 0 : after - 1;
  return after === undefined ? before + 1 : (before + after) / 2;
}

/** Ideas that a change leaves otherwise than they were. */
export type Changed = Idea[];

/** What stands beside an idea: those of its parent, and where it is among them. */
function beside(ideas: Ideas, id: string): { idea: Idea; all: Idea[]; at: number } | null {
  const idea = ideas.get(id);
  if (!idea) return null;
  const all = childrenOf(ideas).get(idea.parent ?? null) ?? [];
  return { idea, all, at: all.findIndex((one) => one.id === id) };
}

/** A new one after an idea: under a branch, which stays at the top; else beside it. */
export function nextAfter(ideas: Ideas, id: string): Idea | null {
  const here = beside(ideas, id);
  if (!here) return null;
  const { idea, all, at } = here;
  if (idea.parent == null) {
    const [first] = childrenOf(ideas).get(id) ?? [];
    return blank(id, between(undefined, first?.place));
  }
  return blank(idea.parent, between(idea.place, all[at + 1]?.place));
}

/** A branch at the end. */
export function nextBranch(ideas: Ideas): Idea {
  const branches = childrenOf(ideas).get(null) ?? [];
  return blank(null, between(branches[branches.length - 1]?.place, undefined));
}

/** Hangs an idea under the one above it. */
export function indented(ideas: Ideas, id: string): Changed {
  const here = beside(ideas, id);
  const above = here?.all[here.at - 1];
  // A branch that stands for a group stays one.
  if (!here || !above || here.idea.group != null) return [];
  const last = childrenOf(ideas).get(above.id)?.slice(-1)[0];
  return [{ ...here.idea, parent: above.id, place: between(last?.place, undefined) }];
}

/** Hangs an idea beside the one that it hung on. */
export function outdented(ideas: Ideas, id: string): Changed {
  const here = beside(ideas, id);
  if (here?.idea.parent == null) return [];
  const up = beside(ideas, here.idea.parent);
  if (!up) return [];
  return [{ ...here.idea, parent: up.idea.parent ?? null, place: between(up.idea.place, up.all[up.at + 1]?.place) }];
}

/** Moves an idea one up or down among those beside it. */
export function moved(ideas: Ideas, id: string, by: -1 | 1): Changed {
  const here = beside(ideas, id);
  if (!here?.all[here.at + by]) return [];
  const [a, b] =
    by < 0 ? [here.all[here.at - 2], here.all[here.at - 1]] : [here.all[here.at + 1], here.all[here.at + 2]];
  return [{ ...here.idea, place: between(a?.place, b?.place) }];
}

/** An idea, and all that hangs on it. */
export function withAllBelow(ideas: Ideas, id: string): string[] {
  const children = childrenOf(ideas);
  const all = [id];
  for (const one of all) all.push(...(children.get(one) ?? []).map((child) => child.id));
  return all;
}
