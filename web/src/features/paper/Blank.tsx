import { scaleLinear } from 'd3-scale';
import type { ChartView } from '../../api/chart';
import { linesAt } from '../../chart/model';
import { extent } from '../../plot/extent';
import { PAPER } from '../../words/out';
import { panelFigure, panelName, panelTitle } from '../../words/signals';

/** Samples that a sheet has room for. */
const COLUMNS = 25;
const [LEFT, WIDTH] = [118, 1108];
const COLUMN = (WIDTH - LEFT) / COLUMNS;
const ROW = 24;
const TITLE = 20;
/** What of the height the panels get together. */
const PANELS = 280;
const SHARES: Record<number, readonly number[]> = { 1: [1], 2: [0.62, 0.38], 3: [0.5, 0.25, 0.25] };

/** Axis, limits and zones without points, and columns below for what is read, by whom and when. */
export function Blank({ view }: { view: ChartView }) {
  const { characteristic: c, panels } = view;
  const shares = SHARES[panels.length] ?? panels.map(() => 1 / panels.length);
  const frames = panels.map((panel, i) => ({
    panel,
    top: TITLE * (i + 1) + PANELS * shares.slice(0, i).reduce((sum, share) => sum + share, 0),
    height: PANELS * (shares[i] ?? 1),
  }));
  const rows = rowsOf(view);
  const tableTop = TITLE * panels.length + PANELS + 10;
  const height = tableTop + rows.length * ROW + 1;
  const across = Array.from({ length: COLUMNS + 1 }, (_, i) => LEFT + i * COLUMN);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      width="100%"
      role="img"
      aria-label={PAPER.title(c.name)}
      fontSize={12}
      fill="#000"
    >
      {frames.map(({ panel, top: from, height: tall }) => {
        const last = panel.value.length - 1;
        const lines = linesAt(panel, last);
        const zones = panel.zones.find((some) => some.from <= last && last <= some.to);
        const [lowest, high] = extent([lines?.lower, lines?.center, lines?.upper, panel.value[last]], lines ? 0.35 : 1);
        // What cannot be negative has no room below.
        const low = lines?.lower === 0 || c.kind !== 'measured' ? Math.max(0, lowest) : lowest;
        const y = scaleLinear([low, high], [from + tall, from]);
        const level = (value: number | null | undefined, dash?: string) =>
          value == null ? null : (
            <path
              d={`M${LEFT},${y(value)}H${WIDTH}`}
              stroke="#000"
              strokeWidth={1.3}
              strokeDasharray={dash}
              fill="none"
            />
          );
        return (
          <g key={panel.statistic}>
            <text x={LEFT} y={from - 5} fontWeight={600} fontSize={13}>
              {panelTitle(panel.statistic, c)}
            </text>
            {y.ticks(8).map((tick) => (
              <g key={tick}>
                <path d={`M${LEFT},${y(tick)}H${WIDTH}`} stroke="#bbb" strokeWidth={0.5} />
                <text x={LEFT - 6} y={y(tick) + 4} textAnchor="end">
                  {panelFigure(panel.statistic, tick, c.decimals)}
                </text>
              </g>
            ))}
            <path d={across.map((x) => `M${x},${from}V${from + tall}`).join('')} stroke="#bbb" strokeWidth={0.5} />
            {zones?.edges.map((edge) => (
              <path
                key={edge}
                d={`M${LEFT},${y(edge)}H${WIDTH}`}
                stroke="#000"
                strokeWidth={0.6}
                strokeDasharray="1 4"
              />
            ))}
            {level(lines?.center)}
            {level(lines?.upper, '8 4')}
            {level(lines?.lower, '8 4')}
          </g>
        );
      })}
      <path
        d={[
          ...Array.from({ length: rows.length + 1 }, (_, i) => `M0,${tableTop + i * ROW}H${WIDTH}`),
          ...[0, ...across].map((x) => `M${x},${tableTop}V${tableTop + rows.length * ROW}`),
        ].join('')}
        stroke="#000"
        strokeWidth={0.8}
        fill="none"
      />
      {rows.map((name, i) => (
        <text key={name} x={5} y={tableTop + i * ROW + 16}>
          {name}
        </text>
      ))}
    </svg>
  );
}

/** What is written down of each sample. */
function rowsOf({ characteristic: c, panels }: ChartView): string[] {
  const read =
    c.kind === 'measured'
      ? Array.from({ length: Math.min(c.subgroup_size, 10) }, (_, i) => PAPER.piece(i + 1))
      : c.kind === 'rare_event'
        ? [PAPER.between]
        : [PAPER.count, ...(c.varying ? [PAPER.inspected] : [])];
  const reckoned =
    c.kind === 'measured' && c.subgroup_size > 1 ? panels.map(({ statistic }) => panelName(statistic)) : [];
  return [PAPER.rows.date, ...read, ...reckoned, PAPER.rows.initials, PAPER.rows.note];
}
