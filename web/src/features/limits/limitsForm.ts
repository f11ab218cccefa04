import type { FieldPath } from 'react-hook-form';
import type { Basis, LimitsPath, NewLimits } from '../../api/client';
import { figuresOf } from '../points';
import { PUT_IN_FORCE } from '../../words/limits';
import { numberOf } from '../../words/numbers';

/** What stands in the fields: texts as typed. */
export interface LimitsFields {
  basis: Basis['from'];
  first: string;
  last: string;
  samples: string;
  center: string;
  sigma: string;
  sigmaBetween: string;
  shape: string;
  scale: string;
  source: string;
  twin: string;
  lower: string;
  upper: string;
  begins: string;
  name: string;
  remark: string;
  nextLook: string;
  reason: string;
}

/** A form to begin with: of all points that the path uses, which may be a stretch. */
export function blankLimits(name: string, { first, last, chart }: LimitsPath): LimitsFields {
  const empty = '';
  const narrowed = first != null || last != null;
  const ends = [chart.samples[0], chart.samples[chart.samples.length - 1]].map((sample) =>
    String(sample?.number ?? ''),
  );
  return {
    basis: narrowed ? 'stretch' : 'phase',
    first: narrowed ? (ends[0] ?? empty) : empty,
    last: narrowed ? (ends[1] ?? empty) : empty,
    samples: empty,
    center: empty,
    sigma: empty,
    sigmaBetween: empty,
    shape: empty,
    scale: empty,
    source: empty,
    twin: empty,
    lower: empty,
    upper: empty,
    begins: empty,
    name,
    remark: empty,
    nextLook: empty,
    reason: empty,
  };
}

const SAMPLES = ['first', 'last', 'begins'] as const;
const NUMBERS = ['center', 'sigma', 'sigmaBetween', 'shape', 'scale', 'lower', 'upper'] as const;

const numbers = (typed: string) => typed.split(/[\s,;]+/).filter((one) => one !== '');

function sampleOf(path: LimitsPath, number: string): string | undefined {
  return path.chart.samples.find((sample) => String(sample.number) === number.trim())?.sample ?? undefined;
}

/** What cannot be read, by its field. */
export function unreadable(
  f: LimitsFields,
  path: LimitsPath,
  needsReason: boolean,
): [FieldPath<LimitsFields>, string][] {
  const wrong: [FieldPath<LimitsFields>, string][] = [];
  for (const field of SAMPLES) {
    if (f[field].trim() !== '' && sampleOf(path, f[field]) === undefined)
      wrong.push([field, PUT_IN_FORCE.noSuchSample]);
  }
  if (f.basis === 'chosen' && (numbers(f.samples).length === 0 || numbers(f.samples).some((n) => !sampleOf(path, n))))
    wrong.push(['samples', PUT_IN_FORCE.noSuchSample]);
  for (const field of NUMBERS) {
    if (f[field].trim() !== '' && Number.isNaN(numberOf(f[field]))) wrong.push([field, PUT_IN_FORCE.numberNeeded]);
  }
  if (f.basis === 'given' && f.source.trim() === '') wrong.push(['source', PUT_IN_FORCE.saySource]);
  if (f.name.trim() === '') wrong.push(['name', PUT_IN_FORCE.sayName]);
  if (needsReason && f.reason.trim() === '') wrong.push(['reason', PUT_IN_FORCE.sayReason]);
  return wrong;
}

const given = (typed: string) => (typed.trim() === '' ? null : numberOf(typed));
const text = (typed: string) => (typed.trim() === '' ? null : typed.trim());

function basisOf(f: LimitsFields, path: LimitsPath): Basis {
  const ends = [path.chart.samples[0], path.chart.samples[path.chart.samples.length - 1]].map((s) => s?.sample ?? '');
  switch (f.basis) {
    case 'phase':
      return { from: 'phase' };
    case 'stretch':
      return {
        from: 'stretch',
        first: sampleOf(path, f.first) ?? ends[0] ?? '',
        last: sampleOf(path, f.last) ?? ends[1] ?? '',
      };
    case 'chosen':
      return { from: 'chosen', samples: numbers(f.samples).flatMap((number) => sampleOf(path, number) ?? []) };
    case 'given': {
      const figures = figuresOf({
        center: given(f.center),
        sigma: given(f.sigma),
        sigma_between: given(f.sigmaBetween),
        shape: given(f.shape),
        scale: given(f.scale),
      });
      return { from: 'given', figures, source: f.source.trim() };
    }
    case 'copied':
      return { from: 'copied', characteristic: f.twin };
  }
}

/** Limits as the server takes them. */
export function limitsOf(f: LimitsFields, path: LimitsPath, revises: boolean): NewLimits {
  return {
    name: f.name.trim(),
    remark: text(f.remark),
    reason: text(f.reason),
    basis: basisOf(f, path),
    lower: given(f.lower),
    upper: given(f.upper),
    first: revises ? (sampleOf(path, f.begins) ?? null) : null,
    next_look: text(f.nextLook),
  };
}

/** Fields of the form by the names that the server refuses them by. */
export const FIELD_OF: Readonly<Record<string, FieldPath<LimitsFields>>> = {
  name: 'name',
  remark: 'remark',
  reason: 'reason',
  lower: 'lower',
  upper: 'upper',
  first: 'first',
  samples: 'samples',
  source: 'source',
  center: 'center',
  sigma: 'sigma',
  sigma_between: 'sigmaBetween',
  shape: 'shape',
  scale: 'scale',
};
