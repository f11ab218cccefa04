import { type ChartView, holdingAt, PLACES_AT_MOST } from '../api/chart';
import { plural } from './numbers';
import { recorded } from './samples';
import { panelFigure, panelName, STATES } from './signals';
import { when } from './time';

/** Which points of a chart are looked at, and how. */
export const SEEN = {
  points: 'Points',
  last: (n: number) => (n === PLACES_AT_MOST ? 'All' : `The last ${n}`),
  sinceLimits: 'Since these limits',
  days: 'From day to day …',
  after: 'From the day',
  until: 'Until before the day',
  marksBy: 'Marks by tag',
  noTag: 'All alike',
  draw: 'What is drawn …',
  drawn: 'What is drawn',
  parts: {
    zones: 'Zones',
    labels: 'Figures at the edge',
    lanes: 'Signals and diary',
    components: 'Reference components',
  },
  scale: 'Scale',
  from: (panel: string) => `${panel} from`,
  to: (panel: string) => `${panel} to`,
  notAScale: (panel: string) => `${panel}: a scale reaches from a number to a larger one.`,
  useScale: 'Use this scale',
  fromZero: 'Never below zero',
  ownScale: 'As the points need it',
  keepScale: 'Keep for everybody',
  keptScale: 'As it is kept',
  isKept: (seen: boolean) =>
    seen
      ? 'This scale is kept: whoever opens the chart sees it so. Keep empty fields to let the points decide again.'
      : 'Another scale is kept for everybody; yours holds for this look.',
  showAll: 'Show all again',
  table: 'As a table',
  theTable: 'the table',
  noTable: 'Without the table',
  tooManyForTable: 'There are too many points for a table. Look at a part of the chart more closely first.',
  within: (value: string, lower: string, upper: string) => `${value} (${lower} … ${upper})`,
  isFlagged: 'flagged',
  columns: {
    number: 'Sample',
    taken: 'Taken',
    recorded: 'Recorded',
    flagged: 'Signal',
    person: 'Entered by',
    tags: 'Tags',
  },
};

/** What a chart shows, for those who do not see it, and for those who want it in a sentence. */
export function seenInWords(view: ChartView): string {
  const { characteristic: c, panels, marks, places, episodes } = view;
  const [panel] = panels;
  const last = marks.place.length - 1;
  const [from, to] = [marks.taken_at[0], marks.taken_at[last]];
  if (!panel || from === undefined || to === undefined) return '';
  const of = (value: number | null | undefined) => panelFigure(panel.statistic, value, c.decimals);
  const lines = holdingAt(panel.lines, last);
  const all = episodes.reduce((sum, { others }) => sum + 1 + others, 0);
  const asking = episodes.filter(({ state }) => state === 'open' || state === 'sent_back');
  // Of those that stand for others it is known that some ask, not how many.
  const open = asking.some(({ others }) => others > 0) ? 'some open' : `${asking.length} open`;
  return [
    plural(places, { one: '1 sample', other: `${places} samples` }) + `, ${when(from)} to ${when(to)}.`,
    `Newest ${panelName(panel.statistic).toLowerCase()} ${of(panel.value[last])}` +
      (lines ? `, limits ${of(lines.lower)} to ${of(lines.upper)}, centre ${of(lines.center)}.` : ', no limits yet.'),
    plural(all, {
      zero: 'No signal.',
      one: `1 episode, ${open}.`,
      other: `${all} episodes, ${open}.`,
    }),
  ].join(' ');
}

interface Read {
  number: readonly number[];
  place: readonly number[];
  takenAt: readonly number[];
  places: number;
  decimals: number;
  panels: readonly {
    statistic: ChartView['panels'][number]['statistic'];
    value: readonly (number | null)[];
    lines: readonly {
      from: number;
      to: number;
      lower?: number | null | undefined;
      upper?: number | null | undefined;
    }[];
  }[];
  spans: readonly { from: number; to: number; label: string; state: keyof typeof STATES }[];
  remarks: readonly { place: number; text: string }[];
}

/** Everything that is read of a point at a glance, line by line; where it stands for others, that too. */
export function pointInWords(read: Read, mark: number, views: readonly (ChartView | null)[]): string[] {
  const number = read.number[mark];
  const place = read.place[mark] ?? 0;
  const stands = (read.place[mark + 1] ?? read.places) - place;
  const known = views
    .map((view) => ({ view, point: view?.points.find((point) => point.number === number) }))
    .find(({ point }) => point !== undefined);
  const tags = Object.entries(known?.point?.tags ?? {}).map(([name, value]) => `${name} ${value}`);
  return [
    `Sample ${number ?? ''}, ${when(read.takenAt[mark] ?? 0)}`,
    ...(known?.point ? [known.point.person] : []),
    ...(known?.view && known.point ? [recorded(known.point, known.view.characteristic)] : []),
    ...read.panels.map(({ statistic, value, lines }) => {
      const of = (x: number | null | undefined) => panelFigure(statistic, x, read.decimals);
      const at = holdingAt(lines, mark);
      return `${panelName(statistic)} ${of(value[mark])}` + (at ? `, limits ${of(at.lower)} to ${of(at.upper)}` : '');
    }),
    ...(tags.length > 0 ? [tags.join(' · ')] : []),
    ...read.remarks.filter((remark) => remark.place === place).map(({ text }) => text),
    ...read.spans
      .filter(({ from, to }) => from <= place && place <= to)
      .map(({ label, state }) => `${STATES[state]}: ${label}`),
    ...(stands > 1 ? [`Stands for ${stands} samples`] : []),
  ];
}
