import { nearest } from './places';

/** Room for a label. */
const EVERY = 86;

interface Props {
  x: (place: number) => number;
  placeAt: (x: number) => number;
  /** Where marks stand, and their times. */
  place: readonly number[];
  takenAt: readonly number[];
  y: number;
  left: number;
  right: number;
  colour: string;
  rule: string;
  /** What is said of a time, and of the one before it on the axis. */
  label: (time: number, before: number | null) => string;
}

/** Times under marks that follow one another; the newest has one wherever it is in sight. */
export function TimeAxis({ x, placeAt, place, takenAt, y, left, right, colour, rule, label }: Props) {
  const last = place[place.length - 1];
  const labels: { at: number; time: number }[] = [];
  if (last !== undefined) {
    const perPlace = Math.max(1e-6, x(1) - x(0));
    const every = Math.max(1, Math.ceil(EVERY / perPlace));
    const first = Math.max(0, Math.floor(placeAt(left)));
    for (let at = (last % every) + Math.floor((first - (last % every)) / every) * every; at <= last; at += every) {
      if (at < 0) continue;
      const px = x(at);
      if (px < left + 18 || px > right - 10) continue;
      const mark = nearest(place, at);
      if (mark !== null) labels.push({ at: px, time: takenAt[mark] ?? 0 });
    }
  }
  return (
    <g>
      <path d={`M${left},${y}H${right}`} stroke={rule} />
      {labels.map(({ at, time }, i) => (
        <text key={at} x={at} y={y + 16} textAnchor="middle" fontSize={12} fill={colour}>
          {label(time, labels[i - 1]?.time ?? null)}
        </text>
      ))}
    </g>
  );
}
