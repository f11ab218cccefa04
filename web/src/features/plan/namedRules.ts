import type { ListedRule, NamedRuleSet } from '../../api/client';
import { RULE_SETS } from '../../words/ruleSets';

/** A version of a named set as the value of a choice. */
export type Named = `named:${string}:${number}`;

export function namedValue(set: string, version: number): Named {
  return `named:${set}:${version}`;
}

/** The set and version that a choice names. */
export function namedBy(choice: string): { set: string; version: number } | null {
  const [kind, set, version] = choice.split(':');
  return kind === 'named' && set !== undefined ? { set, version: Number(version) } : null;
}

/** The rules of a choice that names a set. */
export function rulesOf(sets: readonly NamedRuleSet[], choice: string): readonly ListedRule[] | undefined {
  const named = namedBy(choice);
  const set = sets.find((one) => one.id === named?.set);
  return set && (named?.version === set.version ? set.rules : set.earlier[(named?.version ?? 0) - 1]);
}

/** Each set in its newest version, and the one that is chosen now. */
export function namedOptions(sets: readonly NamedRuleSet[], chosen: string): [string, string][] {
  return sets.flatMap(({ id, name, version }) => {
    const newest: [string, string] = [namedValue(id, version), RULE_SETS.called(name, version, true)];
    const named = namedBy(chosen);
    const older = named?.set === id && named.version !== version;
    return older ? [newest, [chosen, RULE_SETS.called(name, named.version, false)]] : [newest];
  });
}
