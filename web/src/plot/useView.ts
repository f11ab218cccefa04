import { select, type Selection } from 'd3-selection';
import { zoom, type ZoomBehavior, zoomIdentity, type ZoomTransform, zoomTransform } from 'd3-zoom';
import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { same, type Window } from './places';

/** Closest view: about eight places across. */
const PLACES_AT_LEAST = 8;
/** One turn of the wheel comes nearer by at most this power of two. */
const STEP_AT_MOST = 0.5;
/** Beyond the first and the last place there is a little air. */
const AIR = 0.7;

type Zooming = ZoomBehavior<SVGSVGElement, unknown>;

/** A part of an axis of `places`, looked at through a frame. */
export interface View {
  /** Where a place lies, in pixels. */
  x: (place: number) => number;
  /** Which place lies there. */
  placeAt: (x: number) => number;
  /** What is seen; nothing where all is. */
  window: Window | null;
  zoomBy: (factor: number) => void;
  panBy: (share: number) => void;
  showAll: () => void;
  show: (window: Window | null) => void;
}

interface Props {
  svg: RefObject<SVGSVGElement | null>;
  left: number;
  right: number;
  places: number;
  /** What is to be seen; all where nothing is said. */
  window?: Window | null | undefined;
  /** What is seen now, once the hand rests. */
  onWindow?: ((window: Window | null) => void) | undefined;
}

/** Zoom and pan by wheel, drag, pinch and keyboard. */
export function useView({ svg, left, right, places, window: wanted, onWindow }: Props): View {
  const width = right - left;
  const [transform, setTransform] = useState<ZoomTransform>(zoomIdentity);
  const behaviour = useRef<Zooming | null>(null);
  // A place by hand, not by a scale of d3: it is asked for thousands of times a frame.
  const perPlace = width / Math.max(places - 1 + 2 * AIR - 0.4, 1.3);
  const all = useMemo(
    () => ({ x: (place: number) => (place + AIR) * perPlace, at: (x: number) => x / perPlace - AIR }),
    [perPlace],
  );
  const windowOf = useCallback(
    ({ k, x }: ZoomTransform): Window | null =>
      k <= 1.0001 ? null : { from: all.at(-x / k), to: all.at((width - x) / k) },
    [all, width],
  );
  const told = useRef(onWindow);
  useEffect(() => void (told.current = onWindow));
  useEffect(() => {
    const node = svg.current;
    if (!node || width <= 0) return;
    const zooming = zoom<SVGSVGElement, unknown>()
      // A pinch on a pad turns it by little, a wheel by much: either comes one step nearer.
      .wheelDelta(({ deltaY }: WheelEvent) => Math.max(-STEP_AT_MOST, Math.min(STEP_AT_MOST, -deltaY * 0.02)))
      .scaleExtent([1, Math.max(1, places / PLACES_AT_LEAST)])
      .extent([
        [0, 0],
        [width, 1],
      ])
      .translateExtent([
        [0, 0],
        [width, 1],
      ])
      // A page scrolls by wheel; with Ctrl held it zooms, as maps do. Drag and pinch need none.
      .filter((event: Event) => event.type !== 'wheel' || (event as WheelEvent).ctrlKey)
      .on('zoom', (event: { transform: ZoomTransform }) => setTransform(event.transform))
      // What was set from outside is known there.
      .on('end', (event: { transform: ZoomTransform; sourceEvent: unknown }) => {
        if (event.sourceEvent !== null) told.current?.(windowOf(event.transform));
      });
    behaviour.current = zooming;
    const selection = select(node);
    selection.call(zooming).on('dblclick.zoom', null);
    // Sideways, or with Shift held, the wheel moves along.
    selection.on(
      'wheel.along',
      (event: WheelEvent) => {
        const along = event.shiftKey ? event.deltaX || event.deltaY : event.deltaX;
        if (event.ctrlKey || Math.abs(along) < Math.abs(event.shiftKey ? 0 : event.deltaY)) return;
        event.preventDefault();
        zooming.translateBy(selection, -along / zoomTransform(node).k, 0);
        told.current?.(windowOf(zoomTransform(node)));
      },
      { passive: false },
    );
    return () => void selection.on('.zoom', null).on('.along', null);
  }, [svg, width, places, windowOf]);

  const controlled = wanted !== undefined;
  const [from, to] = [wanted?.from, wanted?.to];
  useEffect(() => {
    const [node, zooming] = [svg.current, behaviour.current];
    if (!controlled || !node || !zooming || width <= 0) return;
    const next = from === undefined || to === undefined ? null : { from, to };
    if (!same(windowOf(zoomTransform(node)), next)) zooming.transform(select(node), transformTo(next, all, width));
  }, [svg, controlled, from, to, width, all, windowOf]);

  const axis = useMemo(
    () => ({
      x: (place: number) => left + transform.k * all.x(place) + transform.x,
      placeAt: (x: number) => all.at((x - left - transform.x) / transform.k),
      window: windowOf(transform),
    }),
    [left, transform, all, windowOf],
  );
  const act = (change: (zooming: Zooming, on: Selection<SVGSVGElement, unknown, null, undefined>) => void) => {
    const [zooming, node] = [behaviour.current, svg.current];
    if (!zooming || !node) return;
    change(zooming, select(node));
    onWindow?.(windowOf(zoomTransform(node)));
  };
  const show = (window: Window | null) => {
    act((zooming, on) => {
      zooming.transform(on, transformTo(window, all, width));
    });
  };
  return {
    ...axis,
    show,
    showAll: () => {
      show(null);
    },
    zoomBy: (factor) => {
      act((zooming, on) => {
        zooming.scaleBy(on, factor);
      });
    },
    panBy: (share) => {
      act((zooming, on) => {
        zooming.translateBy(on, (-share * width) / transform.k, 0);
      });
    },
  };
}

/** What shows a window, kept within the axis. */
function transformTo(window: Window | null, all: { x: (place: number) => number }, width: number): ZoomTransform {
  if (window === null) return zoomIdentity;
  const k = Math.max(1, width / Math.max(all.x(window.to) - all.x(window.from), 1e-6));
  const left = Math.min(Math.max(all.x(window.from), 0), width - width / k);
  return zoomIdentity.scale(k).translate(-left, 0);
}
