import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createBrowserRouter, Link, RouterProvider, useRouteError } from 'react-router'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { WorkshopPage } from '@/workshop/WorkshopPage'
import { Kept, ProblemError } from '@/api/client'
import { forgetSeen } from '@/api/reach'
import { sessionQuery } from '@/people/session'
import { Frame } from './Frame'
import { PreferencesProvider } from './preferences'

// The server is this machine: whether the browser thinks itself online does not matter.
const queryClient: QueryClient = new QueryClient({
  queryCache: new QueryCache({ onError: signedOut }),
  mutationCache: new MutationCache({
    onError: (error) => {
      signedOut(error)
      keptHere(error)
    },
  }),
  defaultOptions: {
    queries: { retry: 1, staleTime: 2_000, networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
})

/** What waits on this device is shown as if it were stored: what the page fetches anew says so. */
function keptHere(error: Error) {
  if (error instanceof Kept) void queryClient.invalidateQueries({ queryKey: ['engines'] })
}

/** A device that was signed out elsewhere asks who is there, and so comes to sign in. */
function signedOut(error: Error) {
  if (error instanceof ProblemError && error.status === 401) {
    void forgetSeen()
    void queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey, exact: true })
  }
}

function NoSuchPage() {
  return (
    <Empty>
      <Trans>
        There is no page at this address. <Link to="/">Back to the workshop</Link>
      </Trans>
    </Empty>
  )
}

function BrokenPage() {
  return (
    <div className="p-6">
      <ErrorNotice error={useRouteError()} retry={() => window.location.reload()} />
    </div>
  )
}

// Fetched when first gone to; the service worker has fetched all of them before that.
const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <BrokenPage />,
    hydrateFallbackElement: <Loading what={t`the page`} />,
    children: [
      { path: '/', element: <WorkshopPage /> },
      {
        path: '/bench',
        lazy: () => import('@/bench/BenchPage').then(({ BenchPage: Component }) => ({ Component })),
      },
      {
        path: '/pair',
        lazy: () => import('@/people/PairPage').then(({ PairPage: Component }) => ({ Component })),
      },
      {
        path: '/week',
        lazy: () =>
          import('@/workshop/WeekPage').then(({ WeekPage: Component }) => ({ Component })),
      },
      {
        path: '/customers',
        lazy: () =>
          import('@/workshop/CustomersPage').then(({ CustomersPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/cost-estimate',
        lazy: () =>
          import('@/engine/CostEstimatePage').then(({ CostEstimatePage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/bench/orders',
        lazy: () =>
          import('@/bench/OrdersPage').then(({ OrdersPage: Component }) => ({ Component })),
      },
      {
        path: '/bench/bin',
        lazy: () => import('@/bench/BinPage').then(({ BinPage: Component }) => ({ Component })),
      },
      {
        path: '/bench/changes',
        lazy: () =>
          import('@/people/ChangesPage').then(({ AllChangesPage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/changes',
        lazy: () =>
          import('@/people/ChangesPage').then(({ EngineChangesPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/bench/forecasts',
        lazy: () =>
          import('@/bench/ForecastsPage').then(({ ForecastsPage: Component }) => ({ Component })),
      },
      {
        path: '/bench/practice',
        lazy: () =>
          import('@/practice/PracticePage').then(({ PracticePage: Component }) => ({ Component })),
      },
      {
        path: '/bench/practice/:runId',
        lazy: () => import('@/practice/RunPage').then(({ RunPage: Component }) => ({ Component })),
      },
      {
        path: '/handbook',
        lazy: () =>
          import('@/handbook/HandbookPage').then(({ HandbookPage: Component }) => ({ Component })),
      },
      {
        path: '/handbook/:page',
        lazy: () =>
          import('@/handbook/ReadingPage').then(({ ReadingPage: Component }) => ({ Component })),
      },
      {
        path: '/new-engine',
        lazy: () =>
          import('@/engine/EngineFormPage').then(({ NewEnginePage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/sheet',
        lazy: () =>
          import('@/engine/check-sheet/BlankSheetPage').then(({ BlankSheetPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/check-sheet',
        lazy: () =>
          import('@/visit/check-sheet/CheckSheetEntryPage').then(
            ({ CheckSheetEntryPage: Component }) => ({ Component }),
          ),
      },
      {
        path: '/engines/:engineId/data',
        lazy: () =>
          import('@/engine/EngineFormPage').then(({ EngineDataPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/tables',
        lazy: () =>
          import('@/engine/tables/TablesPage').then(({ TablesPage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/drift',
        lazy: () =>
          import('@/engine/drift/DriftSheetPage').then(({ DriftSheetPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/drift/:valveId',
        lazy: () =>
          import('@/engine/drift/DriftSheetPage').then(({ DriftSheetPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId',
        lazy: () =>
          import('@/engine/EnginePage').then(({ EnginePage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/valves/:valveId',
        lazy: () =>
          import('@/engine/EnginePage').then(({ EnginePage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/valves/:valveId/life',
        lazy: () =>
          import('@/engine/ValveLifePage').then(({ ValveLifePage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/compare',
        lazy: () =>
          import('@/engine/compare/ComparePage').then(({ ComparePage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/complaint',
        lazy: () =>
          import('@/visit/complaint/ComplaintPage').then(({ ComplaintPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/prepare',
        lazy: () =>
          import('@/visit/prepare/PreparePage').then(({ PreparePage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/inspect',
        lazy: () =>
          import('@/visit/inspect/InspectPage').then(({ InspectPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/position',
        lazy: () =>
          import('@/visit/position/PositionPage').then(({ PositionPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/measure',
        lazy: () =>
          import('@/visit/measure/MeasurePage').then(({ MeasurePage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/measure/:valveId',
        lazy: () =>
          import('@/visit/measure/MeasurePage').then(({ MeasurePage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/assess',
        lazy: () =>
          import('@/visit/assess/AssessPage').then(({ AssessPage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/adjust',
        lazy: () =>
          import('@/visit/adjust/AdjustPage').then(({ AdjustPage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/verify',
        lazy: () =>
          import('@/visit/verify/VerifyPage').then(({ VerifyPage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/tests',
        lazy: () =>
          import('@/visit/tests/TestsPage').then(({ TestsPage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/instruments',
        lazy: () =>
          import('@/visit/instruments/InstrumentsPage').then(({ InstrumentsPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/sound',
        lazy: () =>
          import('@/visit/sound/SoundPage').then(({ SoundPage: Component }) => ({ Component })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/sound/:recordingId',
        lazy: () =>
          import('@/visit/sound/RecordingPage').then(({ RecordingPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/visits/:visitId/card',
        lazy: () =>
          import('@/visit/job-card/JobCardPage').then(({ JobCardPage: Component }) => ({
            Component,
          })),
      },
      {
        path: '/engines/:engineId/cases/:caseId',
        lazy: () => import('@/case/CasePage').then(({ CasePage: Component }) => ({ Component })),
      },
      { path: '*', element: <NoSuchPage /> },
    ],
  },
])

export function App() {
  return (
    <QueryClientProvider client={queryClient}>
      <PreferencesProvider>
        <RouterProvider router={router} />
      </PreferencesProvider>
    </QueryClientProvider>
  )
}
