import { useTheme } from '@mui/material';
import { type MouseEvent, type PointerEvent, type ReactNode, useMemo, useRef, useState } from 'react';
import { edges as edgesOf, marksBetween, nearest, type Window } from '../plot/places';
import { TimeAxis } from '../plot/TimeAxis';
import { useOwnIds } from '../plot/useOwnIds';
import { useView } from '../plot/useView';
import { useSize } from '../plot/useSize';
import { atClock, onDay } from '../words/time';
import { CHART } from '../words/chart';
import { DiaryLane, PeriodLane } from './Lanes';
import { AXIS, framesOf, heightsOf, PERIODS, rowsAtMost } from './layout';
import { type ChartModel, cutAt, type Pencil, type Span } from './model';
import { PanelMarks } from './PanelMarks';
import { Reading } from './Reading';
import { BAR_AIR, SignalLane } from './SignalLane';
import { stack } from './spans';
import { Strip } from './Strip';
import { TraceLane } from './TraceLane';
import { useChartKeys } from './useChartKeys';

const LEFT = 10;
/** Room for figures beside the panels, and where there is little of it. */
const GUTTER = 150;
const NARROW = { width: 560, gutter: 78 };
/** Width of a letter of the lanes, about. */
const LETTER = 6.6;

/** What of a chart can be left out. */
export interface Shown {
  zones: boolean;
  labels: boolean;
  lanes: boolean;
}

export const ALL_SHOWN: Shown = { zones: true, labels: true, lanes: true };

interface Props {
  model: ChartModel;
  height: number;
  pencil?: readonly Pencil[] | undefined;
  /** The chosen mark. */
  selected?: number | null;
  /** The mark that a chosen stretch ends at, or begins. */
  through?: number | null;
  /** A mark is chosen; with `extend` all up to it. */
  onSelect?: ((mark: number | null, extend: boolean) => void) | undefined;
  onOpenEpisode?: (id: string) => void;
  /** The places that are looked at; all where nothing is said. */
  window?: Window | null;
  onWindow?: (window: Window | null) => void;
  /** A strip of all places below, to move along on. */
  overview?: boolean;
  shown?: Shown;
  /** What is read of a mark that is pointed at, line by line, the first one first. */
  read?: (mark: number) => readonly string[];
}

/** A control chart as a score: lanes and panels on one axis of samples. */
export function ControlChart(props: Props) {
  const {
    model,
    height,
    pencil,
    selected = null,
    through = null,
    onSelect,
    onOpenEpisode,
    overview = false,
    read,
  } = props;
  const shown = props.shown ?? ALL_SHOWN;
  const { ink } = useTheme();
  const box = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const { width } = useSize(box);
  const ids = useOwnIds('plot', 'lanes', 'hatch', 'help');
  const [pointed, setPointed] = useState<number | null>(null);

  const gutter = !shown.labels ? 12 : width < NARROW.width ? NARROW.gutter : GUTTER;
  const right = Math.max(LEFT + 50, width - gutter);
  const { place, places } = model;
  const count = place.length;
  const axis = places + (pencil === undefined ? 0 : 1);
  const view = useView({ svg, left: LEFT, right, places: axis, window: props.window, onWindow: props.onWindow });
  const { x, placeAt } = view;

  const perPlace = Math.max(1e-6, x(1) - x(0));
  const spans = useMemo(() => {
    const room = (span: Span) => (span.label.length * LETTER + 14) / perPlace;
    return stack(shown.lanes ? model.spans : [], room, placeAt(right), {
      most: rowsAtMost(height),
      air: BAR_AIR / perPlace,
    });
  }, [model.spans, shown.lanes, perPlace, placeAt, right, height]);
  const rows = spans.length === 0 ? 0 : Math.max(...spans.map((s) => s.row)) + 1;
  const hasDiary = shown.lanes && model.remarks.length + model.happenings.length > 0;
  const hasTraces = shown.lanes && model.traces.length > 0;
  const panelCount = model.panels.length;
  const heights = useMemo(
    () => heightsOf({ height, rows, hasDiary, hasTraces, panels: panelCount }),
    [height, rows, hasDiary, hasTraces, panelCount],
  );
  const frames = useMemo(() => framesOf(model.panels, heights, pencil), [model.panels, heights, pencil]);
  const edges = useMemo(() => edgesOf(place).map(x), [place, x]);
  const seen = useMemo(() => marksBetween(place, placeAt, LEFT, right), [place, placeAt, right]);
  const breaks = useMemo(() => {
    const starts = new Set(model.periods.map((period) => period.start));
    return new Set(place.flatMap((at, mark) => (starts.has(at) ? [mark] : [])));
  }, [model.periods, place]);
  const { panelsEnd, signals, diary, bottom } = heights;
  const clip = cutAt(ids.plot);

  const markAt = (event: MouseEvent | PointerEvent) => {
    const rect = svg.current?.getBoundingClientRect();
    if (!rect) return null;
    const at = event.clientX - rect.left;
    return at < LEFT - 6 || at > right + 6 ? null : nearest(place, placeAt(at));
  };
  const choose = (mark: number, extend: boolean) => {
    const to = Math.min(count - 1, Math.max(0, mark));
    onSelect?.(to, extend);
    const at = place[to] ?? 0;
    // What is chosen by keys is in sight.
    if (view.window && (at < view.window.from || at > view.window.to)) {
      const half = (view.window.to - view.window.from) / 2;
      view.show({ from: at - half, to: at + half });
    }
  };
  const onKeyDown = useChartKeys({ view, count, selected, through, choose });
  const tieTo = (span: Span) => {
    const frame = frames.find((f) => f.panel.statistic === span.panel);
    const mark = nearest(place, span.to);
    const value = mark === null ? null : frame?.panel.value[mark];
    return frame && value != null ? frame.y(value) + 7 : signals;
  };
  const chosenPlace = selected === null ? null : (place[selected] ?? null);
  const throughPlace = through === null ? null : (place[through] ?? null);
  const ring = (mark: number, key: string): ReactNode =>
    frames.map(({ panel, y }) => {
      const value = panel.value[mark];
      if (value == null) return null;
      return (
        <circle
          key={`${key}-${panel.statistic}`}
          cx={x(place[mark] ?? 0)}
          cy={y(value)}
          r={9}
          fill="none"
          stroke={ink.data}
          strokeWidth={1.5}
          strokeDasharray={key === 'pointed' ? '2 2' : undefined}
        />
      );
    });

  return (
    <div ref={box} style={{ width: '100%', position: 'relative' }}>
      <span id={ids.help} hidden>
        {CHART.keys}
      </span>
      {read && <Reading.Said lines={selected === null ? [] : read(selected)} />}
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={bottom + AXIS}
          role="group"
          tabIndex={0}
          aria-label={CHART.drawn(model.title, places, model.spans.length)}
          aria-describedby={ids.help}
          onKeyDown={onKeyDown}
          onClick={(event) => onSelect?.(markAt(event), event.shiftKey)}
          onPointerMove={(event) => event.pointerType === 'mouse' && read && setPointed(markAt(event))}
          onPointerLeave={() => setPointed(null)}
          style={{ display: 'block', touchAction: 'pan-y', userSelect: 'none', outlineOffset: 4 }}
        >
          <clipPath id={ids.plot}>
            <rect x={LEFT} y={0} width={right - LEFT + 1} height={bottom} />
          </clipPath>
          <clipPath id={ids.lanes}>
            <rect x={LEFT - 6} y={0} width={right - LEFT + 12} height={bottom} />
          </clipPath>
          <PeriodLane periods={model.periods} top={0} bottom={panelsEnd} x={x} left={LEFT} right={right} ink={ink} />
          {model.restarts.map((at) => (
            <path
              key={at}
              data-testid="restart"
              d={`M${x(at - 0.5)},${PERIODS}V${panelsEnd}`}
              stroke={ink.line}
              strokeDasharray="6 3 1 3"
              clipPath={clip}
            />
          ))}
          {chosenPlace !== null && throughPlace !== null && (
            <rect
              data-testid="stretch"
              x={x(Math.min(chosenPlace, throughPlace) - 0.5)}
              width={x(Math.abs(throughPlace - chosenPlace) + 1) - x(0)}
              y={PERIODS}
              height={bottom - PERIODS}
              fill={ink.tint}
              opacity={0.07}
              clipPath={clip}
            />
          )}
          {chosenPlace !== null && (
            <path
              d={`M${x(chosenPlace)},${PERIODS}V${bottom}`}
              stroke={ink.line}
              strokeDasharray="1 3"
              clipPath={clip}
            />
          )}
          <SignalLane
            ids={ids}
            spans={spans}
            top={signals}
            x={x}
            left={LEFT}
            right={right}
            ink={ink}
            selected={chosenPlace}
            letter={LETTER}
            onOpen={onOpenEpisode}
            tieTo={tieTo}
          />
          {frames.map((frame) => (
            <PanelMarks
              key={frame.panel.statistic}
              {...frame}
              model={model}
              ids={ids}
              left={LEFT}
              right={right}
              gutter={gutter}
              x={x}
              seen={seen}
              edges={edges}
              breaks={breaks}
              zones={shown.zones}
              labels={shown.labels}
              ink={ink}
            />
          ))}
          <g clipPath={clip} pointerEvents="none">
            {selected !== null && ring(selected, 'chosen')}
            {through !== null && ring(through, 'through')}
            {pointed !== null && pointed !== selected && ring(pointed, 'pointed')}
          </g>
          {hasTraces && (
            <TraceLane
              ids={ids}
              traces={model.traces}
              place={place}
              top={panelsEnd + 4}
              x={x}
              left={LEFT}
              right={right}
              decimals={model.decimals}
              ink={ink}
            />
          )}
          {hasDiary && (
            <DiaryLane
              ids={ids}
              remarks={model.remarks}
              happenings={model.happenings}
              top={diary + 2}
              x={x}
              left={LEFT}
              right={right}
              ink={ink}
              onSelect={
                onSelect &&
                ((at) => {
                  const mark = nearest(place, at);
                  if (mark !== null) onSelect(mark, false);
                })
              }
            />
          )}
          <TimeAxis
            x={x}
            placeAt={placeAt}
            place={place}
            takenAt={model.takenAt}
            y={bottom}
            left={LEFT}
            right={right}
            colour={ink.line}
            rule={ink.faint}
            label={(time, before) => (before === null || onDay(before) !== onDay(time) ? onDay(time) : atClock(time))}
          />
        </svg>
      )}
      {read && pointed !== null && pointed < count && (
        <Reading.Beside lines={read(pointed)} x={x(place[pointed] ?? 0)} width={width} top={PERIODS} />
      )}
      {overview && width > 0 && count > 1 && (
        <Strip model={model} width={width} left={LEFT} right={right} view={view} axis={axis} />
      )}
    </div>
  );
}
