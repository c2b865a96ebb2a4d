import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Button } from '@/design/Button'
import type { Listening } from './useListening'

/** What is heard and said, large enough to be read from the other side of the engine. */
export function ListeningBanner({ listening }: { listening: Listening }) {
  const { status, fault, understood, said, asked } = listening
  if (fault !== undefined) {
    return (
      <div
        role="alert"
        className="flex flex-wrap items-center justify-between gap-2 mt-2 border-2 border-tight bg-sheet px-4 py-2"
      >
        <span>
          <strong className="text-tight">{t`Not listening:`}</strong> {fault}.
        </span>
        <Button className="min-h-12" onClick={listening.clearFault}>
          {t`Close`}
        </Button>
      </div>
    )
  }
  if (status === 'off') return null
  return (
    <div className="mt-2 border-2 border-accent bg-sheet px-4 py-2">
      <p className="flex items-baseline justify-between gap-3 text-sm text-ink-soft">
        <span>
          {status === 'starting'
            ? t`Getting ready to listen…`
            : t`Listening. Begin with “feeler gauge”: “feeler gauge, it drags”.`}
        </span>
        <Button look="quiet" className="-my-2 shrink-0 px-2!" onClick={listening.toggle}>
          <Trans>
            Stop<span className="max-lg:hidden"> ( V )</span>
          </Trans>
        </Button>
      </p>
      <div role="status" aria-live="polite" className="min-h-20">
        <p className="text-4xl leading-tight max-md:text-3xl font-semibold">
          {understood ? `“${understood}”` : '…'}
        </p>
        <p className={`text-2xl leading-snug first-letter:uppercase ${asked ? 'text-loose' : ''}`}>
          {said}
        </p>
      </div>
      {asked && (
        <p className="flex flex-wrap gap-2 pt-1">
          <Button className="min-h-12" onClick={listening.confirm}>
            {t`Store it all the same`}
          </Button>
          <Button className="min-h-12" onClick={listening.drop}>
            {t`Drop it`}
          </Button>
        </p>
      )}
    </div>
  )
}
