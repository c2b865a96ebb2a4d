import { t } from '@lingui/core/macro'
import type { ReactNode } from 'react'
import type { Verification } from '@/api/client'
import { torqueText } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useTick } from '@/shared/verifyQueries'

/** What is to be done at one stage, ticked off as it is done; torques are the engine's own or the manual's. */
export function ClosingUp({
  engineId,
  visitId,
  verification,
  stage,
  title,
  children,
}: {
  engineId: string
  visitId: string
  verification: Verification
  stage: Verification['ticks'][number]['stage']
  title: string
  children?: ReactNode
}) {
  const tick = useTick(engineId, visitId)
  const items = verification.ticks.filter((one) => one.stage === stage)
  const done = items.filter((one) => one.done).length
  return (
    <Sheet
      title={title}
      aside={
        <span className="text-sm text-ink-soft">
          {done === items.length ? t`all done` : t`${done} of ${items.length} done`}
        </span>
      }
    >
      {children}
      {tick.error && <ErrorNotice error={tick.error} />}
      <ul>
        {items.map((item) => (
          <li key={item.id} className="border-b border-rule last:border-0">
            <label className="flex min-h-11 items-start gap-3 px-4 py-1.5">
              <input
                type="checkbox"
                className="mt-0.5 size-5 shrink-0 accent-accent"
                checked={item.done}
                onChange={() => tick.mutate({ id: item.id, done: !item.done })}
              />
              <span className="leading-snug">
                <span className={item.done ? 'text-ink-soft' : ''}>{item.text}</span>
                {item.torque.map((one) => (
                  <strong key={one.part} className="block">
                    {one.part}: {torqueText(one)}
                  </strong>
                ))}
                {item.see_manual && (
                  <span className="block text-sm text-ink-soft">
                    {t`torque: see the manual, none is entered for this engine`}
                    {verification.soft_metal && t`; threads in aluminium strip easily`}
                  </span>
                )}
              </span>
            </label>
          </li>
        ))}
      </ul>
    </Sheet>
  )
}
