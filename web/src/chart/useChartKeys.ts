import type { KeyboardEvent } from 'react';
import type { View } from '../plot/useView';

interface Hands {
  view: Pick<View, 'zoomBy' | 'panBy' | 'showAll'>;
  /** How many marks there are. */
  count: number;
  selected: number | null;
  /** Where a stretch that is chosen ends. */
  through: number | null;
  choose: (mark: number, extend: boolean) => void;
}

/** What keys do on a chart: Shift with an arrow chooses a stretch. */
export function useChartKeys({ view, count, selected, through, choose }: Hands) {
  return (event: KeyboardEvent<SVGSVGElement>) => {
    if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
    const extend = event.shiftKey && selected !== null;
    const at = extend ? (through ?? selected) : selected;
    const keys: Record<string, () => void> = {
      ArrowLeft: () => choose((at ?? count) - 1, extend),
      ArrowRight: () => choose((at ?? -1) + 1, extend),
      Home: () => choose(0, extend),
      End: () => choose(count - 1, extend),
      '+': () => view.zoomBy(1.5),
      '-': () => view.zoomBy(1 / 1.5),
      PageUp: () => view.panBy(-0.5),
      PageDown: () => view.panBy(0.5),
      '0': view.showAll,
    };
    const act = keys[event.key];
    if (act && count > 0) {
      event.preventDefault();
      act();
    }
  };
}
