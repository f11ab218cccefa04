import type { Report, ReportHead, ReportKind } from '../api/client';
import { plural } from './numbers';
import { atClock, onDate } from './time';

export const REPORTS = {
  title: 'Reports',
  what: 'the report',
  kind: 'Report',
  from: 'From',
  until: 'Before',
  area: 'Area',
  station: 'Station',
  characteristic: 'Characteristic',
  analyte: 'Analyte',
  any: 'All',
  choose: 'Choose the first day and the day after the last.',
  print: 'Print, or save as PDF',
  csv: 'Download as CSV',
  sheet: 'Download as spreadsheet',
  seal: 'Download the seal',
  sealHelp:
    'The seal says where the trail stood when the report was made. Kept with it, nuvek verify-trail --against shows later whether anything before was changed.',
  nothing: 'Nothing of the kind happened in this period.',
  lines: (count: number) => plural(count, { one: 'One line', other: `${count} lines` }),
  notSigned: 'not signed',
  nothingFound: 'nothing found',
  unanswered: 'not answered',
  unreviewed: 'not reviewed',
};

export const REPORT_KINDS: Record<ReportKind, string> = {
  episodes: 'Episodes with answers and reviews',
  points: 'Points that broke a rule, or carry an action or a remark',
  reviews: 'Review record',
};

export const REPORT_COLUMNS: Record<ReportKind, readonly string[]> = {
  episodes: ['What happened', 'Answers', 'Reviews'],
  points: ['Point', 'Rules broken', 'Actions', 'Remarks'],
  reviews: ['Decision', 'On', 'Signature'],
};

/** What a page says of the report that it belongs to: what was asked for. */
export function askedFor(head: ReportHead): string {
  const kept = [head.characteristic ?? head.station ?? head.area, head.analyte].filter((part) => part != null);
  return [
    head.site,
    REPORT_KINDS[head.report],
    `${onDate(head.from)} to before ${onDate(head.until)}`,
    ...(kept.length === 0 ? ['all areas'] : kept),
  ].join(' · ');
}

/** By whom and when, and the trail's seal. */
export function madeBy(head: ReportHead): string {
  return `Asked for by ${head.by}, ${onDate(head.at)}, ${atClock(head.at)} · trail of ${head.entries} entries, seal ${head.digest}`;
}

export function lineCount({ lines }: Report): number {
  if ('episodes' in lines) return lines.episodes.length;
  return 'points' in lines ? lines.points.length : lines.reviews.length;
}
