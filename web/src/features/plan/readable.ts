import { type FieldErrors, type FieldPath, get, type Resolver, set } from 'react-hook-form';
import { SET_UP } from '../../words/setUpForm';
import { type Fields, type Parameter, PARAMETERS } from './form';
import { number } from './typed';

/** Whether a number is typed where one has to be; of a sigma any, of points a whole one. */
function isParameter(parameter: Parameter, typed: string): boolean {
  return parameter === 'k' ? Number.isFinite(number(typed) ?? NaN) : /^\d+$/.test(typed.trim());
}

/** Fields that hold no number where one is needed. */
export function notNumbers(f: Fields): FieldPath<Fields>[] {
  const whole = (typed: string) => /^\d+$/.test(typed.trim());
  const bounds = ['hardLower', 'hardUpper', 'softLower', 'softUpper', 'lsl', 'target', 'usl'] as const;
  const needed = (typed: string) => number(typed) === null || Number.isNaN(number(typed));
  const option = (field: FieldPath<Fields>): string => String(get(f, field));
  const options = [
    ...(needed(f.k) ? (['k'] as const) : []),
    ...(['options.lambda', 'options.kappa', 'options.h'] as const).filter((field) => needed(option(field))),
    ...(['options.span', 'options.width'] as const).filter((field) => !whole(option(field))),
    ...(Number.isNaN(number(f.options.target) ?? 0) ? (['options.target'] as const) : []),
  ];
  const parts = f.parts.flatMap(({ nominal, sigma }, place) => [
    ...(needed(nominal) ? [`parts.${place}.nominal` as const] : []),
    ...(Number.isNaN(number(sigma) ?? 0) ? [`parts.${place}.sigma` as const] : []),
  ]);
  const parameters = f.rules.flatMap((rule, place) =>
    PARAMETERS.filter((p) => f.preset === 'own' && rule.on && rule[p] !== null && !isParameter(p, rule[p])).map(
      (p) => `rules.${place}.${p}` as const,
    ),
  );
  return [
    ...(whole(f.pieces) || f.kind === 'rare_event' ? [] : (['pieces'] as const)),
    ...(whole(f.everyCount) || (f.every !== 'minutes' && f.every !== 'pieces') || f.kind === 'rare_event'
      ? []
      : (['everyCount'] as const)),
    ...(whole(f.decimals) || f.kind !== 'measured' ? [] : (['decimals'] as const)),
    ...bounds.filter((field) => Number.isNaN(number(f[field]) ?? 0)),
    ...(['able', 'barely'] as const).filter((field) => f.kind === 'measured' && needed(f[field])),
    ...options,
    ...(f.kind === 'measured' ? parts : []),
    ...parameters,
  ];
}

/** Says what cannot be read before it is sent; everything else is the server's to say. */
export const readable: Resolver<Fields> = (f) => {
  const errors: FieldErrors<Fields> = {};
  const say = (field: FieldPath<Fields>, message: string) => set(errors, field, { type: 'unreadable', message });
  for (const field of notNumbers(f)) say(field, SET_UP.numberNeeded);
  const begun = f.kindBegun.trim();
  if (f.kind !== 'measured' && begun !== '') say('kindBegun', SET_UP.kindNotAdded(begun));
  return Object.keys(errors).length > 0 ? { values: {}, errors } : { values: f, errors: {} };
};
