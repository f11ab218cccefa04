import { infiniteQueryOptions, queryOptions } from '@tanstack/react-query';
import { chartOf, type Stretch } from './chart';
import {
  answered,
  api,
  type Behind,
  type GivenView,
  type HandedAsked,
  type HandedRow,
  type Question,
  type RunView,
  type ToBringIn,
} from './client';
import type { paths } from './schema';

/** Points beside the entry: enough to see a pattern, few enough to see each. */
export const BESIDE_ENTRY = 40;

/** Of so many points each is sent with all that is known of it. */
export const POINTS_AT_MOST = 2000;

/** Devices speak all the time; how they stand is asked for again this often. */
const DEVICES_AGAIN_MS = 5000;

/** A round is looked at again this often, so that what falls due shows without anybody acting. */
export const ROUNDS_AGAIN_MS = 30_000;

/** Which episodes are asked for. */
export type EpisodesAsked = Omit<
  NonNullable<paths['/api/episodes']['get']['parameters']['query']>,
  'behind' | 'behind_raised' | 'behind_sent_back'
>;

/** Which samples of all that came in are asked for. */
export type SamplesAsked = Omit<NonNullable<paths['/api/samples']['get']['parameters']['query']>, 'behind'>;

/** So many episodes are sent at once. */
const EPISODES_A_PAGE = 200;
/** The server sends no more samples at once. */
const SAMPLES_A_PAGE = 100;

/** Which entries of the trail are asked for. */
export type TrailAsked = Omit<
  NonNullable<paths['/api/trail']['get']['parameters']['query']>,
  'behind_at' | 'behind_chain' | 'behind_position'
>;

/** So many of them are sent at once. */
const ENTRIES_A_PAGE = 200;

/** As many results given to peers as the server sends at once. */
const RESULTS_A_PAGE = 100;

/** As many runs as the server sends at once. */
const RUNS_A_PAGE = 50;

/** How far an import is, is asked for again this often. */
const IMPORT_AGAIN_MS = 1000;

/** The catalogues change on few days. */
const CATALOGUE_MS = 60_000;

/** What can be asked of the server: the first part of each key. */
export type Subject = keyof typeof KEPT;

/** What of it a device keeps, so that a round can be walked without a network. */
export const KEPT = {
  'folder-tables': false,
  learned: false,
  report: false,
  bell: true,
  webhooks: false,
  wishes: false,
  handover: true,
  accounts: false,
  causes: true,
  'cause-catalogue': true,
  'cause-tree': true,
  'cause-trees': true,
  chart: true,
  choices: true,
  chooser: false,
  corrections: false,
  devices: false,
  'event-kinds': true,
  filters: false,
  'handed-out': false,
  lab: true,
  imports: false,
  import: false,
  'import-check': false,
  limits: true,
  look: true,
  offers: false,
  'peer-comparison': true,
  'peer-results': true,
  peers: true,
  people: true,
  plan: true,
  'plan-preview': false,
  preview: false,
  proposal: false,
  recipes: false,
  rounds: true,
  replay: false,
  'rule-cost': false,
  'rule-sets': true,
  'run-preview': false,
  session: false,
  shaped: false,
  'small-charts': true,
  episode: true,
  explained: true,
  episodes: true,
  samples: true,
  signatures: true,
  studies: true,
  study: true,
  'study-answer': false,
  'study-behind': false,
  tags: false,
  terminal: false,
  'to-look-at': true,
  trust: true,
  trail: false,
  unsigned: false,
  wall: false,
  waiting: true,
} as const;

/** A key of a question: its subject, then what narrows it. */
export type Key = readonly [Subject, ...unknown[]];

const key = <const K extends Key>(...parts: K): K => parts;

export type ReportAsked = paths['/api/report']['get']['parameters']['query'];

/** How points are looked at. */
export type LookedAt = NonNullable<paths['/api/characteristics/{id}/look']['get']['parameters']['query']>;

export type LearnAsked = paths['/api/learned']['get']['parameters']['query'];

export const queries = {
  session: key('session'),
  terminal: queryOptions({
    queryKey: key('terminal'),
    queryFn: () => answered(api.GET('/api/terminal')),
    staleTime: 0,
  }),
  rounds: queryOptions({ queryKey: key('rounds'), queryFn: () => answered(api.GET('/api/rounds')) }),
  eventKinds: queryOptions({ queryKey: key('event-kinds'), queryFn: () => answered(api.GET('/api/event-kinds')) }),
  plan: queryOptions({ queryKey: key('plan'), queryFn: () => answered(api.GET('/api/plan')) }),
  choices: queryOptions({
    queryKey: key('choices'),
    queryFn: () => answered(api.GET('/api/plan/choices')),
    staleTime: Infinity,
  }),
  ruleSets: queryOptions({ queryKey: key('rule-sets'), queryFn: () => answered(api.GET('/api/plan/rule-sets')) }),
  devices: queryOptions({
    queryKey: key('devices'),
    queryFn: () => answered(api.GET('/api/plan/devices')),
    refetchInterval: DEVICES_AGAIN_MS,
  }),
  /** Results of an analyser that wait at a station. */
  offers: (station: string) =>
    queryOptions({
      queryKey: key('offers', station),
      queryFn: () => answered(api.GET('/api/stations/{id}/offers', { params: { path: { id: station } } })),
    }),
  /** A stretch of the chart of a characteristic. */
  chart: (id: string, stretch: Stretch) =>
    queryOptions({ queryKey: key('chart', id, stretch), queryFn: () => chartOf(id, stretch) }),
  causeTrees: queryOptions({
    queryKey: key('cause-trees'),
    queryFn: () => answered(api.GET('/api/cause-trees')),
  }),
  causeTree: (id: string) =>
    queryOptions({
      queryKey: key('cause-tree', id),
      queryFn: () => answered(api.GET('/api/cause-trees/{id}', { params: { path: { id } } })),
    }),
  studies: (characteristic?: string) =>
    queryOptions({
      queryKey: key('studies', characteristic),
      queryFn: () =>
        answered(
          api.GET('/api/studies', { params: { query: characteristic === undefined ? {} : { characteristic } } }),
        ),
    }),
  study: (id: string) =>
    queryOptions({
      queryKey: key('study', id),
      queryFn: () => answered(api.GET('/api/studies/{id}', { params: { path: { id } } })),
    }),
  /** A question answered from the data as they are, without keeping it. */
  studyAnswer: (question: Question) =>
    queryOptions({
      queryKey: key('study-answer', question),
      queryFn: ({ signal }) => answered(api.POST('/api/studies/answer', { body: question, signal })),
      retry: false,
    }),
  /** Tags of the newest samples, with their values. */
  tags: (characteristic: string) =>
    queryOptions({
      queryKey: key('tags', characteristic),
      queryFn: () => answered(api.GET('/api/characteristics/{id}/tags', { params: { path: { id: characteristic } } })),
    }),
  /** The samples behind a figure. */
  studyBehind: (asked: Behind) =>
    queryOptions({
      queryKey: key('study-behind', asked),
      queryFn: () => answered(api.POST('/api/studies/behind', { body: asked })),
    }),
  /** Small charts of all characteristics. */
  smallCharts: (asked: { last?: number; since?: string }) =>
    queryOptions({
      queryKey: key('small-charts', asked),
      queryFn: () => answered(api.GET('/api/charts', { params: { query: asked } })),
    }),
  smallChartsAll: key('small-charts'),
  /** What the entry of a characteristic shows. */
  entry: (id: string) =>
    queryOptions({ queryKey: key('chart', id, 'entry'), queryFn: () => chartOf(id, { last: BESIDE_ENTRY }) }),
  /** Whether a chart can be trusted. */
  trust: (id: string) =>
    queryOptions({
      queryKey: key('trust', id),
      queryFn: () => answered(api.GET('/api/characteristics/{id}/trust', { params: { path: { id } } })),
    }),
  /** The limits of a characteristic, with the path of one of its phases. */
  limits: (id: string, which: { phase?: string; first?: string; last?: string } = {}) =>
    queryOptions({
      queryKey: key('limits', id, which),
      queryFn: () => answered(api.GET('/api/characteristics/{id}/limits', { params: { path: { id }, query: which } })),
    }),
  /** Points on another kind of chart, or split by a tag. */
  look: (id: string, how: LookedAt) =>
    queryOptions({
      queryKey: key('look', id, how),
      queryFn: () => answered(api.GET('/api/characteristics/{id}/look', { params: { path: { id }, query: how } })),
    }),
  /** Limits that are to be looked at. */
  toLookAt: queryOptions({
    queryKey: key('to-look-at'),
    queryFn: () => answered(api.GET('/api/limits/to-look-at')),
  }),
  corrections: (sample: string, version: number) =>
    queryOptions({
      queryKey: key('corrections', sample, version),
      queryFn: () => answered(api.GET('/api/samples/{id}/corrections', { params: { path: { id: sample } } })),
    }),
  causes: (characteristic: string) =>
    queryOptions({
      queryKey: key('causes', characteristic),
      queryFn: () => answered(api.GET('/api/causes', { params: { query: { characteristic } } })),
      staleTime: CATALOGUE_MS,
    }),
  causeCatalogue: queryOptions({
    queryKey: key('cause-catalogue'),
    queryFn: () => answered(api.GET('/api/causes/catalogue')),
  }),
  episode: (id: string) =>
    queryOptions({
      queryKey: key('episode', id),
      queryFn: () => answered(api.GET('/api/episodes/{id}', { params: { path: { id } } })),
    }),
  /** What may explain an episode. */
  explained: (id: string) =>
    queryOptions({
      queryKey: key('explained', id),
      queryFn: () => answered(api.GET('/api/episodes/{id}/explained', { params: { path: { id } } })),
    }),
  /** Episodes, page after page. */
  episodes: (asked: EpisodesAsked) =>
    infiniteQueryOptions({
      queryKey: key('episodes', asked),
      initialPageParam: null as { behind: string; behind_raised: string; behind_sent_back: boolean } | null,
      queryFn: ({ pageParam }) => answered(api.GET('/api/episodes', { params: { query: { ...asked, ...pageParam } } })),
      getNextPageParam: (page) => {
        const last = page[page.length - 1];
        return page.length < EPISODES_A_PAGE || !last
          ? null
          : { behind: last.id, behind_raised: last.raised_at, behind_sent_back: last.sent_back };
      },
    }),
  /** How many there are. */
  episodeCount: (asked: EpisodesAsked) =>
    queryOptions({
      queryKey: key('episodes', 'count', asked),
      queryFn: () => answered(api.GET('/api/episodes/count', { params: { query: asked } })),
    }),
  /** Everything that came in, page after page. */
  samples: (asked: SamplesAsked) =>
    infiniteQueryOptions({
      queryKey: key('samples', asked),
      initialPageParam: null as { behind: string } | null,
      queryFn: ({ pageParam }) => answered(api.GET('/api/samples', { params: { query: { ...asked, ...pageParam } } })),
      getNextPageParam: (page) => {
        const last = page[page.length - 1];
        return page.length < SAMPLES_A_PAGE || !last ? null : { behind: last.sample };
      },
    }),
  /** Decisions of whoever is signed in that are not signed. */
  unsigned: queryOptions({ queryKey: key('unsigned'), queryFn: () => answered(api.GET('/api/reviews/unsigned')) }),
  signatures: queryOptions({ queryKey: key('signatures'), queryFn: () => answered(api.GET('/api/signatures')) }),
  signature: (id: string) =>
    queryOptions({
      queryKey: key('signatures', id),
      queryFn: () => answered(api.GET('/api/signatures/{id}', { params: { path: { id } } })),
    }),
  accounts: queryOptions({ queryKey: key('accounts'), queryFn: () => answered(api.GET('/api/accounts')) }),
  /** What is handed over from the shift that holds a moment, or else from the one that is handed over now. */
  handover: (shift: string | null, mine: boolean) =>
    queryOptions({
      queryKey: key('handover', shift, mine),
      queryFn: () =>
        answered(api.GET('/api/handover', { params: { query: { mine, ...(shift !== null && { shift }) } } })),
    }),
  bell: queryOptions({ queryKey: key('bell'), queryFn: () => answered(api.GET('/api/me/notices')) }),
  wishes: queryOptions({ queryKey: key('wishes'), queryFn: () => answered(api.GET('/api/me/wishes')) }),
  webhooks: queryOptions({ queryKey: key('webhooks'), queryFn: () => answered(api.GET('/api/webhooks')) }),
  /** A report, as it was made at one moment: it is not made again by itself. */
  report: (asked: ReportAsked) =>
    queryOptions({
      queryKey: key('report', asked),
      queryFn: () => answered(api.GET('/api/report', { params: { query: asked } })),
      staleTime: Infinity,
      gcTime: 0,
    }),
  learned: (asked: LearnAsked) =>
    queryOptions({
      queryKey: key('learned', asked),
      queryFn: () => answered(api.GET('/api/learned', { params: { query: asked } })),
    }),
  people: queryOptions({
    queryKey: key('people'),
    queryFn: () => answered(api.GET('/api/people')),
    staleTime: CATALOGUE_MS,
  }),
  filters: queryOptions({ queryKey: key('filters'), queryFn: () => answered(api.GET('/api/me/filters')) }),
  /** How many episodes wait for an answer, by characteristic. */
  waiting: queryOptions({ queryKey: key('waiting'), queryFn: () => answered(api.GET('/api/episodes/waiting')) }),
  /** Runs, newest first, a page after the other. */
  runs: (reviewed: boolean) =>
    infiniteQueryOptions({
      queryKey: key('lab', 'runs', reviewed),
      queryFn: ({ pageParam }: { pageParam: RunView | null }) =>
        answered(
          api.GET('/api/runs', {
            params: {
              query: {
                reviewed,
                ...(pageParam && {
                  behind: pageParam.id,
                  behind_taken: pageParam.taken_at,
                  behind_number: pageParam.number,
                }),
              },
            },
          }),
        ),
      initialPageParam: null as RunView | null,
      getNextPageParam: (page: RunView[]) => (page.length < RUNS_A_PAGE ? null : (page[page.length - 1] ?? null)),
    }),
  /** Every bench with its analytes and latest runs. */
  lab: queryOptions({ queryKey: key('lab'), queryFn: () => answered(api.GET('/api/lab')) }),
  run: (id: string) =>
    queryOptions({
      queryKey: key('lab', 'run', id),
      queryFn: () => answered(api.GET('/api/runs/{id}', { params: { path: { id } } })),
    }),
  figures: (station: string) =>
    queryOptions({
      queryKey: key('lab', 'figures', station),
      queryFn: () => answered(api.GET('/api/stations/{id}/lab-figures', { params: { path: { id: station } } })),
    }),
  peers: queryOptions({ queryKey: key('peers'), queryFn: () => answered(api.GET('/api/peers')) }),
  /** Own results beside those of a peer group. */
  peerComparison: (group: string) =>
    queryOptions({
      queryKey: key('peer-comparison', group),
      queryFn: () => answered(api.GET('/api/peers/{id}/comparison', { params: { path: { id: group } } })),
    }),
  /** Results that were given to a peer group, newest first, a page after the other. */
  peerResults: (group: string, which: { characteristic?: string; unsettled: boolean }) =>
    infiniteQueryOptions({
      queryKey: key('peer-results', group, which),
      queryFn: ({ pageParam }: { pageParam: GivenView | null }) =>
        answered(
          api.GET('/api/peers/{id}/results', {
            params: {
              path: { id: group },
              query: { ...which, ...(pageParam && { behind: pageParam.id, behind_taken: pageParam.taken_at }) },
            },
          }),
        ),
      initialPageParam: null as GivenView | null,
      getNextPageParam: (page: GivenView[]) => (page.length < RESULTS_A_PAGE ? null : (page[page.length - 1] ?? null)),
    }),
  /** What was brought in from tables, newest first. */
  imports: queryOptions({ queryKey: key('imports'), queryFn: () => answered(api.GET('/api/data/imports')) }),
  /** An import; asked for again while it is under way. */
  import: (id: string) =>
    queryOptions({
      queryKey: key('import', id),
      queryFn: () => answered(api.GET('/api/data/imports/{id}', { params: { path: { id } } })),
      refetchInterval: ({ state: { data } }) =>
        data && (data.state === 'waiting' || data.state === 'staged') ? IMPORT_AGAIN_MS : false,
    }),
  /** A recipe proposed for a file. */
  proposal: (file: string, sheet: string | null) =>
    queryOptions({
      queryKey: key('proposal', file, sheet),
      queryFn: () =>
        answered(
          api.GET('/api/data/files/{id}/proposal', {
            params: { path: { id: file }, query: sheet === null ? {} : { sheet } },
          }),
        ),
      staleTime: Infinity,
    }),
  /** A file under a recipe. */
  shaped: (file: string, recipe: Record<string, never>) =>
    queryOptions({
      queryKey: key('shaped', file, recipe),
      queryFn: ({ signal }) =>
        answered(
          api.POST('/api/data/files/{id}/preview', { params: { path: { id: file } }, body: { recipe }, signal }),
        ),
    }),
  /** What would come of an import. */
  importCheck: (asked: ToBringIn) =>
    queryOptions({
      queryKey: key('import-check', asked),
      queryFn: ({ signal }) => answered(api.POST('/api/data/check', { body: asked, signal })),
    }),
  /** Tables in watched folders. */
  folderTables: queryOptions({
    queryKey: key('folder-tables'),
    queryFn: ({ signal }) => answered(api.GET('/api/data/folders', { signal })),
  }),
  /** A table that is handed out, as its rows. */
  handedOut: (query: HandedAsked) =>
    queryOptions({
      queryKey: key('handed-out', query),
      queryFn: async ({ signal }) =>
        (await answered(
          api.GET('/api/data/samples', { params: { query }, parseAs: 'json', signal }),
        )) as unknown as HandedRow[],
    }),
  /** Recipes that are kept. */
  recipes: queryOptions({ queryKey: key('recipes'), queryFn: () => answered(api.GET('/api/data/recipes')) }),
  /** Entries of the trail, page after page, the newest first. */
  trail: (asked: TrailAsked) =>
    infiniteQueryOptions({
      queryKey: key('trail', asked),
      initialPageParam: null as { behind_at: string; behind_chain: string; behind_position: number } | null,
      queryFn: ({ pageParam }) => answered(api.GET('/api/trail', { params: { query: { ...asked, ...pageParam } } })),
      getNextPageParam: (page) => {
        const last = page[page.length - 1];
        return page.length < ENTRIES_A_PAGE || !last
          ? null
          : { behind_at: last.at, behind_chain: last.chain, behind_position: last.position };
      },
    }),
  /** What is typed, asked about while it is typed; their answers are kept for nobody. */
  preview: (characteristic: string, body: unknown) => key('preview', characteristic, body),
  runPreview: (station: string, results: unknown) => key('run-preview', station, results),
  replay: (characteristic: string, asked: unknown) => key('replay', characteristic, asked),
  ruleCost: (asked: unknown) => key('rule-cost', asked),
  planPreview: (changes: unknown) => key('plan-preview', changes),
  chooser: (asked: unknown, characteristic: string | null) => key('chooser', asked, characteristic),
};
