/** Questions as their addresses say them: a link asks exactly this. */

import type { Design, Filter, Measure, Question, Sort, Span, SumUp, TakenDistribution } from '../../api/client';
import { idsIn } from '../../ui/address';
import { byOf, nested, nestedAs, numberIn, put, selectionAddress, selectionIn, splitIn, whole } from './address';

/** Where each sort of question is asked. */
export const PATHS: Record<Sort, string> = {
  capability: 'capability',
  distribution: 'distribution',
  defects: 'defects',
  side_by_side: 'side-by-side',
  rule_sets: 'rule-sets',
  over_time: 'over-time',
};

type Of<S extends Sort> = Extract<Question, { sort: S }>;

interface Codec<S extends Sort> {
  read: (params: URLSearchParams) => Of<S> | null;
  write: (question: Of<S>) => URLSearchParams;
}

const capability: Codec<'capability'> = {
  read: (params) => {
    const of = selectionIn(params);
    if (of === null) return null;
    const [as, bins, split] = [params.get('as'), whole(params.get('bars')), splitIn(params)];
    const [lsl, target, usl] = ['lsl', 'target', 'usl'].map((name) => numberIn(params, name));
    const [able, barely] = [numberIn(params, 'able'), numberIn(params, 'barely')];
    const ownSpecification = [lsl, target, usl].every((limit) => limit === null);
    return {
      sort: 'capability',
      of,
      ...(as !== null && { distribution: as }),
      ...(bins !== null && { bins }),
      ...(split !== null && { split }),
      ...(!ownSpecification && { specification: { lsl: lsl ?? null, target: target ?? null, usl: usl ?? null } }),
      ...(able !== null && barely !== null && { thresholds: { able, barely } }),
    };
  },
  write: ({ of, distribution, bins, split, specification, thresholds }) => {
    const params = selectionAddress(of);
    put(params, { as: distribution, bars: bins, by: split && byOf(split), ...specification, ...thresholds });
    return params;
  },
};

const distribution: Codec<'distribution'> = {
  read: (params) => {
    const of = selectionIn(params);
    if (of === null) return null;
    const [bins, drawn] = [whole(params.get('bars')), whole(params.get('drawn'))];
    const filter = filterIn(params);
    return {
      sort: 'distribution',
      of,
      taken: takenIn(params),
      from_a_start: params.get('start') === '1',
      ...(filter !== null && { filter }),
      ...(bins !== null && { bins }),
      ...(drawn !== null && { drawn }),
    };
  },
  write: ({ of, taken, from_a_start: start, filter, bins, drawn }) => {
    const params = selectionAddress(of);
    put(params, { ...filter, bars: bins, drawn, start: start === true ? 1 : null });
    if (taken?.as === 'family') put(params, { as: taken.family });
    if (taken?.as === 'typed') {
      put(params, { as: taken.distribution.family });
      put(params, Object.fromEntries(Object.entries(taken.distribution.parameters).map(([p, x]) => [`p.${p}`, x])));
    }
    return params;
  },
};

function filterIn(params: URLSearchParams): Filter | null {
  const [percentile, low, high] = ['percentile', 'low', 'high'].map((name) => numberIn(params, name));
  if (percentile != null) return { percentile, low: null, high: null };
  if (low == null && high == null) return null;
  return { percentile: null, low: low ?? null, high: high ?? null };
}

/** Parameters of each family, as the address and the core name them. */
export const PARAMETERS = {
  normal: ['mean', 'sd'],
  lognormal: ['mu', 'sigma'],
  weibull: ['shape', 'scale'],
  gamma: ['shape', 'scale'],
  exponential: ['mean'],
  logistic: ['location', 'scale'],
  gumbel: ['location', 'scale'],
  lognormal3: ['mu', 'sigma', 'location'],
  weibull3: ['shape', 'scale', 'location'],
} as const;

function takenIn(params: URLSearchParams): TakenDistribution {
  const family = (Object.keys(PARAMETERS) as (keyof typeof PARAMETERS)[]).find((name) => name === params.get('as'));
  if (family === undefined) return { as: 'best' };
  const given = PARAMETERS[family].map((name) => [name, numberIn(params, `p.${name}`)] as const);
  if (given.some(([, x]) => x === null)) return { as: 'family', family };
  // The names go with the family, which no type can say here.
  return { as: 'typed', distribution: { family, parameters: Object.fromEntries(given) } } as TakenDistribution;
}

const WEIGHT = 'weight.';

const defects: Codec<'defects'> = {
  read: (params) => {
    const of = selectionIn(params);
    if (of === null) return null;
    const [split, pool] = [splitIn(params), numberIn(params, 'pool')];
    const [than] = nested(params, 'than');
    const against = than && selectionIn(new URLSearchParams([...than, ['of', than.get('of') ?? of.characteristic]]));
    const weights = [...params.keys()]
      .filter((name) => name.startsWith(WEIGHT))
      .flatMap((name) => {
        const weight = numberIn(params, name);
        return weight === null ? [] : [[name.slice(WEIGHT.length), weight] as const];
      });
    return {
      sort: 'defects',
      of,
      ...(against && { against }),
      ...(weights.length > 0 && { weights: Object.fromEntries(weights) }),
      ...(pool !== null && { pool_below: pool / 100 }),
      ...(split !== null && { split }),
    };
  },
  write: ({ of, against, weights, pool_below: pool, split }) => {
    const params = selectionAddress(of);
    put(params, { pool: pool == null ? null : Number((pool * 100).toPrecision(6)), by: split && byOf(split) });
    if (against) put(params, nestedAs(params, 'than', [selectionAddress(against)]));
    put(params, Object.fromEntries(Object.entries(weights ?? {}).map(([kind, x]) => [WEIGHT + kind, x])));
    return params;
  },
};

export const weightParam = (kind: string) => WEIGHT + kind;

const sideBySide: Codec<'side_by_side'> = {
  read: (params) => {
    const sets = nested(params, 'set').flatMap((one) => {
      const of = selectionIn(one);
      const name = one.get('name');
      return of === null ? [] : [{ of, ...(name !== null && { name }) }];
    });
    if (sets.length === 0) return null;
    const [split, confidence] = [splitIn(params), numberIn(params, 'confidence')];
    return {
      sort: 'side_by_side',
      sets,
      ...(split !== null && { split }),
      ...(confidence !== null && { confidence: confidence / 100 }),
    };
  },
  write: ({ sets, split, confidence }) => {
    const params = new URLSearchParams();
    const all = sets.map(({ name, of }) => {
      const one = selectionAddress(of);
      put(one, { name });
      return one;
    });
    put(params, nestedAs(params, 'set', all));
    put(params, {
      by: split && byOf(split),
      confidence: confidence == null ? null : Number((confidence * 100).toPrecision(6)),
    });
    return params;
  },
};

const PRESETS = ['limits_only', 'western_electric', 'nelson', 'seven_point'] as const;

/** Designs that are weighed; what is half typed is asked for when it is whole. */
export function designIn(params: URLSearchParams): Design {
  const rules = params.get('rules') ?? 'western_electric';
  const preset = PRESETS.find((name) => name === rules);
  return {
    name: params.get('name') ?? '',
    rules: rules === 'own' ? { rules: 'own' } : preset ? { rules: 'preset', preset } : { rules: 'named', set: rules },
    k: numberIn(params, 'k') ?? 3,
    plan: { pieces: whole(params.get('pieces')) ?? 1, interval_minutes: numberIn(params, 'every') ?? 60 },
  };
}

export function designAddress({ name, rules, k, plan }: Design): URLSearchParams {
  const params = new URLSearchParams();
  const as = rules.rules === 'preset' ? rules.preset : rules.rules === 'named' ? rules.set : 'own';
  put(params, { name, rules: as, k, pieces: plan.pieces, every: plan.interval_minutes });
  return params;
}

const ruleSets: Codec<'rule_sets'> = {
  read: (params) => {
    const { of } = idsIn(params, ['of']);
    const designs = nested(params, 'design').map(designIn);
    return designs.length === 0 ? null : { sort: 'rule_sets', designs, ...(of !== undefined && { of }) };
  },
  write: ({ of, designs }) => {
    const params = new URLSearchParams();
    put(params, { of, ...nestedAs(params, 'design', designs.map(designAddress)) });
    return params;
  },
};

const SPANS = ['hour', 'shift', 'day', 'week', 'month'] as const satisfies readonly Span[];
const SUMS = ['mean', 'sum', 'number', 'median', 'smallest', 'largest', 'sd'] as const satisfies readonly SumUp[];
const COLUMNS = ['value', 'range', 'count', 'inspected', 'rate', 'sample'] as const;

const overTime: Codec<'over_time'> = {
  read: (params) => {
    const of = selectionIn(params);
    if (of === null) return null;
    const k = numberIn(params, 'k');
    return {
      sort: 'over_time',
      of,
      measure: measureIn(params.get('what') ?? 'value'),
      summary: SUMS.find((name) => name === params.get('sum')) ?? 'mean',
      per: SPANS.find((name) => name === params.get('per')) ?? 'day',
      ...(k !== null && { k }),
    };
  },
  write: ({ of, measure, summary, per, k }) => {
    const params = selectionAddress(of);
    put(params, { what: measureOf(measure), sum: summary, per, k });
    return params;
  },
};

/** `value`, or `tag:oven`. */
function measureIn(what: string): Measure {
  if (what.startsWith('tag:')) return { column: 'tag', name: what.slice(4) };
  return { column: COLUMNS.find((name) => name === what) ?? 'value' };
}

export const measureOf = (measure: Measure) => (measure.column === 'tag' ? `tag:${measure.name}` : measure.column);

const CODECS: { [S in Sort]: Codec<S> } = {
  capability,
  distribution,
  defects,
  side_by_side: sideBySide,
  rule_sets: ruleSets,
  over_time: overTime,
};

/** The question of a sort that an address asks; nothing where it names too little. */
export const questionIn = (sort: Sort, params: URLSearchParams): Question | null => CODECS[sort].read(params);

/** Where a question is asked: the path with its address. */
export function askAt(question: Question): string {
  const write = CODECS[question.sort].write as (question: Question) => URLSearchParams;
  return `/studies/${PATHS[question.sort]}?${write(question).toString()}`;
}
