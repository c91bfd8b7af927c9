import '@fontsource-variable/archivo/wdth.css';
import './kit/steel.css';
import { ThemeProvider } from '@mui/material/styles';
import { MutationCache, type Query, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense, useMemo, type ReactNode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { BenchPage } from './bench/BenchPage';
import { Refusal } from './kit/client';
import { BASE } from './kit/place';
import { ScreenSettings, useSettings } from './kit/settings';
import { Readings } from './kit/reading';
import { Shell } from './frame/Shell';
import { steelTheme } from './kit/theme';
import { Undoable } from './kit/undo';

const TrialsPage = lazy(async () => ({ default: (await import('./trial/TrialsPage')).TrialsPage }));
const NewTrialPage = lazy(async () => ({
  default: (await import('./trial/NewTrialPage')).NewTrialPage,
}));
const TrialPage = lazy(async () => ({ default: (await import('./trial/TrialPage')).TrialPage }));
const BookPage = lazy(async () => ({ default: (await import('./book/BookPage')).BookPage }));
const RecipePage = lazy(async () => ({ default: (await import('./book/RecipePage')).RecipePage }));
const BookSheetPage = lazy(async () => ({
  default: (await import('./book/BookSheetPage')).BookSheetPage,
}));
const ImportPage = lazy(async () => ({ default: (await import('./book/ImportPage')).ImportPage }));
const ChoosePage = lazy(async () => ({ default: (await import('./choose/ChoosePage')).ChoosePage }));
const ComparePage = lazy(async () => ({ default: (await import('./trial/ComparePage')).ComparePage }));
const HeightRoom = lazy(async () => ({ default: (await import('./height/HeightRoom')).HeightRoom }));
const LiveCutPage = lazy(async () => ({ default: (await import('./height/LiveCutPage')).LiveCutPage }));
const SetPointPage = lazy(async () => ({
  default: (await import('./height/SetPointPage')).SetPointPage,
}));
const TimingPage = lazy(async () => ({ default: (await import('./height/TimingPage')).TimingPage }));
const LoopPage = lazy(async () => ({ default: (await import('./height/LoopPage')).LoopPage }));
const RecordingsPage = lazy(async () => ({
  default: (await import('./height/RecordingsPage')).RecordingsPage,
}));
const RecordingPage = lazy(async () => ({
  default: (await import('./height/RecordingPage')).RecordingPage,
}));
const SignalPathPage = lazy(async () => ({
  default: (await import('./height/SignalPathPage')).SignalPathPage,
}));
const TorchRoom = lazy(async () => ({ default: (await import('./torch/TorchRoom')).TorchRoom }));
const PartsPage = lazy(async () => ({ default: (await import('./torch/PartsPage')).PartsPage }));
const JetPage = lazy(async () => ({ default: (await import('./torch/JetPage')).JetPage }));
const ShelfPage = lazy(async () => ({ default: (await import('./torch/ShelfPage')).ShelfPage }));
const ProgramsPage = lazy(async () => ({
  default: (await import('./programs/ProgramsPage')).ProgramsPage,
}));
const ProgramPage = lazy(async () => ({
  default: (await import('./programs/ProgramPage')).ProgramPage,
}));
const MachineRoom = lazy(async () => ({ default: (await import('./machine/MachineRoom')).MachineRoom }));
const SquarePage = lazy(async () => ({ default: (await import('./machine/SquarePage')).SquarePage }));
const HolesPage = lazy(async () => ({ default: (await import('./machine/HolesPage')).HolesPage }));
const MotionPage = lazy(async () => ({ default: (await import('./machine/MotionPage')).MotionPage }));
const HealthPage = lazy(async () => ({ default: (await import('./machine/HealthPage')).HealthPage }));
const MachinePage = lazy(async () => ({ default: (await import('./machine/MachinePage')).MachinePage }));
const TroublePage = lazy(async () => ({
  default: (await import('./trouble/TroublePage')).TroublePage,
}));
const PracticePage = lazy(async () => ({
  default: (await import('./practice/PracticePage')).PracticePage,
}));
const CasePage = lazy(async () => ({ default: (await import('./practice/CasePage')).CasePage }));
const TableDebriefPage = lazy(async () => ({
  default: (await import('./practice/TableDebriefPage')).TableDebriefPage,
}));
const ShopPage = lazy(async () => ({ default: (await import('./shop/ShopPage')).ShopPage }));
const ReadyPage = lazy(async () => ({ default: (await import('./ready/ReadyPage')).ReadyPage }));
const KerfVariantsPage = lazy(async () => ({
  default: (await import('./kit/KerfVariantsPage')).KerfVariantsPage,
}));

/** What is still being read for the first time was asked before the change, and making it invalid would not ask again. */
async function askAnewWhatIsFirstRead() {
  const first = new Set(
    queries
      .getQueryCache()
      .findAll({ fetchStatus: 'fetching', predicate: (query) => query.state.data === undefined }),
  );
  const filter = { predicate: (query: Query) => first.has(query) };
  await queries.cancelQueries(filter);
  void queries.refetchQueries(filter);
}

const queries = new QueryClient({
  mutationCache: new MutationCache({ onSuccess: askAnewWhatIsFirstRead }),
  defaultOptions: {
    // A refusal is an answer; only a server that is gone is asked again.
    // A server on this machine, or on the shop's network, is asked whatever the browser thinks of "online".
    mutations: { networkMode: 'always' },
    queries: {
      networkMode: 'always',
      retry: (times, error) => times < 2 && (!(error instanceof Refusal) || error.status === 0),
      staleTime: 1000,
    },
  },
});

function Themed({ children }: { children: ReactNode }) {
  const { light } = useSettings();
  const theme = useMemo(() => steelTheme(light), [light]);
  return <ThemeProvider theme={theme}>{children}</ThemeProvider>;
}

const root = document.getElementById('root');
if (!root) throw new Error('index.html has no #root');
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <ScreenSettings>
        <Themed>
          <Undoable>
            <Readings>
              <BrowserRouter basename={BASE || '/'}>
                <Suspense fallback={null}>
                  <Routes>
                    <Route path="/kerf-sections" element={<KerfVariantsPage />} />
                    <Route element={<Shell />}>
                      <Route path="/bench" element={<BenchPage />} />
                      <Route path="/trials" element={<TrialsPage />} />
                      <Route path="/trials/new" element={<NewTrialPage />} />
                      <Route path="/trials/:trialId" element={<TrialPage />} />
                      <Route path="/compare" element={<ComparePage />} />
                      <Route path="/book" element={<BookPage />} />
                      <Route path="/book/sheet" element={<BookSheetPage />} />
                      <Route path="/book/import" element={<ImportPage />} />
                      <Route path="/choose" element={<ChoosePage />} />
                      <Route path="/height" element={<HeightRoom />}>
                        <Route index element={<LiveCutPage />} />
                        <Route path="set-point" element={<SetPointPage />} />
                        <Route path="timing" element={<TimingPage />} />
                        <Route path="loop" element={<LoopPage />} />
                        <Route path="recordings" element={<RecordingsPage />} />
                        <Route path="recordings/:traceId" element={<RecordingPage />} />
                        <Route path="signal-path" element={<SignalPathPage />} />
                      </Route>
                      <Route path="/torch" element={<TorchRoom />}>
                        <Route index element={<PartsPage />} />
                        <Route path="jet" element={<JetPage />} />
                        <Route path="shelf" element={<ShelfPage />} />
                      </Route>
                      <Route path="/programs" element={<ProgramsPage />} />
                      <Route path="/programs/:programId" element={<ProgramPage />} />
                      <Route path="/machine" element={<MachineRoom />}>
                        <Route index element={<MachinePage />} />
                        <Route path="square" element={<SquarePage />} />
                        <Route path="holes" element={<HolesPage />} />
                        <Route path="motion" element={<MotionPage />} />
                        <Route path="health" element={<HealthPage />} />
                      </Route>
                      <Route path="/trouble" element={<TroublePage />} />
                      <Route path="/practice" element={<PracticePage />} />
                      <Route path="/practice/tables/:runId" element={<TableDebriefPage />} />
                      <Route path="/practice/:caseId" element={<CasePage />} />
                      <Route path="/shop" element={<ShopPage />} />
                      <Route path="/ready" element={<ReadyPage />} />
                      <Route path="/book/recipes/:recipeId" element={<RecipePage />} />
                      <Route path="*" element={<Navigate to="/bench" replace />} />
                    </Route>
                  </Routes>
                </Suspense>
              </BrowserRouter>
            </Readings>
          </Undoable>
        </Themed>
      </ScreenSettings>
    </QueryClientProvider>
  </StrictMode>,
);
