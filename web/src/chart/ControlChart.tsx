import { useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import { type KeyboardEvent, type PointerEvent, useId, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { atClock, onDay } from '../words/time';
import { CHART } from '../words/chart';
import { DiaryLane, PeriodLane } from './Lanes';
import { type ChartModel, extent, type Pencil, ROWS_AT_MOST, type Span, stack } from './model';
import { PanelMarks } from './PanelMarks';
import { BAR_AIR, ROW, SignalLane } from './SignalLane';
import { TraceLane, TRACES } from './TraceLane';
import { useView } from './useView';

const LEFT = 10;
const GUTTER = 150;
const PERIODS = 24;
const TITLE = 20;
const AXIS = 22;
/** What of the height each panel gets, by how many there are. */
const SHARES: Record<number, readonly number[]> = { 1: [1], 2: [0.64, 0.36], 3: [0.5, 0.25, 0.25] };
/** Width of a letter of the lanes, about. */
const LETTER = 6.6;

interface Props {
  model: ChartModel;
  height: number;
  pencil?: readonly Pencil[] | undefined;
  selected?: number | null;
  onSelect?: (point: number | null) => void;
  onOpenEpisode?: (id: string) => void;
}

/** A control chart as a score: lanes and panels on one axis of samples. */
export function ControlChart({ model, height, pencil, selected = null, onSelect, onOpenEpisode }: Props) {
  const { ink } = useTheme();
  const box = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [width, setWidth] = useState(0);
  const help = useId();
  // Several charts stand on one page: each cuts off at its own edges.
  const own = useId().replaceAll(/\W/g, '');
  const clips = useMemo(
    () => ({ plot: `url(#${own}-plot)`, lanes: `url(#${own}-lanes)`, hatch: `${own}-hatch` }),
    [own],
  );
  useLayoutEffect(() => {
    const node = box.current;
    if (!node) return;
    const watch = new ResizeObserver(([entry]) => setWidth(Math.floor(entry?.contentRect.width ?? 0)));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);

  const count = model.samples.length;
  const right = Math.max(LEFT + 50, width - GUTTER);
  const view = useView(svg, right - LEFT, count);
  const places = count + (pencil === undefined ? 0 : 1);
  const { transform } = view;
  const x = useMemo(() => {
    const all = scaleLinear([-0.7, Math.max(places - 0.3, 1)], [0, right - LEFT]);
    return (place: number) => LEFT + transform.applyX(all(place));
  }, [places, right, transform]);

  const perPoint = Math.max(0.01, x(1) - x(0));
  const wordingRoom = (span: Span) => (span.label.length * LETTER + 14) / perPoint;
  const spans = stack(model.spans, wordingRoom, (right - x(0)) / perPoint, {
    // Panels are what is looked at: the lane never takes more than a fifth from them.
    most: Math.max(1, Math.min(ROWS_AT_MOST, Math.floor(height / 5 / ROW))),
    air: BAR_AIR / perPoint,
  });
  const rows = spans.length === 0 ? 0 : Math.max(...spans.map((s) => s.row)) + 1;
  const diary = model.remarks.length + model.happenings.length > 0 ? 20 : 0;
  const traces = model.traces.length > 0 ? TRACES : 0;
  const lanes = traces + rows * ROW + (rows > 0 ? 6 : 0) + diary;
  const panelRoom = Math.max(120, height - PERIODS - AXIS - lanes - TITLE * model.panels.length);
  const shares = SHARES[model.panels.length] ?? model.panels.map(() => 1 / model.panels.length);
  const breaks = useMemo(() => new Set(model.periods.map((p) => p.start)), [model.periods]);

  const tops = shares.map(
    (_, i) => PERIODS + TITLE * (i + 1) + panelRoom * shares.slice(0, i).reduce((sum, share) => sum + share, 0),
  );
  const frames = model.panels.map((panel, i) => {
    const frame = { top: tops[i] ?? PERIODS, height: panelRoom * (shares[i] ?? 1), left: LEFT, right };
    const drawn = pencil?.find((p) => p.statistic === panel.statistic);
    const y = scaleLinear(extent(panel, [drawn?.value, drawn?.lower, drawn?.upper]), [
      frame.top + frame.height - 4,
      frame.top + 4,
    ]);
    return { panel, frame, y, pencil: drawn };
  });
  const lastFrame = frames[frames.length - 1]?.frame;
  const top = lastFrame ? lastFrame.top + lastFrame.height : PERIODS;
  const signalTop = top + traces + 8;
  const diaryTop = signalTop + rows * ROW;
  const bottom = top + lanes + 4;

  const nearest = (event: PointerEvent) => {
    const rect = svg.current?.getBoundingClientRect();
    if (!rect || count === 0) return null;
    const place = Math.round((event.clientX - rect.left - x(0)) / perPoint);
    return place >= 0 && place < count ? place : null;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.target !== svg.current || event.ctrlKey || event.metaKey || event.altKey) return;
    const move = (to: number) => onSelect?.(Math.min(count - 1, Math.max(0, to)));
    const keys: Record<string, () => void> = {
      ArrowLeft: () => move((selected ?? count) - 1),
      ArrowRight: () => move((selected ?? -1) + 1),
      Home: () => move(0),
      End: () => move(count - 1),
      '+': () => view.zoomBy(1.5),
      '-': () => view.zoomBy(1 / 1.5),
      PageUp: () => view.panBy(-0.5),
      PageDown: () => view.panBy(0.5),
      '0': view.showAll,
    };
    const act = keys[event.key];
    if (act) {
      event.preventDefault();
      act();
    }
  };

  return (
    <div ref={box} style={{ width: '100%' }}>
      <span id={help} hidden>
        {CHART.keys}
      </span>
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={bottom + AXIS}
          role="group"
          tabIndex={0}
          aria-label={CHART.drawn(model.title, count, model.spans.length)}
          aria-describedby={help}
          onKeyDown={onKeyDown}
          onClick={(event) => onSelect?.(nearest(event as unknown as PointerEvent))}
          style={{ display: 'block', touchAction: 'pan-y', userSelect: 'none', outlineOffset: 4 }}
        >
          <clipPath id={`${own}-plot`}>
            <rect x={LEFT} y={0} width={right - LEFT + 1} height={bottom} />
          </clipPath>
          <clipPath id={`${own}-lanes`}>
            <rect x={LEFT - 6} y={0} width={right - LEFT + 12} height={bottom} />
          </clipPath>
          <PeriodLane periods={model.periods} top={0} bottom={top} x={x} left={LEFT} right={right} ink={ink} />
          {model.restarts.map((place) => (
            <path
              key={place}
              data-testid="restart"
              d={`M${x(place - 0.5)},${PERIODS}V${top}`}
              stroke={ink.line}
              strokeDasharray="6 3 1 3"
              clipPath={clips.plot}
            />
          ))}
          {selected !== null && (
            <path
              d={`M${x(selected)},${PERIODS}V${bottom}`}
              stroke={ink.line}
              strokeDasharray="1 3"
              clipPath={clips.plot}
            />
          )}
          <SignalLane
            clips={clips}
            spans={spans}
            top={signalTop}
            x={x}
            left={LEFT}
            right={right}
            ink={ink}
            selected={selected}
            letter={LETTER}
            onOpen={onOpenEpisode}
            tieTo={(span) => {
              const found = frames.find((f) => f.panel.statistic === span.panel);
              const value = found?.panel.points[span.to]?.value;
              return found && value != null ? found.y(value) + 7 : signalTop;
            }}
          />
          {frames.map((f) => (
            <PanelMarks
              key={f.panel.statistic}
              {...f}
              title={model.panelTitle(f.panel.statistic)}
              clips={clips}
              marks={model.marks}
              x={x}
              ink={ink}
              decimals={model.decimals}
              breaks={breaks}
              aside={model.aside}
              selected={selected}
            />
          ))}
          {traces > 0 && (
            <TraceLane
              clips={clips}
              traces={model.traces}
              top={top + 4}
              x={x}
              left={LEFT}
              right={right}
              decimals={model.decimals}
              ink={ink}
            />
          )}
          <DiaryLane
            clips={clips}
            remarks={model.remarks}
            happenings={model.happenings}
            top={diaryTop + 2}
            x={x}
            left={LEFT}
            right={right}
            ink={ink}
          />
          <TimeAxis model={model} x={x} y={bottom} left={LEFT} right={right} colour={ink.line} rule={ink.faint} />
        </svg>
      )}
    </div>
  );
}

/** Times under the samples: the clock, and the day where it changes. */
function TimeAxis({
  model,
  x,
  y,
  left,
  right,
  colour,
  rule,
}: {
  model: ChartModel;
  x: (place: number) => number;
  y: number;
  left: number;
  right: number;
  colour: string;
  rule: string;
}) {
  const count = model.samples.length;
  const every = Math.max(1, Math.ceil(86 / Math.max(0.01, x(1) - x(0))));
  const marks = [];
  for (let i = (count - 1) % every; i < count; i += every) {
    const sample = model.samples[i];
    const at = x(i);
    if (!sample || at < left + 18 || at > right - 10) continue;
    const before = model.samples[i - every];
    const newDay = !before || onDay(before.taken_at) !== onDay(sample.taken_at);
    marks.push(
      <text key={i} x={at} y={y + 16} textAnchor="middle" fontSize={12} fill={colour}>
        {newDay ? onDay(sample.taken_at) : atClock(sample.taken_at)}
      </text>,
    );
  }
  return (
    <g>
      <path d={`M${left},${y}H${right}`} stroke={rule} />
      {marks}
    </g>
  );
}
