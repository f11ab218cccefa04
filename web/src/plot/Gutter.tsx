import { spread } from './spread';

const GAP = 15;
/** A figure that is larger than the others reaches down further. */
const NEWEST_DOWN = 5;

export interface Label {
  name: string;
  y: number;
  text: string;
}

interface Props {
  labels: readonly Label[];
  /** The figure that all others are read against. */
  newest: { y: number; text: string; pencilled: boolean } | null;
  right: number;
  /** Room beside the frame; where it is small, all stand in one column. */
  width: number;
  line: string;
  data: string;
}

/** Figures at the right edge of a panel, each where its line ends. */
export function Gutter({ labels, newest, right, width, line, data }: Props) {
  const oneColumn = width < 120;
  const beside = oneColumn && newest ? [newest.y] : [];
  const placed = spread([...labels.map(({ y }) => y), ...beside], GAP);
  const newestAt = oneColumn ? (placed[labels.length] ?? newest?.y ?? 0) : (newest?.y ?? 0);
  return (
    <g fontSize={oneColumn ? 12 : 13}>
      {labels.map(({ name, text }, i) => (
        <text key={name} x={right + (oneColumn ? 10 : 70)} y={(placed[i] ?? 0) + 4} fill={line}>
          {name} {text}
        </text>
      ))}
      {newest && (
        <g>
          <path d={`M${right + 2},${newest.y}L${right + 9},${newestAt}`} stroke={data} strokeWidth={1.5} fill="none" />
          <text
            x={right + (oneColumn ? 10 : 13)}
            y={newestAt + NEWEST_DOWN}
            fill={data}
            fontWeight={700}
            fontSize={15}
            fontStyle={newest.pencilled ? 'italic' : 'normal'}
          >
            {newest.text}
          </text>
        </g>
      )}
    </g>
  );
}
