import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import type { Analysis, Engine, CheckAt, SetTo, ValveAnalysis } from '@/api/client'
import { whatIfQuery, type Asked } from '@/api/queries'
import { Field } from '@/design/Field'
import { chance, length, percent, usage, type LengthUnit } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { typedFigure } from '@/design/typedFigure'
import { typedLengthMm } from '@/design/typedLength'
import { named } from '@/design/names'

/** Three questions to the model, answered as they are typed; nothing of it is kept. */
export function WhatIf({
  engine,
  analysis,
  valve,
  unit,
}: {
  engine: Engine
  analysis: Analysis
  valve: ValveAnalysis | undefined
  unit: LengthUnit
}) {
  const [target, setTarget] = useState('')
  const [look, setLook] = useState('')
  const [every, setEvery] = useState('')
  const unitOfUsage = analysis.usage_unit
  const targetMm = typedLengthMm(target, unit)
  const asked: Asked = {
    ...(valve && targetMm !== undefined && { valve: valve.valve, target_mm: targetMm }),
  }
  const setTo = useQuery(whatIfQuery(engine.id, useDeferredValue(asked)))
  const lookAt = useQuery(whatIfQuery(engine.id, figure('check_at', look)))
  const interval = useQuery(whatIfQuery(engine.id, figure('interval', every)))
  const wrong = (typed: string, ok: boolean) =>
    typed.trim() !== '' && !ok ? t`must be a number` : undefined
  return (
    <Sheet
      title={t`What if`}
      aside={<span className="text-sm text-ink-soft">{t`nothing is saved`}</span>}
    >
      <div className="grid gap-x-4 gap-y-3 p-4 sm:grid-cols-3">
        <div>
          <Field
            label={valve ? t`${valve.valve} adjusted to` : t`adjusted to`}
            unit={unit}
            inputMode="decimal"
            value={target}
            disabled={!valve?.drift}
            fault={wrong(target, targetMm !== undefined)}
            onChange={(event) => setTarget(event.target.value)}
          />
          {setTo.error && <ErrorNotice error={setTo.error} />}
          {targetMm !== undefined && setTo.data?.set_to && (
            <SetToAnswer answer={setTo.data.set_to} unit={unit} usageUnit={unitOfUsage} />
          )}
        </div>
        <div>
          <Field
            label={t`The next check at`}
            unit={unitOfUsage}
            inputMode="decimal"
            value={look}
            fault={wrong(look, typedFigure(look) !== null)}
            onChange={(event) => setLook(event.target.value)}
          />
          {lookAt.error && <ErrorNotice error={lookAt.error} />}
          {look.trim() !== '' && lookAt.data?.check_at && (
            <LookAnswer answer={lookAt.data.check_at} />
          )}
        </div>
        <div>
          <Field
            label={t`A check every`}
            unit={unitOfUsage}
            inputMode="decimal"
            value={every}
            fault={wrong(every, typedFigure(every) !== null)}
            onChange={(event) => setEvery(event.target.value)}
          />
          {interval.error && <ErrorNotice error={interval.error} />}
          {every.trim() !== '' && interval.data?.every && (
            <ul className="mt-1 text-sm" aria-live="polite">
              {interval.data.every.map((one) => (
                <li key={one.usage}>
                  <Trans>
                    at {usage(one.usage, unitOfUsage)}: {percent(one.p_any_out)} that a valve is out
                    of spec
                  </Trans>
                </li>
              ))}
              <li className="text-ink-soft">{t`no adjustment in between`}</li>
            </ul>
          )}
        </div>
      </div>
    </Sheet>
  )
}

function figure(key: 'check_at' | 'interval', typed: string): Asked {
  const value = typedFigure(typed)
  return value === null || value <= 0 ? {} : { [key]: value }
}

function SetToAnswer({
  answer,
  unit,
  usageUnit,
}: {
  answer: SetTo
  unit: LengthUnit
  usageUnit: string
}) {
  return (
    <p className="mt-1 text-sm" aria-live="polite">
      <Trans>
        At {length(answer.target_mm, unit)}: in spec at {usage(answer.next_usage, usageUnit)}{' '}
        <strong>{chance(answer.p_in_next)}</strong>
        {answer.lasts_until === null
          ? t`; the chance of being out of spec stays under 10 % for ten intervals.`
          : t`; 10 % chance of being ${named(answer.side ?? '')} from ${usage(answer.lasts_until, usageUnit)}.`}
      </Trans>
    </p>
  )
}

function LookAnswer({ answer }: { answer: CheckAt }) {
  const named = answer.valves.slice(0, 4)
  return (
    <p className="mt-1 text-sm" aria-live="polite">
      <Trans>
        <strong>{percent(answer.p_any_out)}</strong> that a valve is out of spec by then
      </Trans>
      {named.length > 0 &&
        `: ${named.map((one) => `${one.valve} ${percent(one.p_out)}`).join(', ')}`}
      .
    </p>
  )
}
