import { t } from '@lingui/core/macro'
import createClient from 'openapi-fetch'
import { language } from '@/design/language'
import { keep, waiting, type Waiting } from './outbox'
import { noteAnswer, noteAway } from './reach'
import type { components, operations, paths } from './schema'
import { asIfSent, mayWait, placeOf, wordsOf } from './whileAway'

type Schemas = components['schemas']
export type Timeline = Schemas['TimelineOut']
export type TrueClearance = Schemas['TrueClearanceOut']
export type CheckAt = Schemas['CheckAtOut']
export type SetTo = Schemas['SetToOut']
export type MeterChange = Schemas['MeterChange']
export type NextTest = Schemas['NextTestOut']
export type Handbook = Schemas['HandbookOut']
export type ShopLanes = Schemas['WorkshopOut']
export type EngineDetail = Schemas['EngineOut']
export type Engine = Schemas['EngineModel']
export type Valve = Schemas['ValveModel']
export type Analysis = Schemas['AnalysisOut']
export type ValveAnalysis = Schemas['ValveOut']
export type StateAtVisit = Schemas['StateOut']
export type Estimate = Schemas['EstimateOut']
export type Visit = Schemas['VisitOut']
export type MeasuredValve = Schemas['MeasuredValveOut']
export type AnsweredValve = Schemas['AnsweredOut']
export type CrankPosition = Schemas['PositionOut']
export type Advice = Schemas['AdviceOut']
export type CrankPlan = Schemas['CrankOut']
export type StoredTry = Schemas['StoredTryOut']
export type TryIn = Schemas['TryIn']
export type Felt = TryIn['felt']
export type Phase = TryIn['phase']
export type Case = Schemas['CaseOut']
export type Finding = Schemas['FindingModel']
export type FindingKind = Schemas['FindingKindOut']
export type FirstLook = Schemas['FirstLookOut']
export type Diagnosis = Schemas['DiagnosisOut']
export type Cause = Schemas['CauseOut']
export type Evidence = Schemas['EvidenceOut']
export type Fault = Schemas['FaultOut']
export type Assessment = Schemas['AssessmentOut']
export type AssessedValve = Schemas['AssessedValveOut']
export type Decided = Schemas['Decided']
export type Decision = Decided['decision']
export type Part = Schemas['Part']
export type VisitFields = Partial<Schemas['VisitFieldsIn']>
export type BladeSet = Schemas['BladeSetOut']
export type BeforeRemoval = Schemas['BeforeRemovalOut']
export type Holds = Schemas['HoldsOut']
export type InBin = Schemas['InBinOut']
export type RemovalKind = Schemas['RemovalIn']['kind']
export type UsageReading = Schemas['UsageReading']
export type Week = Schemas['WeekOut']
export type DueCheck = Schemas['DueCheckOut']
export type UnreadMeter = Schemas['MeterOut']
export type ValvePart = Schemas['PartsChangedIn']['parts'][number]
export type ValveLife = Schemas['ValveLifeOut']
export type Recordings = Schemas['RecordingsOut']
export type RecordingOf = Schemas['RecordingOut']
export type HowRecorded = Schemas['HowRecorded']
export type SoundPicture = Schemas['SoundPictureOut']
export type SoundCycle = Schemas['CycleOut']
export type Era = Schemas['EraOut']
export type LifeVisit = Schemas['LifeVisitOut']
export type Comparison = Schemas['ComparisonOut']
export type ComparedValve = Schemas['ComparedValveOut']
export type Customer = Schemas['CustomerOut']
export type CustomerFields = Required<Schemas['Customer']>
export type Progress = Schemas['Progress']
export type OrderedPart = Schemas['OrderedPartOut']
export type KitItem = Schemas['KitItem']
export type UsedPart = Schemas['UsedPart']
export type Money = Schemas['MoneyOut']
export type CostEstimate = Schemas['CostEstimateOut']
export type AwaitedPart = Schemas['AwaitedPart']
export type Price = Schemas['PriceOut']
export type WorkshopSettings = Schemas['WorkshopSettings']
export type FormHelp = Schemas['FormHelpOut']
export type FiringOrder = Schemas['FiringOrderOut']
export type PlacedValve = Schemas['PlacedValveOut']
export type AdjustStep = Schemas['AdjustStepOut']
export type SetValve = Schemas['SetValveOut']
export type AdjustmentChoice = Schemas['AdjustmentChoice']
export type SettingIn = Schemas['SettingIn']
export type ShimSeen = Schemas['ShimSeen']
export type BoxedShim = Schemas['BoxedShim']
export type CountIn = Schemas['CountIn']
export type Verification = Schemas['VerificationOut']
export type Verified = Schemas['Verified']
export type Outcome = Verified['outcome']
export type Recheck = Schemas['Recheck']
export type Sisters = Schemas['SistersOut']
export type ForecastReview = Schemas['ForecastReviewOut']
export type ForecastTally = Schemas['TallyOut']
export type FigureIn = Schemas['FigureIn']
export type ConfirmedCause = Schemas['ConfirmedIn']
export type Contradiction = Schemas['ContradictionOut']
export type NotebookEntry = Schemas['NotebookEntryOut']
export type VisitPhotograph = Schemas['VisitPhotographOut']
export type Caption = Schemas['CaptionIn']
export type SupposedFinding = Schemas['SupposedFindingIn']
export type CylinderTests = Schemas['CylinderTestsOut']
export type CylinderTest = Schemas['CylinderTestOut']
export type CylinderTestIn = Omit<Schemas['CylinderTestIn'], 'confirmed'> & { confirmed?: string[] }
export type Developing = Schemas['DevelopingFaultsOut']
export type ShopImport = Schemas['ImportOut']
export type Copies = Schemas['CopiesOut']
export type SheetSeen = Schemas['ReadingsOut']
export type SheetRole = NonNullable<SheetSeen['columns'][number]['role']>
export type SheetValveRole = Extract<
  SheetRole,
  'clearance' | 'left' | 'went' | 'refused' | 'target' | 'shim_before' | 'shim'
>
export type SheetChoices = NonNullable<operations['post_readings_preview']['parameters']['query']>
export type InstrumentKind = Schemas['InstrumentOut']
export type KeptTrace = Schemas['InstrumentsOut']['traces'][number]
export type TraceIn = Schemas['TraceIn']
export type Practice = Schemas['PracticeOut']
export type PracticeRun = Schemas['RunOut']
export type PracticeReview = Schemas['ReviewOut']
export type PracticeStep = Pick<Schemas['StepIn'], 'kind'> &
  Partial<Omit<Schemas['StepIn'], 'number'>>
export type PracticeTrace = Omit<Schemas['RunTraceIn'], 'number'>
export type RecordChange = Schemas['RecordChangeOut']
export type LessonsDocument = Schemas['LessonsDocument']
export type JobCard = Schemas['JobCardOut']
export type Torque = Schemas['Torque']
export type Person = Schemas['PersonOut']
export type Role = Person['role']
export type Change = Schemas['ChangeOut']
export type PaperLine = Schemas['PaperLineIn']

/** A refusal, as the server explains it. */
export class ProblemError extends Error {
  readonly status: number
  readonly faults: Fault[]
  /** Nothing is wrong for certain: it is stored once what was asked about is confirmed. */
  readonly asked: boolean

  constructor(problem: Schemas['Problem']) {
    super(problem.detail && problem.faults?.length === 0 ? problem.detail : problem.title)
    this.status = problem.status
    this.faults = problem.faults ?? []
    this.asked = problem.type.endsWith(':asked')
  }

  /** The fault of one field of what was sent. */
  at(path: string): string | undefined {
    return this.faults.find((fault) => fault.path === path)?.message
  }
}

/** What is still to be said of an error where its faults at these fields are shown there, and questions apart. */
export function restOf(error: Error | null, fields: string[]): Error | undefined {
  if (error === null) return undefined
  if (!(error instanceof ProblemError)) return error
  const shown = error.faults.length > 0 && error.faults.every(({ path }) => fields.includes(path))
  return shown || error.asked ? undefined : error
}

const NO_ANSWER = t`The server does not answer; what was typed is kept`

/** Nothing went wrong: the change is kept by this browser, and sent when the server is back. */
export class Kept extends Error {
  override readonly name = 'Kept'

  constructor() {
    super(t`Kept on this device, not sent yet: it is sent by itself when the server answers again`)
  }
}

/** What a form does once its change is stored, or kept until it can be: it must not be sent anew. */
export function whenTaken(then: () => void) {
  return {
    onSuccess: then,
    onError: (error: Error) => {
      if (error instanceof Kept) then()
    },
  }
}

/** Empties a field of what was sent from it; what was typed there since stays. */
export function withoutSent(sent: string) {
  return (now: string) => (now === sent ? '' : now)
}

type Repeatable = { request: Request; body: string | Blob; pathname: string; search: string }

/** A request and its body apart, so that it can be sent now and kept as well. */
async function repeatable(request: Request): Promise<Repeatable> {
  const { pathname, search } = new URL(request.url)
  const isJson = request.headers.get('Content-Type')?.includes('json') ?? true
  const body = isJson ? await request.text() : await request.blob()
  const { method, headers } = request
  const again = new Request(request.url, { method, headers, body: body === '' ? undefined : body })
  return { request: again, body, pathname, search }
}

/** Keep it with all that its repetition needs. */
async function keepRequest({ request, body, pathname, search }: Repeatable): Promise<never> {
  const { method, headers } = request
  const kept = {
    kind: 'request' as const,
    method,
    path: pathname + search,
    headers: [...headers],
    body,
  }
  await keep({ ...placeOf(pathname), ...kept, words: wordsOf(kept) })
  throw new Kept()
}

/** Small changes that are on their way reach the server even when the page is left or reloaded meanwhile. */
function fetched(request: Request): Promise<Response> {
  // A browser keeps no more than 64 kB alive: a photograph goes with the page it was chosen on.
  const isJson = (request.headers.get('Content-Type') ?? 'application/json').includes('json')
  const small = request.method !== 'GET' && request.method !== 'POST' && isJson
  return fetch(small ? new Request(request, { keepalive: true }) : request)
}

async function send(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url)
  const change = mayWait(request.method, pathname) ? await repeatable(request) : undefined
  // Behind what waits already, so that the order stays.
  if (change && waiting().some((one) => isRequest(one) && !one.refused)) return keepRequest(change)
  let response: Response
  try {
    response = await fetched(change?.request ?? request)
  } catch (reason) {
    if (!(reason instanceof TypeError)) throw reason
    noteAway()
    if (change) return keepRequest(change)
    // What a browser says of it names no cause that anybody could do something about.
    throw new Error(NO_ANSWER, { cause: reason })
  }
  noteAnswer(response)
  if (request.method !== 'GET' || !response.ok || !waiting().some(isRequest)) return response
  if (!response.headers.get('Content-Type')?.includes('json')) return response
  const shown = asIfSent(pathname, await response.json(), waiting())
  return Response.json(shown, { status: response.status })
}

const isRequest = ({ kind }: Waiting) => kind === 'request'

export const api = createClient<paths>({ baseUrl: window.location.origin, fetch: send })

// The server says things in the language of the pages, whatever the browser prefers.
api.use({
  onRequest({ request }) {
    request.headers.set('Accept-Language', language())
  },
})

type Answer<Data> = { data?: Data; error?: unknown; response: Response }

/** The answer's data, or its refusal thrown. */
export async function unwrap<Data>(answering: Promise<Answer<Data>>): Promise<Data> {
  const { data, error, response } = await answering
  if (data !== undefined) return data
  throw problemOf(error, response)
}

/** What the server says is wrong, or that it says nothing. */
export function problemOf(error: unknown, { status, statusText }: Response): Error {
  return typeof error === 'object' && error !== null && 'title' in error
    ? new ProblemError(error as Schemas['Problem'])
    : new Error(t`The server answered ${status} ${statusText}`)
}

/** That something without an answer was done, or its refusal thrown. */
export async function done(answering: Promise<Answer<unknown>>): Promise<void> {
  const { error, response } = await answering
  if (!response.ok) await unwrap(Promise.resolve({ error, response }))
}

/** An identifier made here, so that what is sent twice is stored once. */
export function newId(): string {
  return crypto.randomUUID()
}

/** A name that people can read ('v9-3fa2'); the tail keeps two who begin at once apart. */
export function numberedId(letter: 'v' | 'c', number: number): string {
  return `${letter}${number}-${newId().slice(0, 4)}`
}
