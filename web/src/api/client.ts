import createClient, { type Middleware } from 'openapi-fetch';
import { fetchOrTaken } from './ahead';
import { AWAY, type Code, Failure, type Fault } from './failure';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
export type Person = Schemas['SignedIn'];
export type Account = Schemas['Account'];
export type AccountView = Schemas['AccountView'];
export type HandoverView = Schemas['HandoverView'];
export type NoticeKind = Schemas['NoticeKind'];
export type NoticeView = Schemas['NoticeView'];
export type WishesView = Schemas['WishesView'];
export type Webhook = Schemas['Webhook'];
export type WebhookView = Schemas['WebhookView'];
export type Report = Schemas['Report'];
export type ReportHead = Schemas['ReportHead'];
export type ReportKind = Schemas['ReportKind'];
export type EpisodeLine = Schemas['EpisodeLine'];
export type PointLine = Schemas['PointLine'];
export type ReviewLine = Schemas['ReviewLine'];
export type ReportNote = Schemas['ReportNote'];
export type Learned = Schemas['Learned'];
export type Permission = Schemas['Permission'];
export type Role = Schemas['Role'];
export type Shown = Schemas['Shown'];
export type TerminalPerson = Schemas['TerminalPerson'];
export type RoundStation = Schemas['RoundStation'];
export type Stop = Schemas['Stop'];
export type Drawing = Schemas['Drawing'];
export type SmallChart = Schemas['SmallChart'];
export type ChartNote = Schemas['ChartNote'];
export type WallView = Schemas['WallView'];
export type WallEpisode = Schemas['WallEpisode'];
export type Preview = Schemas['Preview'];
export type Saved = Schemas['Saved'];
export type EpisodeView = Schemas['EpisodeView'];
export type Explained = Schemas['Explained'];
export type EpisodeBefore = Schemas['EpisodeBefore'];
export type EpisodeRow = Schemas['EpisodeRow'];
export type ReviewView = Schemas['ReviewView'];
export type AnswerView = Schemas['AnswerView'];
export type NotTheirs = Schemas['NotTheirs'];
export type Pattern = Schemas['Pattern'];
export type SignalState = Schemas['SignalState'];
export type Rule = Schemas['Rule'];
export type Broken = Schemas['Broken'];
export type CameIn = Schemas['CameIn'];
export type Became = Schemas['Became'];
export type EpisodeSignal = Schemas['EpisodeSignal'];
export type EpisodeRun = Schemas['EpisodeRun'];
export type Side = Schemas['Side'];
export type Statistic = Schemas['Statistic'];
export type TrailEntry = Schemas['TrailEntry'];
export type News = Schemas['News'];
export type LiveNews = Schemas['LiveNews'];
export type Decision = Schemas['Decision'];
export type Cause = Schemas['Cause'];
export type CauseEntry = Schemas['CauseEntry'];
export type CauseGroup = Schemas['CauseGroup'];
export type CorrectedProcess = Schemas['CorrectedProcess'];
export type SeenPart = Schemas['SeenPart'];
export type Unsigned = Schemas['Unsigned'];
export type FileView = Schemas['FileView'];
export type Plan = Schemas['Plan'];
export type CauseTreeRow = Schemas['CauseTreeRow'];
export type CauseTreeView = Schemas['CauseTreeView'];
export type IdeaView = Schemas['IdeaView'];
export type Idea = Schemas['Idea'];
export type IdeaChange = Schemas['IdeaChange'];
export type IdeaVersion = Schemas['IdeaVersion'];
export type IdeaState = Schemas['IdeaState'];
export type Facts = Schemas['Facts'];
export type Origin = Schemas['Origin'];
export type TreeAction = Schemas['TreeAction'];
export type Evidence = Schemas['Evidence'];
export type StudyRow = Schemas['StudyRow'];
export type StudyView = Schemas['StudyView'];
export type StudyAnswer = Schemas['StudyAnswer'];
export type Sort = Schemas['Sort'];
export type DistributionAnswer = Schemas['DistributionFound'];
export type DefectsAnswer = Schemas['DefectsFound'];
export type SideBySideAnswer = Schemas['SideBySideFound'];
export type RuleSetsAnswer = Schemas['RuleSetsFound'];
export type OverTimeAnswer = Schemas['OverTimeFound'];
export type Distribution = Schemas['Distribution'];
export type TakenDistribution = Schemas['TakenDistribution'];
export type Kind = Schemas['Kind'];
export type Filter = Schemas['Filter'];
export type Design = Schemas['Design'];
export type Measure = Schemas['Measure'];
export type SumUp = Schemas['SumUp'];
export type Span = Schemas['Span'];
export type Estimate = Schemas['Estimate'];
export type RateRatio = Schemas['RateRatio'];
export type Histogram = Schemas['Histogram'];
export type ProbabilityPlot = Schemas['ProbabilityPlot'];
export type Question = Schemas['Question'];
export type ImportFileView = Schemas['ImportFileView'];
export type ImportView = Schemas['ImportView'];
export type ImportCheck = Schemas['ImportCheck'];
export type FolderTableView = Schemas['FolderTableView'];
export type ChangedRow = Schemas['ChangedRow'];
export type RecipeProposal = Schemas['RecipeProposal'];
export type RecipeView = Schemas['RecipeView'];
export type RefusedCell = Schemas['RefusedCell'];
export type RefusedRow = Schemas['RefusedRow'];
export type ShapePreview = Schemas['ShapePreview'];
export type ShapedSample = Schemas['ShapedSample'];
export type ToBringIn = Schemas['ToBringIn'];
export type HandedAsked = paths['/api/data/samples']['get']['parameters']['query'];
/** A row of a table that is handed out. */
export type HandedRow = Record<string, string | number | null>;
export type CapabilityQuestion = Schemas['CapabilityQuestion'];
export type CapabilityAnswer = Schemas['CapabilityFound'];
export type CapabilityDoubt = Schemas['CapabilityDoubt'];
export type CapabilityVerdict = Schemas['CapabilityVerdict'];
export type Standing = Schemas['Standing'];
export type Family = Schemas['Family'];
export type Selection = Schemas['Selection'];
export type Split = Schemas['Split'];
export type Since = Schemas['Since'];
export type StudyRefusal = Schemas['StudyRefusal'];
export type Behind = Schemas['Behind'];
export type CharacteristicView = Schemas['CharacteristicView'];
export type Choices = Schemas['Choices'];
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
export type PeerGroupView = Schemas['PeerGroupView'];
export type PeerGroup = Schemas['PeerGroup'];
export type LevelBeside = Schemas['LevelBeside'];
export type MonthBeside = Schemas['MonthBeside'];
export type GivenView = Schemas['GivenView'];
export type GivenState = Schemas['GivenState'];
export type RefusedStatistic = Schemas['RefusedStatistic'];
export type LabRule = Schemas['LabRule'];
export type Verdict = Schemas['Verdict'];
export type Outcome = Schemas['Outcome'];
export type Reason = Schemas['Reason'];
export type ReadingRefusal = Schemas['ReadingRefusal'];
export type WrongField = Schemas['WrongField'];
export type Unusual = Schemas['Unusual'];
export type UnusualResult = Schemas['UnusualResult'];
export type Doubt = Schemas['At_Vec_Doubt']['is'][number];
export type SigmaSource = Schemas['SigmaSource'];
export type RuleSet = Schemas['RuleSet'];
export type LimitsView = Schemas['LimitsView'];
export type LimitsPath = Schemas['LimitsPath'];
export type PathLimits = Schemas['PathLimits'];
export type PathPoint = Schemas['PathPoint'];
export type PathFinding = Schemas['PathFinding'];
export type PhaseRow = Schemas['PhaseRow'];
export type LimitsChange = Schemas['LimitsChange'];
export type LimitsState = Schemas['LimitsState'];
export type NewLimits = Schemas['NewLimits'];
export type Basis = Schemas['Basis'];
export type Unfit = Schemas['Unfit'];
export type ToLookAt = Schemas['ToLookAt'];
export type Kept = Schemas['Kept'];
export type NamedRuleSet = Schemas['NamedRuleSet'];
export type ListedRule = Schemas['ListedRule'];
export type Replay = Schemas['Replay'];
export type Arrange = Schemas['Arrange'];
export type Looked = Schemas['Looked'];
export type Figures = Schemas['Figures'];
export type TrustCheck = Schemas['TrustCheck'];
export type TrustView = Schemas['TrustView'];
export type WithdrawnReason = Schemas['WithdrawnReason'];

/** Whether the person was doing something, or the page only looked. */
type During = 'deed' | 'look';

const listeners = new Set<(during: During) => void>();

/** Calls `listener` whenever the server says that nobody is signed in any more. */
export function onSessionEnded(listener: (during: During) => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

const isEnded = (body: unknown): boolean =>
  typeof body === 'object' && body !== null && 'code' in body && body.code === ('not_signed_in' satisfies Code);

const sessionWatch: Middleware = {
  async onResponse({ request, response, schemaPath }) {
    // Other codes say that somebody is not who they say, as where something is signed.
    if (
      response.status !== 401 ||
      !isEnded(
        await response
          .clone()
          .json()
          .catch(() => null),
      )
    )
      return;
    const during = request.method === 'GET' || schemaPath.endsWith('/preview') ? 'look' : 'deed';
    listeners.forEach((listener) => listener(during));
  },
};

export const api = createClient<paths>({ baseUrl: '', fetch: fetchOrTaken });
api.use(sessionWatch);

function describe(response: Response, body: unknown): Failure {
  if (body !== null && typeof body === 'object' && 'code' in body && 'params' in body) {
    return new Failure({ code: body.code, params: body.params } as Fault, response.status);
  }
  return new Failure(response.status >= 502 ? AWAY : { code: 'unknown', params: {} }, response.status);
}

/** The data of an answer; a refusal or a server that is away becomes a `Failure`. */
export async function answered<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result;
  try {
    result = await call;
  } catch {
    throw new Failure(AWAY);
  }
  if (!result.response.ok) throw describe(result.response, result.error);
  return result.data as T;
}
