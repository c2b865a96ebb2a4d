import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useEffect, useState } from 'react'
import { Button } from '@/design/Button'

const SEEN = 'pronostico.pointers'

/** What matters at the very first visit, in the order in which it comes up, and what shows it. */
const POINTERS = [
  {
    at: 'phase',
    text: t`Measure every valve as found, before anything is touched: only so can its drift be seen. What is measured after adjusting is entered as left.`,
  },
  {
    at: 'answers',
    text: t`Offer the blade that is marked, and say how it felt: it won’t go, drags, or slides freely. Three answers are all there is; the next blade follows from them.`,
  },
  {
    at: 'next',
    text: t`When the valve is decided, go on to the next. Enter does the same. What is entered is kept at once; there is nothing to save.`,
  },
] as const

/** Points, once and skippable, at what matters; for the first visit that a workshop ever has. */
export function FirstVisitPointers() {
  const [at, setAt] = useState(0)
  const [over, setOver] = useState(() => localStorage.getItem(SEEN) === 'seen')
  const pointer = over ? undefined : POINTERS[at]
  const target = pointer?.at
  useEffect(() => {
    const elements = document.querySelectorAll(`[data-pointer="${target}"]`)
    for (const one of elements) one.classList.add('pointed-at')
    return () => {
      for (const one of elements) one.classList.remove('pointed-at')
    }
  }, [target])
  if (!pointer) return null
  const last = at === POINTERS.length - 1
  function end() {
    localStorage.setItem(SEEN, 'seen')
    setOver(true)
  }
  return (
    <aside
      aria-label={t`For your first visit`}
      className="no-print fixed top-16 right-3 left-3 z-20 md:top-auto md:right-auto md:bottom-3 md:max-w-sm border-2 border-accent bg-paper p-3 shadow-lg"
    >
      <p role="status">
        <span className="text-sm text-ink-soft">
          <Trans>
            Your first visit, {at + 1} of {POINTERS.length}.
          </Trans>{' '}
        </span>
        {pointer.text}
      </p>
      <div className="mt-2 flex gap-2">
        <Button onClick={() => (last ? end() : setAt(at + 1))}>{last ? t`Done` : t`Go on`}</Button>
        {!last && (
          <Button look="quiet" onClick={end}>
            {t`Skip`}
          </Button>
        )}
      </div>
    </aside>
  )
}
