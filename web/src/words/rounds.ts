import type { Stop } from '../api/client';
import { plural } from './numbers';
import { atClock, stretch } from './time';

/** The round. */
export const ROUND = {
  round: 'the round',
  title: 'Rounds',
  tally: (overdue: number, due: number, done: number) => `${overdue} overdue, ${due} due, ${done} done`,
  opensMostUrgent: 'opens the most urgent',
  area: 'Area',
  allAreas: 'All areas',
  order: 'Order',
  byStation: 'By station',
  byUrgency: 'By urgency',
  nothingSetUp: 'Nothing is set up yet. An engineer adds stations and characteristics in Plan first.',
  lot: (name: string) => `lot ${name}`,
  keepOnTop: 'Keep on top',
  keptOnTop: '⚲ Kept on top',
  keepThisOnTop: (station: string) => `Keep ${station} on top`,
  waitsHere: '◆ entered, waits on this device',
};

/** How a stop stands, with a shape before the words. */
export function stopInWords(stop: Stop, now: number): string {
  const { due_at: at, pieces_left: left } = stop;
  switch (stop.state) {
    case 'overdue':
      if (left != null) return `◆ overdue by ${pieces(-left)}`;
      return `◆ overdue by ${at == null ? '' : stretch(now - Date.parse(at))}`;
    case 'due':
      return at == null ? '◇ due now' : `◇ due since ${atClock(at)}`;
    case 'done':
      return doneInWords(stop);
  }
}

function pieces(n: number): string {
  return plural(n, { one: '1 piece', other: `${n} pieces` });
}

function doneInWords({ due_at: at, pieces_left: left, sampling }: Stop): string {
  if (left != null) return `✓ done, next in ${pieces(left)}`;
  if (sampling.every === 'never') return '· when it happens';
  if (sampling.every === 'lot') return '✓ done, next with a new lot';
  return at == null ? '✓ done, next in the shift' : `✓ done, next at ${atClock(at)}`;
}

/** Counting the pieces that a station made. */
export const PIECES = {
  begin: 'Count pieces',
  beginAt: (station: string) => `Count pieces made at ${station}`,
  title: (station: string) => `Pieces made at ${station}`,
  since: 'How many since they were last counted.',
  pieces: 'Pieces',
  count: 'Count them',
  waiting: (station: string, n: number) => `${station}: ${pieces(n)} made`,
};

/** Telling what happened at a station. */
export const HAPPENED = {
  begin: 'What happened',
  beginAt: (station: string) => `Tell what happened at ${station}`,
  title: (station: string) => `What happened at ${station}`,
  inDiary: 'It stands in the diary of every chart of the station, with the time now.',
  lot: 'Name of the lot',
  waiting: (station: string, kind: string, lot: string | null) =>
    lot === null ? `${station}: ${kind}` : `${station}: ${kind} ${lot}`,
  noted: (what: string, at: string) => `✓ ${what} noted ${atClock(at)}`,
  undo: 'Undo',
};
