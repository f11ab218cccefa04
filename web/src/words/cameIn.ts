import type { Became, CameIn } from '../api/client';
import { LAB } from './lab';
import { when } from './time';

export const CAME_IN = {
  title: 'Everything that came in',
  what: 'what came in',
  nothing: 'Nothing came in.',
  nothingSuch: 'Nothing such came in.',
  more: 'Show more',
  columns: { taken: 'Taken', where: 'Where', recorded: 'Recorded', person: 'By', became: 'What became of it' },
  narrow: 'Narrow the list',
  from: 'Taken from',
  until: 'Taken before',
  became: 'What became of it',
  late: (at: string) => `came in ${when(at)}`,
  corrected: 'corrected',
  doubted: 'unusual, and kept',
  openRun: (number: number) => LAB.run(number),
};

export const BECAME: Record<Became, string> = {
  flagged: 'Flagged',
  in_control: 'In control',
  skipped: 'Skipped',
  withdrawn: 'Withdrawn',
  corrected: 'Corrected',
  set_aside: 'Set aside',
  doubted: 'Unusual, and kept',
};

/** Samples reach the server within moments; what took longer waited on a device, or was written down later. */
const AT_ONCE_MS = 10 * 60 * 1000;

export function cameLater({ taken_at: taken, arrived_at: arrived }: Pick<CameIn, 'taken_at' | 'arrived_at'>): boolean {
  return Date.parse(arrived) - Date.parse(taken) > AT_ONCE_MS;
}

/** What became of a sample that no episode flags, and what else is on record of it. */
export function becameOf({ gap, aside, episode, corrected, doubted }: CameIn): string {
  const first =
    gap != null
      ? gap.withdrawn
        ? `withdrawn by ${gap.person}: ${gap.because}`
        : `skipped: ${gap.because}`
      : aside != null
        ? `set aside by ${aside.person}: ${aside.because}`
        : episode == null
          ? 'in control'
          : null;
  const also = [corrected ? CAME_IN.corrected : null, doubted ? CAME_IN.doubted : null];
  return [first, ...also].filter((part) => part !== null).join(' · ');
}
