import type { components } from '../api/schema';

/** The objects of the job, as sentences call them. */
const OBJECTS: Record<components['schemas']['ObjectKind'], string> = {
  analyte: 'analyte',
  answer: 'answer',
  area: 'area',
  cause: 'cause',
  characteristic: 'characteristic',
  device: 'device',
  episode: 'episode',
  event_kind: 'kind of event',
  file: 'file',
  level: 'level',
  limits: 'set of limits',
  note: 'note',
  offer: 'offer',
  peer_group: 'peer group',
  peer_result: 'result that was given',
  person: 'person',
  phase: 'phase',
  product: 'product',
  review: 'decision',
  rule_set: 'rule set',
  run: 'run',
  sample: 'sample',
  shift: 'shift',
  signature: 'signature',
  station: 'station',
  study: 'study',
  cause_tree: 'cause tree',
  idea: 'idea',
  import: 'import',
  recipe: 'recipe',
  webhook: 'webhook',
};

/** An object in words; one that an older page does not know has none of its own. */
export function object(object: components['schemas']['ObjectKind']): string {
  return (OBJECTS as Partial<typeof OBJECTS>)[object] ?? 'thing';
}
