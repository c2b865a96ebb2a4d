/** The page's own addresses: identifiers may hold any letter, so they are always encoded. */

const step = encodeURIComponent

export function engineAddress(engineId: string): string {
  return `/engines/${step(engineId)}`
}

/** The drift sheet; with a valve, that one large over it. */
export function driftAddress(engineId: string, valve?: string): string {
  const sheet = `${engineAddress(engineId)}/drift`
  return valve === undefined ? sheet : `${sheet}/${step(valve)}`
}

export const TABLES = ['visits', 'readings', 'drift', 'cases'] as const

/** Where the server hands out a table of an engine as CSV. */
export function tableAddress(engineId: string, table: (typeof TABLES)[number]): string {
  return `/api${engineAddress(engineId)}/${table}.csv`
}

/** All tables of an engine in one zip, with their descriptor. */
export function packageAddress(engineId: string): string {
  return `/api${engineAddress(engineId)}/tables.zip`
}

export function exampleSheetAddress(engineId: string): string {
  return `/api${engineAddress(engineId)}/readings-sheet/example.csv`
}

/** The page of an engine's tables, out and in. */
export function tablesAddress(engineId: string): string {
  return `${engineAddress(engineId)}/tables`
}

export function photographAddress(engineId: string, caseId: string, entryId: string): string {
  return `/api${engineAddress(engineId)}/cases/${step(caseId)}/notebook/${step(entryId)}/photograph`
}

export function visitPhotographAddress(engineId: string, visitId: string, id: string): string {
  return `/api${engineAddress(engineId)}/visits/${step(visitId)}/photographs/${step(id)}/picture`
}

export function valveAddress(engineId: string, valve: string): string {
  return `${engineAddress(engineId)}/valves/${step(valve)}`
}

/** Everything that was done at one valve. */
export function valveLifeAddress(engineId: string, valve: string): string {
  return `${valveAddress(engineId, valve)}/life`
}

/** One state of an engine, as a comparison names it: a visit, as found there or after it. */
export type ComparedState = { engine: string; visit: string; when: 'found' | 'after' }

/** Two states side by side; without them the page's own choice. */
export function compareAddress(engineId: string, states?: [ComparedState, ComparedState]): string {
  const page = `${engineAddress(engineId)}/compare`
  if (!states) return page
  const [{ visit, when }, other] = states
  const query = new URLSearchParams({
    visit,
    when,
    with_engine: other.engine,
    with_visit: other.visit,
    with_when: other.when,
  })
  return `${page}?${query.toString()}`
}

export function measureAddress(engineId: string, visitId: string, valve?: string): string {
  const visit = `${engineAddress(engineId)}/visits/${step(visitId)}/measure`
  return valve === undefined ? visit : `${visit}/${step(valve)}`
}

/** The steps of a visit; Measure has one address more for each valve. */
export const STEPS = [
  'complaint',
  'prepare',
  'inspect',
  'position',
  'measure',
  'assess',
  'adjust',
  'verify',
] as const
export type StepName = (typeof STEPS)[number]

export function stepAddress(engineId: string, visitId: string, stop: StepName): string {
  return `${engineAddress(engineId)}/visits/${step(visitId)}/${stop}`
}

export function positionAddress(engineId: string, visitId: string): string {
  return stepAddress(engineId, visitId, 'position')
}

/** Compression, leak-down and other figures of a visit. */
export function testsAddress(engineId: string, visitId: string): string {
  return `${engineAddress(engineId)}/visits/${step(visitId)}/tests`
}

/** Instruments of a visit, live or replayed. */
export function instrumentsAddress(engineId: string, visitId: string): string {
  return `${engineAddress(engineId)}/visits/${step(visitId)}/instruments`
}

/** Sound recordings of a visit. */
export function soundAddress(engineId: string, visitId: string): string {
  return `${engineAddress(engineId)}/visits/${step(visitId)}/sound`
}

export function recordingAddress(engineId: string, visitId: string, id: string): string {
  return `${soundAddress(engineId, visitId)}/${step(id)}`
}

/** Where the sound of a recording is heard. */
export function recordedSoundAddress(engineId: string, visitId: string, id: string): string {
  return `/api${engineAddress(engineId)}/visits/${step(visitId)}/recordings/${step(id)}/sound`
}

/** Where the simulated microphone is heard. */
export function simulatedSoundAddress(engineId: string, visitId: string): string {
  return `/api${engineAddress(engineId)}/visits/${step(visitId)}/recordings/simulated`
}

/** Where the noise of the practice engine is heard, recorded at a step of a run. */
export function practiceSoundAddress(runId: string, number: number): string {
  return `/api/practice/runs/${step(runId)}/sounds/${number}`
}

/** Where a simulated instrument is read from, sample by sample. */
export function instrumentTraceAddress(
  engineId: string,
  visitId: string,
  kind: string,
  asked: Record<string, string | number | boolean | undefined>,
): string {
  return `/api${instrumentsAddress(engineId, visitId)}/${kind}/trace${query(asked)}`
}

export const practiceAddress = '/bench/practice'

export function practiceRunAddress(runId: string): string {
  return `${practiceAddress}/${step(runId)}`
}

/** Where an instrument on the practice engine is read from. */
export function practiceTraceAddress(
  runId: string,
  kind: string,
  asked: Record<string, string | number | boolean | undefined>,
): string {
  return `/api/practice/runs/${step(runId)}/instruments/${kind}/trace${query(asked)}`
}

/** What is asked of an address; what is not known is left out. */
export function query(asked: Record<string, string | number | boolean | undefined>): string {
  const known = Object.entries(asked).filter(([, value]) => value !== undefined)
  return `?${new URLSearchParams(known.map(([name, value]) => [name, String(value)])).toString()}`
}

/** The table in which a check sheet is entered. */
export function checkSheetAddress(engineId: string, visitId: string): string {
  return `${engineAddress(engineId)}/visits/${step(visitId)}/check-sheet`
}

/** The job card to print, and the same as PDF from the server. */
export function cardAddress(engineId: string, visitId: string): string {
  return `${engineAddress(engineId)}/visits/${step(visitId)}/card`
}

export function cardPdfAddress(engineId: string, visitId: string, unit: string): string {
  return `/api${cardAddress(engineId, visitId)}.pdf?unit=${step(unit)}`
}

/** The blank sheet to print. */
export function sheetAddress(engineId: string): string {
  return `${engineAddress(engineId)}/sheet`
}

/** What work waits for. */
export const ORDERS_ADDRESS = '/bench/orders'

/** What was deleted in the last 30 days. */
export const BIN_ADDRESS = '/bench/bin'

export const CUSTOMERS_ADDRESS = '/customers'

/** Where the photograph of an engine's plate is; another address for every other picture. */
export function plateAddress(engineId: string, picture: string): string {
  return `/api${engineAddress(engineId)}/plate-photograph?of=${picture}`
}

/** What the next check costs, for the customer. */
export function costEstimateAddress(engineId: string): string {
  return `${engineAddress(engineId)}/cost-estimate`
}

export const WEEK_ADDRESS = '/week'
export const NEW_ENGINE_ADDRESS = '/new-engine'
export const BENCH_ADDRESS = '/bench'
export const PRACTICE_ADDRESS = '/bench/practice'
export const HANDBOOK_ADDRESS = '/handbook'

/** A cause's page of the handbook. */
export function causeAddress(cause: string): string {
  return `${HANDBOOK_ADDRESS}#${step(cause)}`
}

export function engineDataAddress(engineId: string): string {
  return `${engineAddress(engineId)}/data`
}

export function caseAddress(engineId: string, caseId: string): string {
  return `${engineAddress(engineId)}/cases/${step(caseId)}`
}

/** Where the server hands out an engine's record. */
export function recordAddress(engineId: string): string {
  return `/api${engineAddress(engineId)}/record`
}

export const forecastsAddress = '/bench/forecasts'

/** Where a link that pairs a device leads. */
export const PAIR_ADDRESS = '/pair'

/** Who changed what at an engine. */
export function changesAddress(engineId: string): string {
  return `${engineAddress(engineId)}/changes`
}

/** The same of the whole workshop. */
export const ALL_CHANGES_ADDRESS = '/bench/changes'

/** Where the sound of a visit's spoken commands is sent. */
export function listeningAddress(engineId: string, visitId: string, prefixAlways: boolean): string {
  return `/api/engines/${step(engineId)}/visits/${step(visitId)}/listening?prefix_always=${prefixAlways}`
}
