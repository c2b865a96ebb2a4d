import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createBrowserRouter, Link, RouterProvider, useRouteError } from 'react-router'
import { Empty, ErrorNotice, Loading } from '@/design/Notice'
import { EnginePage } from '@/engine/EnginePage'
import { Shop } from '@/shop/Shop'
import { JudgePage } from '@/visit/JudgePage'
import { ListenPage } from '@/visit/ListenPage'
import { LookInPage } from '@/visit/LookInPage'
import { MeasurePage } from '@/visit/MeasurePage'
import { PreparePage } from '@/visit/PreparePage'
import { ProvePage } from '@/visit/ProvePage'
import { SetPage } from '@/visit/SetPage'
import { TurnPage } from '@/visit/TurnPage'
import { Frame } from './Frame'
import { PreferencesProvider } from './preferences'

// The server is this machine: whether the browser thinks itself online does not matter.
const queryClient = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, staleTime: 2_000, networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
})

function NoSuchPage() {
  return (
    <Empty>
      There is no page at this address. <Link to="/">Back to the Shop</Link>
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
      { path: '/', element: <Shop /> },
      {
        path: '/bench',
        lazy: async () => ({ Component: (await import('@/bench/BenchPage')).BenchPage }),
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
        lazy: async () => ({ Component: (await import('@/paper/SheetPage')).SheetPage }),
      },
      {
        path: '/engines/:engineId/visits/:visitId/type-in',
        lazy: async () => ({ Component: (await import('@/paper/TypeInPage')).TypeInPage }),
      },
      {
        path: '/engines/:engineId/data',
        lazy: async () => ({ Component: (await import('@/engine/EngineFormPage')).EngineDataPage }),
      },
      {
        path: '/engines/:engineId/tables',
        lazy: async () => ({ Component: (await import('@/tables/TablesPage')).TablesPage }),
      },
      {
        path: '/engines/:engineId/drift',
        lazy: async () => ({ Component: (await import('@/drift/DriftSheetPage')).DriftSheetPage }),
      },
      {
        path: '/engines/:engineId/drift/:valveId',
        lazy: async () => ({ Component: (await import('@/drift/DriftSheetPage')).DriftSheetPage }),
      },
      { path: '/engines/:engineId', element: <EnginePage /> },
      { path: '/engines/:engineId/valves/:valveId', element: <EnginePage /> },
      { path: '/engines/:engineId/visits/:visitId/listen', element: <ListenPage /> },
      { path: '/engines/:engineId/visits/:visitId/prepare', element: <PreparePage /> },
      { path: '/engines/:engineId/visits/:visitId/look-in', element: <LookInPage /> },
      { path: '/engines/:engineId/visits/:visitId/turn', element: <TurnPage /> },
      { path: '/engines/:engineId/visits/:visitId/measure', element: <MeasurePage /> },
      { path: '/engines/:engineId/visits/:visitId/measure/:valveId', element: <MeasurePage /> },
      { path: '/engines/:engineId/visits/:visitId/judge', element: <JudgePage /> },
      { path: '/engines/:engineId/visits/:visitId/set', element: <SetPage /> },
      { path: '/engines/:engineId/visits/:visitId/prove', element: <ProvePage /> },
      {
        path: '/engines/:engineId/visits/:visitId/tests',
        lazy: async () => ({ Component: (await import('@/visit/TestsPage')).TestsPage }),
      },
      {
        path: '/engines/:engineId/visits/:visitId/instruments',
        lazy: async () => ({
          Component: (await import('@/instruments/InstrumentsPage')).InstrumentsPage,
        }),
      },
      {
        path: '/engines/:engineId/visits/:visitId/card',
        lazy: async () => ({ Component: (await import('@/paper/JobCardPage')).JobCardPage }),
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
