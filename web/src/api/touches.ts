import type { QueryClient } from '@tanstack/react-query';
import { askAgain } from './again';
import type { News } from './client';
import type { Key } from './queries';

type Told = { [K in News['kind']]: (news: Extract<News, { kind: K }>) => readonly Key[] };

/** Which questions an answer has changed for, by the news of what was done. */
const TOUCHED: Told = {
  sample: ({ characteristic }) => [
    ['chart', characteristic],
    ['look', characteristic],
    ['limits', characteristic],
    ['trust', characteristic],
    ['to-look-at'],
    ['small-charts'],
    ['rounds'],
    ['episodes'],
    ['samples'],
    ['episode'],
    ['explained'],
    ['signatures'],
    ['waiting'],
    ['handover'],
    ['trail'],
  ],
  // What was said comes first: whoever waits for it reads it before the chart is drawn anew.
  episode: ({ characteristic, episode }) => [
    ['episode', episode],
    ['waiting'],
    ['episodes'],
    ['samples'],
    ['rounds'],
    ['unsigned'],
    ['signatures'],
    ['handover'],
    ['trail'],
    ['chart', characteristic],
    ['small-charts'],
  ],
  note: ({ characteristic }) => [['chart', characteristic], ['trail']],
  station: () => [['rounds'], ['chart'], ['to-look-at'], ['trail']],
  run: () => [['lab'], ['chart'], ['small-charts'], ['trail']],
  offer: ({ station }) => [['offers', station]],
  notice: () => [['bell'], ['webhooks']],
  handover: () => [['handover'], ['trail']],
  cause_tree: ({ tree }) => [['cause-tree', tree], ['cause-trees'], ['trail']],
  study: ({ study }) => [['studies'], ['study', study], ['trail']],
  peers: ({ group }) => [['peers'], ['peer-comparison', group], ['peer-results', group], ['trail']],
  plan: () => [
    ['plan'],
    ['recipes'],
    ['causes'],
    ['cause-catalogue'],
    ['rule-sets'],
    ['to-look-at'],
    ['rounds'],
    ['chart'],
    ['small-charts'],
    ['limits'],
    ['lab'],
    ['devices'],
    ['trail'],
  ],
  limits: ({ characteristic }) => [
    ['imports'],
    ['import'],
    ['chart', characteristic],
    ['look', characteristic],
    ['limits', characteristic],
    ['trust', characteristic],
    ['to-look-at'],
    ['small-charts'],
    ['episodes'],
    ['samples'],
    ['episode'],
    ['explained'],
    ['waiting'],
    ['rounds'],
    ['lab'],
    ['trail'],
  ],
};

/** What shows the points of a chart. */
const CHARTS: readonly Key[0][] = ['chart', 'small-charts'];

/** The questions that news has changed the answer to; `butCharts` where the charts know it already. */
export function touched(news: News, butCharts = false): readonly Key[] {
  const of = TOUCHED[news.kind] as (news: News) => readonly Key[];
  return of(news).filter(([subject]) => !butCharts || !CHARTS.includes(subject));
}

/** Asks again whatever one's own deed has changed; done when what is on the screen is as the server has it. */
export async function touch(client: QueryClient, news: News): Promise<void> {
  await Promise.all(touched(news).map((queryKey) => askAgain(client, queryKey)));
}
