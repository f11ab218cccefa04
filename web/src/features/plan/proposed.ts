import { type Fields, newKind } from './form';

const KINDS: readonly string[] = ['measured', 'nonconforming_units', 'nonconformities', 'rare_event'];

/** What another page proposes for a new characteristic, in the address: what cannot be is left out. */
export function proposedFields(params: URLSearchParams, lettersTaken: readonly string[]): Partial<Fields> {
  const texts = (['name', 'unit', 'decimals', 'pieces'] as const).map((name) => [name, params.get(name)] as const);
  const [kind, same] = [params.get('kind'), params.get('same')];
  const kinds = params
    .getAll('counted')
    .reduce<Fields['kinds']>((all, name) => [...all, newKind(all, name, lettersTaken)], []);
  const tags = params.getAll('tag');
  return {
    ...Object.fromEntries(texts.filter(([, value]) => value !== null)),
    ...(kind !== null && KINDS.includes(kind) && { kind: kind as Fields['kind'] }),
    ...((same === 'yes' || same === 'no') && { same }),
    ...(tags.length > 0 && { tags }),
    ...(kinds.length > 0 && { kinds }),
    // For looking alone: in no round, and judged by no rule.
    ...(params.get('looking') === 'yes' && { hidden: true, preset: 'own' as const }),
  };
}
