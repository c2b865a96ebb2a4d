import { plural, t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { useState, useSyncExternalStore } from 'react'
import { Link } from 'react-router'
import { engineAddress, measureAddress } from '@/api/addresses'
import type { FindingKind } from '@/api/client'
import { forget, subscribe, waiting, type Waiting } from '@/api/outbox'
import { findingsQuery } from '@/api/queries'
import { ANSWER_WORDS } from '@/blades/answers'
import { Button } from '@/design/Button'
import { moment } from '@/design/format'
import { Popup } from '@/design/Popup'
import { sendingTrouble, sendNow } from '@/shared/outboxSender'

/** How much is kept in this browser and not stored yet, on every page; pressed, it says what. */
export function Unsent() {
  const all = useSyncExternalStore(subscribe, waiting)
  const [open, setOpen] = useState(false)
  const stuck = all.filter((one) => one.refused || sendingTrouble())
  if (stuck.length === 0) return null
  const count = stuck.length
  const said = stuck.every((one) => one.kind === 'answer')
    ? plural(count, { one: '# answer not sent', other: '# answers not sent' })
    : plural(count, { one: '# change not sent', other: '# changes not sent' })
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="min-h-11 font-semibold whitespace-nowrap text-tight underline"
      >
        {said}
      </button>
      {open && (
        <Popup title={t`Kept on this device`} onClose={() => setOpen(false)}>
          <p>
            {t`Not sent yet; it stays here even when the browser is closed, and is sent by itself in this order as soon as the server answers.`}
          </p>
          <ol className="my-3 border-t border-rule">
            {stuck.map((one) => (
              <Line key={one.key} one={one} onLeave={() => setOpen(false)} />
            ))}
          </ol>
          <Button onClick={sendNow}>{t`Send now`}</Button>
        </Popup>
      )}
    </>
  )
}

function Line({ one, onLeave }: { one: Waiting; onLeave: () => void }) {
  const [asked, setAsked] = useState(false)
  const { data: kinds } = useQuery(findingsQuery)
  const words = wordsFor(one, kinds)
  return (
    <li className="flex flex-wrap items-center gap-x-3 border-b border-rule py-1">
      <span className="min-w-0 flex-1">
        {words}
        <span className="block text-sm text-ink-soft">
          <Link to={addressOf(one)} onClick={onLeave}>
            {one.engineId}
            {one.visitId && t`, visit ${one.visitId}`}
          </Link>
          <Trans>, entered {moment(new Date(one.at).toISOString())}</Trans>
        </span>
        {one.refused && (
          <span className="block font-semibold text-tight">
            <Trans>
              Refused:{' '}
              {[one.refused.message, ...one.refused.faults.map((f) => f.message)].join('; ')}
            </Trans>
          </span>
        )}
      </span>
      <Button
        look="quiet"
        aria-label={asked ? t`Confirm: discard ${words}` : t`Discard ${words}`}
        onClick={() => (asked ? forget([one.key]) : setAsked(true))}
        onBlur={() => setAsked(false)}
      >
        {asked ? t`really discard?` : t`discard`}
      </Button>
    </li>
  )
}

function wordsFor(one: Waiting, kinds: FindingKind[] = []): string {
  if (one.kind === 'request') {
    const id = /\/findings\/([^/?]+)/.exec(one.path)?.[1]
    const label = kinds.find((kind) => kind.id === id)?.label
    return label === undefined ? one.words : one.words.replace(/^[^,]*/, label)
  }
  if (one.kind === 'take-back') return t`answer undone`
  const { valve, blades_mm: blades, felt } = one.answer
  return `${valve}: ${blades.join(' + ')} mm ${ANSWER_WORDS[felt]}`
}

function addressOf(one: Waiting): string {
  return one.visitId === null
    ? engineAddress(one.engineId)
    : measureAddress(one.engineId, one.visitId)
}
