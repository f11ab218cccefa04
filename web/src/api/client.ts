import createClient, { type Middleware } from 'openapi-fetch';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
export type Person = Schemas['Person'];
export type Shown = Schemas['Shown'];
export type Known = Schemas['Known'];
export type Station = Schemas['Station'];
export type Stop = Schemas['Stop'];
export type ChartView = Schemas['ChartView'];
export type Preview = Schemas['Preview'];
export type Saved = Schemas['Saved'];
export type SignalView = Schemas['SignalView'];
export type SignalState = Schemas['SignalState'];
export type Rule = Schemas['Rule'];
export type Side = Schemas['Side'];
export type Statistic = Schemas['Statistic'];
export type TrailEntry = Schemas['TrailEntry'];
export type News = Schemas['News'];
export type Decision = Schemas['Decision'];
export type Cause = Schemas['Cause'];
export type Plan = Schemas['Plan'];
export type Setup = Plan['characteristics'][number];
export type Characteristic = Schemas['Characteristic'];
export type ChartKind = Schemas['ChartKind'];
export type Recommendation = Schemas['Recommendation'];
export type Foreseen = Schemas['Foreseen'];
export type Preset = Schemas['Preset'];
export type DeviceView = Schemas['DeviceView'];
export type Link = DeviceView['link'];
export type Offer = Schemas['Offer'];
export type Bench = Schemas['Bench'];
export type Analyte = Schemas['Analyte'];
export type Level = Schemas['Level'];
export type RunView = Schemas['RunView'];
export type RunPreview = Schemas['RunPreview'];
export type AnalyteJudgement = Schemas['AnalyteJudgement'];
export type LevelFigures = Schemas['LevelFigures'];
export type LabRule = Schemas['LabRule'];
export type Verdict = Schemas['Verdict'];
export type RuleSet = Schemas['RuleSet'];

/** A failure as the server describes it, or one of the two that happen before it can. */
export class Failure extends Error {
  constructor(
    readonly code: string,
    readonly params: Readonly<Record<string, unknown>> = {},
    readonly status = 0,
  ) {
    super(code);
  }
}

/** The server could not be reached, or did not answer as itself. */
export const AWAY = 'away';

/** Whether the person was doing something, or the page only looked. */
type During = 'deed' | 'look';

const listeners = new Set<(during: During) => void>();

/** Calls `listener` whenever the server says that nobody is signed in any more. */
export function onSessionEnded(listener: (during: During) => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Their 401 says that somebody is not who they say, not that a session has ended. */
const SIGNING_IN = new Set(['/api/session', '/api/terminal', '/api/me/pin', '/api/me/badge']);

const sessionWatch: Middleware = {
  onResponse({ request, response, schemaPath }) {
    if (response.status !== 401 || SIGNING_IN.has(schemaPath)) return;
    const during = request.method === 'GET' || schemaPath.endsWith('/preview') ? 'look' : 'deed';
    listeners.forEach((listener) => listener(during));
  },
};

export const api = createClient<paths>({ baseUrl: '' });
api.use(sessionWatch);

async function describe(response: Response, body: unknown): Promise<Failure> {
  if (body !== null && typeof body === 'object' && 'code' in body && typeof body.code === 'string') {
    const params = 'params' in body && typeof body.params === 'object' ? body.params : {};
    return new Failure(body.code, params as Record<string, unknown>, response.status);
  }
  await Promise.resolve();
  return new Failure(response.status >= 502 ? AWAY : 'unknown', {}, response.status);
}

/** The data of an answer; a refusal or a server that is away becomes a `Failure`. */
export async function answered<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result;
  try {
    result = await call;
  } catch {
    throw new Failure(AWAY);
  }
  if (!result.response.ok) throw await describe(result.response, result.error);
  return result.data as T;
}
