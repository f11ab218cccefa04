import type { Kept, ToLookAt } from '../api/client';
import { figure, plural } from './numbers';
import { onDay } from './time';

/** Limits to look at. */
export const LOOK = {
  title: 'Limits to look at',
  what: 'the limits to look at',
  none: 'Nothing to look at: the points since say nothing against any limits in force, and no date has come.',
  toList: 'Limits to look at',
  toLimits: 'Look at the limits',
  named: (name: string, since: string | null | undefined) =>
    since == null ? `${name}, on trial` : `${name}, in force since ${onDay(since)}`,
  begin: (number: number) => `Start a phase at sample ${number}`,
  keep: 'Keep them …',
  why: 'Why they are kept',
  until: 'Not to be looked at before',
  do: 'Keep the limits',
  back: 'Back',
  beginWith: (number: number) => `Start a phase at sample ${number}, the first since`,
  decline: 'No phase for this',
  phaseName: (since: string) => `Since ${onDay(since)}`,
  sayWhy: 'Say why they are kept.',
  sayUntil: 'Choose a day after today.',
};

/** What the points since say of limits, in sentences with figures. */
export function lookInWords({ look, since, next_look: date, event }: ToLookAt): string {
  const due = date == null ? null : `They were to be looked at on ${onDay(`${date}T12:00:00Z`)}.`;
  const proposed = event == null ? null : `${eventName(event)} since ${onDay(event.at)}: is a phase to start with it?`;
  if (look == null) return [due, proposed].filter((sentence) => sentence !== null).join(' ');
  const when = since == null ? '' : ` since ${onDay(since)}`;
  const { points, shift, ratio, signals } = look;
  const drift = {
    above: `The mean has lain ${figure(shift, 1)} sigma above the centre${when}`,
    below: `The mean has lain ${figure(Math.abs(shift ?? 0), 1)} sigma below the centre${when}`,
    wider: `Values scatter ${figure(ratio, 1)} times as much as the limits say${when}`,
    narrower: `Values scatter only ${figure(ratio, 1)} times as much as the limits say${when}`,
    signals: `Points fall beyond the limits more often than chance allows${when}`,
  }[look.drift ?? 'signals'];
  const chance = signals.expected == null ? '' : ` where ${figure(signals.expected, 1)} are expected`;
  const seen = plural(signals.seen, {
    one: `1 signal in ${points} samples${chance}`,
    other: `${signals.seen} signals in ${points} samples${chance}`,
  });
  return [`${drift}; ${seen}.`, due, proposed].filter((sentence) => sentence !== null).join(' ');
}

/** What happened, with the lot that it names. */
export function eventName({ kind, lot }: { kind: string; lot?: string | null }): string {
  return lot == null ? kind : `${kind} ${lot}`;
}

/** That somebody kept them before. */
export function keptInWords({ person, at, reason, until }: Kept): string {
  return `${person} kept them on ${onDay(at)} until ${onDay(`${until}T12:00:00Z`)}: ${reason}`;
}
