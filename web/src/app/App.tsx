import { Box, Button, CssBaseline, ThemeProvider } from '@mui/material';
import { lazy, type ReactNode, Suspense, useMemo } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { RoundsPage } from '../features/rounds/RoundsPage';
import { OutboxProvider } from '../outbox/Outbox';
import { Notice } from '../ui/Notice';
import { Empty, Loading } from '../ui/States';
import { FRAME } from '../words/app';
import { sentenceFor } from '../words/failures';
import { useDensity } from '../ui/density';
import { type Mode, useMode } from '../ui/mode';
import { Roomy } from '../ui/Roomy';
import { SessionProvider, useAccess } from '../session/session';
import { Shell } from './Shell';
import { useIdle, useSharedTerminal } from '../session/sharedTerminal';
import { makeTheme } from '../ui/theme';
import { chartPage, entryPage, firstPassword, signIn, useNextPages } from './nextPages';

// Whoever comes in sees the round: what else there is comes when it is opened, and what a round leads to ahead of that.
const SignInPage = lazy(() => signIn().then((it) => ({ default: it.SignInPage })));
const LockedPage = lazy(() => signIn().then((it) => ({ default: it.LockedPage })));
const FirstPasswordPage = lazy(() => firstPassword().then((it) => ({ default: it.FirstPasswordPage })));
const EntryPage = lazy(entryPage);
const ChartPage = lazy(chartPage);
const ChartsPage = lazy(() => import('../features/charts/ChartsPage'));
const EpisodePage = lazy(() => import('../features/signals/EpisodePage'));
const WaitingPage = lazy(() => import('../features/waiting/WaitingPage'));
const MePage = lazy(() => import('../features/me/MePage'));
const SignaturesPage = lazy(() => import('../features/signals/SignaturesPage'));
const SignaturePage = lazy(() => import('../features/signals/SignaturePage'));
// The long lists bring the data grid along; the entry page must not wait for it.
const SignalsPage = lazy(() => import('../features/signals/SignalsPage'));
// Set up on few days and by few people.
const LimitsPage = lazy(() => import('../features/limits/LimitsPage'));
const ToLookAtPage = lazy(() => import('../features/limits/ToLookAtPage'));
const PlanPage = lazy(() => import('../features/plan/PlanPage'));
const LookPage = lazy(() => import('../features/charts/LookPage'));
const PaperPage = lazy(() => import('../features/paper/PaperPage'));
const SignPage = lazy(() => import('../features/signals/SignPage'));
const QueuePage = lazy(() => import('../features/signals/QueuePage'));
const CausesPage = lazy(() => import('../features/plan/CausesPage'));
const RuleSetsPage = lazy(() => import('../features/plan/RuleSetsPage'));
const CharacteristicPage = lazy(() => import('../features/plan/CharacteristicPage'));
const LabPage = lazy(() => import('../features/lab/LabPage'));
const RunPage = lazy(() => import('../features/lab/RunPage'));
const RunsPage = lazy(() => import('../features/lab/RunsPage'));
const FiguresPage = lazy(() => import('../features/lab/FiguresPage'));
const PeersPage = lazy(() => import('../features/peers/PeersPage'));
const GivenPage = lazy(() => import('../features/peers/GivenPage'));
const PeerGroupPage = lazy(() => import('../features/peers/PeerGroupPage'));
const AnalytePage = lazy(() => import('../features/lab/AnalytePage'));
const DevicesPage = lazy(() => import('../features/devices/DevicesPage'));
const DevicePage = lazy(() => import('../features/devices/DevicePage'));
const WebhooksPage = lazy(() => import('../features/people/WebhooksPage'));
const HandoverPage = lazy(() => import('../features/handover/HandoverPage'));
const DataPage = lazy(() => import('../features/data/DataPage'));
const HandOutPage = lazy(() => import('../features/data/HandOutPage'));
const BringInPage = lazy(() => import('../features/data/BringInPage'));
const ReportsPage = lazy(() => import('../features/reports/ReportsPage'));
const StudiesPage = lazy(() => import('../features/studies/StudiesPage'));
const StudyPage = lazy(() => import('../features/studies/StudyPage'));
const TreesPage = lazy(() => import('../features/cause-trees/TreesPage'));
const StartTreePage = lazy(() => import('../features/cause-trees/StartTreePage'));
const TreePage = lazy(() => import('../features/cause-trees/TreePage'));
const AskPage = lazy(() => import('../features/studies/AskPage'));
const CameInPage = lazy(() => import('../features/came-in/CameInPage'));
const LearnPage = lazy(() => import('../features/learn/LearnPage'));
const PeoplePage = lazy(() => import('../features/people/PeoplePage'));
const WallPage = lazy(() => import('../features/wall/WallPage'));
const TrailPage = lazy(() => import('../features/trail/TrailPage'));

export function App() {
  const [mode, switchMode] = useMode();
  const density = useDensity();
  const theme = useMemo(() => makeTheme(mode, density), [mode, density]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline enableColorScheme />
      <Routes>
        {/* A monitor in the hall: nobody is signed in there. */}
        <Route
          path="/wall"
          element={
            <Suspense fallback={<Loading what={FRAME.page} />}>
              <WallPage />
            </Suspense>
          }
        />
        <Route
          path="*"
          element={
            <SessionProvider>
              <OutboxProvider>
                <Suspense fallback={<Loading what={FRAME.name} />}>
                  <Rooms mode={mode} onMode={switchMode} />
                </Suspense>
              </OutboxProvider>
            </SessionProvider>
          }
        />
      </Routes>
    </ThemeProvider>
  );
}

/** Where something is entered. */
const roomy = (page: ReactNode) => <Roomy>{page}</Roomy>;

function Rooms({ mode, onMode }: { mode: Mode; onMode: () => void }) {
  const { session, retry, lock } = useAccess();
  const after = useSharedTerminal();
  const present = session.kind === 'person' && !session.locked;
  useIdle(present ? after : null, () => void lock());
  useNextPages(present);
  if (session.kind === 'loading') return <Loading what={FRAME.name} />;
  if (session.kind === 'nobody') return <SignInPage />;
  if (session.kind === 'away') {
    return (
      <Box component="main" sx={{ p: 4, maxWidth: 520 }}>
        <Notice kind="problem">{sentenceFor(session.error)}</Notice>
        <Button variant="outlined" sx={{ mt: 2 }} onClick={retry}>
          {FRAME.tryAgain}
        </Button>
      </Box>
    );
  }
  if (session.person.password_is_first && !session.locked) return <FirstPasswordPage />;
  const home = session.person.may.includes('look') ? '/rounds' : '/charts';
  const rooms = (
    <Shell key={session.person.id} mode={mode} onMode={onMode}>
      <Suspense fallback={<Loading what={FRAME.page} />}>
        <Routes>
          <Route path="/" element={<Navigate to={home} replace />} />
          <Route path="/rounds" element={<RoundsPage />} />
          <Route path="/rounds/:id" element={roomy(<EntryPage />)} />
          <Route path="/me" element={<MePage />} />
          <Route path="/waiting" element={<WaitingPage />} />
          <Route path="/charts" element={<ChartsPage />} />
          <Route path="/charts/:id" element={<ChartPage />} />
          <Route path="/charts/:id/look" element={<LookPage />} />
          <Route path="/charts/:id/paper" element={<PaperPage />} />
          <Route path="/charts/:id/limits" element={<LimitsPage />} />
          <Route path="/charts/limits-to-look-at" element={<ToLookAtPage />} />
          <Route path="/signals" element={<SignalsPage />} />
          <Route path="/signals/sign" element={<SignPage />} />
          <Route path="/signals/signatures" element={<SignaturesPage />} />
          <Route path="/signals/signatures/:id" element={<SignaturePage />} />
          <Route path="/signals/queue" element={<QueuePage />} />
          <Route path="/signals/:id" element={<EpisodePage />} />
          <Route path="/plan" element={<PlanPage />} />
          <Route path="/plan/characteristics/new" element={<CharacteristicPage />} />
          <Route path="/plan/characteristics/:id" element={<CharacteristicPage />} />
          <Route path="/plan/rule-sets" element={<RuleSetsPage />} />
          <Route path="/plan/causes" element={<CausesPage />} />
          <Route path="/plan/devices" element={<DevicesPage />} />
          <Route path="/plan/devices/new" element={<DevicePage />} />
          <Route path="/plan/devices/:id" element={<DevicePage />} />
          <Route path="/plan/analytes/new" element={<AnalytePage />} />
          <Route path="/lab" element={roomy(<LabPage />)} />
          <Route path="/lab/figures/:station" element={<FiguresPage />} />
          <Route path="/lab/review" element={<RunsPage />} />
          <Route path="/lab/runs/:id" element={<RunPage />} />
          <Route path="/data" element={<DataPage />} />
          <Route path="/data/out" element={<HandOutPage />} />
          <Route path="/data/files/:file" element={<BringInPage />} />
          <Route path="/lab/peers" element={<PeersPage />} />
          <Route path="/lab/peers/new" element={<PeerGroupPage />} />
          <Route path="/lab/peers/:group" element={<PeersPage />} />
          <Route path="/lab/peers/:group/given" element={<GivenPage />} />
          <Route path="/lab/peers/:group/set-up" element={<PeerGroupPage />} />
          <Route path="/handover" element={<HandoverPage />} />
          <Route path="/signals/samples" element={<CameInPage />} />
          <Route path="/signals/learn" element={<LearnPage />} />
          <Route path="/cause-trees" element={<TreesPage />} />
          <Route path="/cause-trees/new" element={<StartTreePage />} />
          <Route path="/cause-trees/:id" element={<TreePage />} />
          <Route path="/studies" element={<StudiesPage />} />
          {['capability', 'distribution', 'defects', 'side-by-side', 'rule-sets', 'over-time'].map((path) => (
            <Route key={path} path={`/studies/${path}`} element={<AskPage key={path} />} />
          ))}
          <Route path="/studies/:id" element={<StudyPage />} />
          <Route path="/reports" element={<ReportsPage />} />
          <Route path="/people/webhooks" element={<WebhooksPage />} />
          <Route path="/people" element={<PeoplePage />} />
          <Route path="/trail" element={<TrailPage />} />
          <Route path="*" element={<Empty>{FRAME.nothingHere}</Empty>} />
        </Routes>
      </Suspense>
    </Shell>
  );
  return (
    <>
      {session.locked && <LockedPage />}
      <div hidden={session.locked} inert={session.locked}>
        {rooms}
      </div>
    </>
  );
}
