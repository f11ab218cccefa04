import type { Characteristic } from '../../api/client';
import { number } from './typed';

type Options = Characteristic['options'];

/** What stands in the fields of a chart's options: texts as typed. */
export interface OptionFields {
  span: string;
  sigmaMethod: Options['sigma_method'];
  lambda: string;
  width: string;
  kappa: string;
  h: string;
  fastStart: boolean;
  target: string;
  conforming: boolean;
  meanSize: boolean;
}

const text = (x: number | null | undefined, usual: number) => String(x ?? usual);

/** Options as they are set up; the usual ones, where nothing is. */
export function optionFields(o: Options | null): OptionFields {
  return {
    span: text(o?.span, 2),
    sigmaMethod: o?.sigma_method ?? 'mean_mr',
    lambda: text(o?.lambda, 0.2),
    width: text(o?.width, 3),
    kappa: text(o?.kappa, 0.5),
    h: text(o?.h, 5),
    fastStart: o?.fast_start ?? false,
    target: o?.target == null ? '' : String(o.target),
    conforming: o?.conforming ?? false,
    meanSize: o?.mean_size ?? false,
  };
}

/** As the server takes them. */
export function optionsOf(f: OptionFields): Options {
  const needed = (typed: string) => number(typed) ?? Number.NaN;
  return {
    span: needed(f.span),
    sigma_method: f.sigmaMethod,
    lambda: needed(f.lambda),
    width: needed(f.width),
    kappa: needed(f.kappa),
    h: needed(f.h),
    fast_start: f.fastStart,
    target: number(f.target),
    conforming: f.conforming,
    mean_size: f.meanSize,
  };
}
