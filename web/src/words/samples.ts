import type { ChartPoint, ChartView } from '../api/chart';
import { figure, inWords } from './numbers';

type Setup = ChartView['characteristic'];

/** What a sample recorded, in one line. */
export function recorded(
  { content, gap }: { content?: ChartPoint['content'] | undefined; gap?: ChartPoint['gap'] | undefined },
  c: Pick<Setup, 'decimals' | 'unit' | 'defect_kinds'>,
): string {
  if (gap != null && !gap.withdrawn) return 'skipped';
  if (content == null) return '–';
  if ('readings' in content) {
    return `${content.readings.values.map((r) => figure(r, c.decimals)).join('   ')} ${c.unit}`;
  }
  if ('event' in content) {
    const { between } = content.event;
    if (between == null) return 'the first one';
    return `${figure(between, c.decimals)} ${c.unit} since the one before`;
  }
  const { inspected, defects } = content.counts;
  const count = defects.reduce((sum, d) => sum + d.count, 0);
  const kinds = defects.map((d) => `${c.defect_kinds.find((k) => k.id === d.kind)?.name ?? d.word ?? ''} ${d.count}`);
  return `${count} in ${inspected} ${c.unit}${kinds.length > 0 ? `: ${kinds.join(', ')}` : ''}`;
}

/** What a sample takes, in words; `unit` says of what where things are counted. */
export function taking(c: Pick<Setup, 'kind' | 'varying' | 'subgroup_size'>, unit = ''): string {
  if (c.kind === 'rare_event') return 'a rare event';
  if (c.kind !== 'measured') return c.varying ? 'a count' : `a count in ${c.subgroup_size} ${unit}`.trimEnd();
  return c.subgroup_size === 1 ? 'single reading' : `${inWords(c.subgroup_size)} pieces`;
}
