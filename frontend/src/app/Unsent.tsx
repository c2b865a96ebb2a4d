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
  const what = stuck.every((one) => one.kind === 'answer') ? 'answer' : 'change'
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="min-h-11 font-semibold whitespace-nowrap text-tight underline"
      >
        {stuck.length === 1 ? `1 ${what} not sent` : `${stuck.length} ${what}s not sent`}
      </button>
      {open && (
        <Popup title="Kept on this device" onClose={() => setOpen(false)}>
          <p>
            Not sent yet; it stays here even when the browser is closed, and is sent by itself in
            this order as soon as the server answers.
          </p>
          <ol className="my-3 border-t border-rule">
            {stuck.map((one) => (
              <Line key={one.key} one={one} onLeave={() => setOpen(false)} />
            ))}
          </ol>
          <Button onClick={sendNow}>Send now</Button>
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
            {one.visitId && `, visit ${one.visitId}`}
          </Link>
          , entered {moment(new Date(one.at).toISOString())}
        </span>
        {one.refused && (
          <span className="block font-semibold text-tight">
            Refused: {[one.refused.message, ...one.refused.faults.map((f) => f.message)].join('; ')}
          </span>
        )}
      </span>
      <Button
        look="quiet"
        aria-label={`${asked ? 'Confirm: discard' : 'Discard'} ${words}`}
        onClick={() => (asked ? forget([one.key]) : setAsked(true))}
        onBlur={() => setAsked(false)}
      >
        {asked ? 'really discard?' : 'discard'}
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
  if (one.kind === 'take-back') return 'answer undone'
  const { valve, blades_mm: blades, felt } = one.answer
  return `${valve}: ${blades.join(' + ')} mm ${ANSWER_WORDS[felt]}`
}

function addressOf(one: Waiting): string {
  return one.visitId === null
    ? engineAddress(one.engineId)
    : measureAddress(one.engineId, one.visitId)
}
