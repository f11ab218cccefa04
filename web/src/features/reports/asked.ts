import type { ReportKind } from '../../api/client';
import type { ReportAsked } from '../../api/queries';
import { daysIn, idsIn } from '../../ui/address';
import { REPORT_KINDS } from '../../words/reports';

export const KINDS = Object.keys(REPORT_KINDS) as ReportKind[];

export function kindOf(params: URLSearchParams): ReportKind {
  const asked = params.get('report');
  return KINDS.find((kind) => kind === asked) ?? 'episodes';
}

/** The report that an address asks for; nothing while its period is not chosen. */
export function askedOf(params: URLSearchParams): ReportAsked | null {
  const { from, until } = daysIn(params, ['from', 'until']);
  if (from === undefined || until === undefined) return null;
  return { report: kindOf(params), from, until, ...idsIn(params, ['area', 'station', 'characteristic', 'analyte']) };
}

/** Where the same is fetched as a file. */
export function fileOf(asked: ReportAsked, form: 'csv' | 'xlsx'): string {
  return `/api/report.${form}?${new URLSearchParams(asked as Record<string, string>).toString()}`;
}
