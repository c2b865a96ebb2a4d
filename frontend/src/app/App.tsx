import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createBrowserRouter, Link, RouterProvider, useRouteError } from 'react-router'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { EnginePage } from '@/engine/EnginePage'
import { WorkshopPage } from '@/workshop/WorkshopPage'
import { AssessPage } from '@/visit/assess/AssessPage'
import { ComplaintPage } from '@/visit/complaint/ComplaintPage'
import { InspectPage } from '@/visit/inspect/InspectPage'
import { MeasurePage } from '@/visit/measure/MeasurePage'
import { PreparePage } from '@/visit/prepare/PreparePage'
import { VerifyPage } from '@/visit/verify/VerifyPage'
import { AdjustPage } from '@/visit/adjust/AdjustPage'
import { PositionPage } from '@/visit/position/PositionPage'
import { ProblemError } from '@/api/client'
import { sessionQuery } from '@/people/session'
import { Frame } from './Frame'
import { PreferencesProvider } from './preferences'

// The server is this machine: whether the browser thinks itself online does not matter.
const queryClient: QueryClient = new QueryClient({
  queryCache: new QueryCache({ onError: signedOut }),
  mutationCache: new MutationCache({ onError: signedOut }),
  defaultOptions: {
    queries: { retry: 1, staleTime: 2_000, networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
})

/** A device that was signed out elsewhere asks who is there, and so comes to sign in. */
function signedOut(error: Error) {
  if (error instanceof ProblemError && error.status === 401) {
    void queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey, exact: true })
  }
}

function NoSuchPage() {
  return (
    <Empty>
      There is no page at this address. <Link to="/">Back to the workshop</Link>
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

// Fetched when first gone to: what the bench needs during a visit is there from the start.
const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <BrokenPage />,
    hydrateFallbackElement: <Loading what="the page" />,
    children: [
      { path: '/', element: <WorkshopPage /> },
      {
        path: '/bench',
        lazy: async () => ({ Component: (await import('@/bench/BenchPage')).BenchPage }),
      },
      {
        path: '/pair',
        lazy: async () => ({ Component: (await import('@/people/PairPage')).PairPage }),
      },
      {
        path: '/bench/changes',
        lazy: async () => ({ Component: (await import('@/people/ChangesPage')).AllChangesPage }),
      },
      {
        path: '/engines/:engineId/changes',
        lazy: async () => ({ Component: (await import('@/people/ChangesPage')).EngineChangesPage }),
      },
      {
        path: '/bench/forecasts',
        lazy: async () => ({ Component: (await import('@/bench/ForecastsPage')).ForecastsPage }),
      },
      {
        path: '/bench/practice',
        lazy: async () => ({ Component: (await import('@/practice/PracticePage')).PracticePage }),
      },
      {
        path: '/bench/practice/:runId',
        lazy: async () => ({ Component: (await import('@/practice/RunPage')).RunPage }),
      },
      {
        path: '/handbook',
        lazy: async () => ({ Component: (await import('@/handbook/HandbookPage')).HandbookPage }),
      },
      {
        path: '/handbook/:page',
        lazy: async () => ({ Component: (await import('@/handbook/ReadingPage')).ReadingPage }),
      },
      {
        path: '/new-engine',
        lazy: async () => ({ Component: (await import('@/engine/EngineFormPage')).NewEnginePage }),
      },
      {
        path: '/engines/:engineId/sheet',
        lazy: async () => ({
          Component: (await import('@/engine/check-sheet/BlankSheetPage')).BlankSheetPage,
        }),
      },
      {
        path: '/engines/:engineId/visits/:visitId/check-sheet',
        lazy: async () => ({
          Component: (await import('@/visit/check-sheet/CheckSheetEntryPage')).CheckSheetEntryPage,
        }),
      },
      {
        path: '/engines/:engineId/data',
        lazy: async () => ({ Component: (await import('@/engine/EngineFormPage')).EngineDataPage }),
      },
      {
        path: '/engines/:engineId/tables',
        lazy: async () => ({ Component: (await import('@/engine/tables/TablesPage')).TablesPage }),
      },
      {
        path: '/engines/:engineId/drift',
        lazy: async () => ({
          Component: (await import('@/engine/drift/DriftSheetPage')).DriftSheetPage,
        }),
      },
      {
        path: '/engines/:engineId/drift/:valveId',
        lazy: async () => ({
          Component: (await import('@/engine/drift/DriftSheetPage')).DriftSheetPage,
        }),
      },
      { path: '/engines/:engineId', element: <EnginePage /> },
      { path: '/engines/:engineId/valves/:valveId', element: <EnginePage /> },
      { path: '/engines/:engineId/visits/:visitId/complaint', element: <ComplaintPage /> },
      { path: '/engines/:engineId/visits/:visitId/prepare', element: <PreparePage /> },
      { path: '/engines/:engineId/visits/:visitId/inspect', element: <InspectPage /> },
      { path: '/engines/:engineId/visits/:visitId/position', element: <PositionPage /> },
      { path: '/engines/:engineId/visits/:visitId/measure', element: <MeasurePage /> },
      { path: '/engines/:engineId/visits/:visitId/measure/:valveId', element: <MeasurePage /> },
      { path: '/engines/:engineId/visits/:visitId/assess', element: <AssessPage /> },
      { path: '/engines/:engineId/visits/:visitId/adjust', element: <AdjustPage /> },
      { path: '/engines/:engineId/visits/:visitId/verify', element: <VerifyPage /> },
      {
        path: '/engines/:engineId/visits/:visitId/tests',
        lazy: async () => ({ Component: (await import('@/visit/tests/TestsPage')).TestsPage }),
      },
      {
        path: '/engines/:engineId/visits/:visitId/instruments',
        lazy: async () => ({
          Component: (await import('@/visit/instruments/InstrumentsPage')).InstrumentsPage,
        }),
      },
      {
        path: '/engines/:engineId/visits/:visitId/card',
        lazy: async () => ({
          Component: (await import('@/visit/job-card/JobCardPage')).JobCardPage,
        }),
      },
      {
        path: '/engines/:engineId/cases/:caseId',
        lazy: async () => ({ Component: (await import('@/case/CasePage')).CasePage }),
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
