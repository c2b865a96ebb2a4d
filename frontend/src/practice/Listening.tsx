import { t } from '@lingui/core/macro'
import { queryOptions, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { practiceSoundAddress } from '@/api/addresses'
import { api, unwrap, type PracticeRun } from '@/api/client'
import { Button } from '@/design/Button'
import { percent } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { SoundView } from '@/sound/SoundView'
import type { useRun } from './queries'

const pictureQuery = (runId: string, number: number) =>
  queryOptions({
    queryKey: ['practice', 'runs', runId, 'sounds', number],
    staleTime: Infinity,
    queryFn: () =>
      unwrap(
        api.GET('/api/practice/runs/{run_id}/sounds/{number}/picture', {
          params: { path: { run_id: runId, number } },
        }),
      ),
  })

/** The noise of the practice engine: recorded, heard, drawn, and compared after setting. */
export function Listening({ run, doing }: { run: PracticeRun; doing: ReturnType<typeof useRun> }) {
  const [chosen, setChosen] = useState<number>()
  const number = chosen ?? run.sounds.at(-1)
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-center gap-2">
        {run.review === null && (
          <Button
            look="main"
            disabled={doing.step.isPending}
            onClick={() => {
              setChosen(undefined)
              doing.step.mutate({ kind: 'sound' })
            }}
          >
            {t`Run the engine and record it`}
          </Button>
        )}
        {run.sounds.length > 1 && (
          <div role="group" aria-label={t`Recording`} className="flex flex-wrap">
            {run.sounds.map((one, index) => (
              <button
                key={one}
                type="button"
                aria-pressed={one === number}
                onClick={() => setChosen(one)}
                className={`min-h-11 min-w-11 border border-rule-strong px-3 ${
                  one === number ? 'bg-ink font-semibold text-paper' : 'bg-sheet'
                }`}
              >
                {index + 1}
              </button>
            ))}
          </div>
        )}
      </div>
      {number === undefined ? (
        <p className="text-ink-soft">
          {t`Twelve seconds at idle, with an ignition clip where the engine has sparks. Recorded again after a valve was set, it says whether the tick is gone.`}
        </p>
      ) : (
        <Recorded key={number} runId={run.id} number={number} limits={run.sound_limits} />
      )}
    </div>
  )
}

function Recorded({ runId, number, limits }: { runId: string; number: number; limits: string[] }) {
  const { data, error } = useQuery(pictureQuery(runId, number))
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the sound`} />
  return <SoundView picture={data} address={practiceSoundAddress(runId, number)} limits={limits} />
}

/** What a case would make of all that was found so far, for those who ask. */
export function AskTheCase({ run }: { run: PracticeRun }) {
  const [asked, setAsked] = useState<number>()
  const { data, error, isFetching } = useQuery({
    queryKey: ['practice', 'runs', run.id, 'causes', asked],
    enabled: asked !== undefined,
    staleTime: Infinity,
    queryFn: () =>
      unwrap(
        api.GET('/api/practice/runs/{run_id}/causes', { params: { path: { run_id: run.id } } }),
      ),
  })
  return (
    <section className="mt-4 border-t border-rule pt-3" aria-label={t`What a case would say`}>
      <Button onClick={() => setAsked(run.steps)} disabled={isFetching || asked === run.steps}>
        {t`What would a case say?`}
      </Button>
      <p className="text-sm text-ink-soft">
        {t`It weighs what you have measured, seen and recorded so far. First say for yourself what it is.`}
      </p>
      {error && <ErrorNotice error={error} />}
      {data && (
        <ol className="list-decimal pl-8">
          {data.causes.slice(0, 4).map((cause) => (
            <li key={`${cause.cause} ${cause.where}`}>
              <strong>{cause.label}</strong>, {cause.where}, {percent(cause.probability)}
              {cause.for.length > 0 && (
                <span className="text-ink-soft">
                  : {cause.for.slice(0, 3).map(evidenceWords).join('; ')}
                </span>
              )}
            </li>
          ))}
        </ol>
      )}
    </section>
  )
}

function evidenceWords(one: { label: string; where: string | null }): string {
  return one.where === null ? one.label : `${one.label}, ${one.where}`
}
