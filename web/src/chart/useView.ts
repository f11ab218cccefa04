import { select } from 'd3-selection';
import { zoom, type ZoomBehavior, zoomIdentity, type ZoomTransform } from 'd3-zoom';
import { type RefObject, useEffect, useRef, useState } from 'react';

/** Closest view: about eight points across. */
const POINTS_AT_LEAST = 8;

export interface View {
  transform: ZoomTransform;
  zoomBy: (factor: number) => void;
  panBy: (share: number) => void;
  showAll: () => void;
}

/** Zoom and pan by wheel, drag, touch and keyboard. */
export function useView(svg: RefObject<SVGSVGElement | null>, width: number, count: number): View {
  const [transform, setTransform] = useState<ZoomTransform>(zoomIdentity);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null);
  useEffect(() => {
    const node = svg.current;
    if (!node || width <= 0) return;
    const most = Math.max(1, count / POINTS_AT_LEAST);
    const zooming = zoom<SVGSVGElement, unknown>()
      .scaleExtent([1, most])
      .extent([
        [0, 0],
        [width, 1],
      ])
      .translateExtent([
        [0, 0],
        [width, 1],
      ])
      // A page scrolls by wheel; the chart zooms with Ctrl or Shift held, as maps do. Drag and pinch need none.
      .filter(
        (event: Event) => event.type !== 'wheel' || (event as WheelEvent).ctrlKey || (event as WheelEvent).shiftKey,
      )
      .on('zoom', (event: { transform: ZoomTransform }) => setTransform(event.transform));
    behaviour.current = zooming;
    const selection = select(node);
    selection.call(zooming).on('dblclick.zoom', null);
    return () => void selection.on('.zoom', null);
  }, [svg, width, count]);
  const act = (change: (zooming: ZoomBehavior<SVGSVGElement, unknown>, node: SVGSVGElement) => void) => {
    if (behaviour.current && svg.current) change(behaviour.current, svg.current);
  };
  return {
    transform,
    zoomBy: (factor) => act((zooming, node) => zooming.scaleBy(select(node), factor)),
    panBy: (share) => act((zooming, node) => zooming.translateBy(select(node), (-share * width) / transform.k, 0)),
    showAll: () => act((zooming, node) => zooming.transform(select(node), zoomIdentity)),
  };
}
