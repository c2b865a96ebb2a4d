import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react'
import { useState, type FormEvent } from 'react'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'

const REASONS = [
  t`cannot be reached`,
  t`locknut or screw seized`,
  t`blade cannot go in straight`,
  t`no time`,
]

/** Pass a valve over, and say why: a blank that is explained is worth more than one that is not. */
export function SkipValve({
  valve,
  skipped,
  error,
  onSkip,
}: {
  valve: string
  skipped: string | null
  error: Error | null
  onSkip: (reason: string | null) => void
}) {
  const [asking, setAsking] = useState(false)
  const [own, setOwn] = useState('')
  if (skipped) {
    return (
      <Button className="min-h-12 px-2.5!" onClick={() => onSkip(null)}>
        {t`Measure anyway`}
      </Button>
    )
  }

  function skip(reason: string) {
    onSkip(reason)
    setAsking(false)
    setOwn('')
  }

  function submit(event: FormEvent) {
    event.preventDefault()
    if (own.trim()) skip(own.trim())
  }

  return (
    <>
      <Button className="min-h-12 px-2.5!" onClick={() => setAsking(true)}>
        {t`Skip valve…`}
      </Button>
      {error && <ErrorNotice error={error} />}
      <Dialog open={asking} onClose={() => setAsking(false)} className="relative z-30">
        <DialogBackdrop className="fixed inset-0 bg-ink/40" />
        <div className="fixed inset-0 flex items-center justify-center p-4">
          <DialogPanel className="w-full max-w-sm border-2 border-ink bg-paper p-5">
            <DialogTitle className="text-xl font-semibold">
              <Trans>Why is {valve} not measured?</Trans>
            </DialogTitle>
            <form onSubmit={submit} className="mt-3 flex flex-col gap-2">
              {REASONS.map((reason) => (
                <Button key={reason} className="min-h-12" onClick={() => skip(reason)}>
                  {reason}
                </Button>
              ))}
              <input
                aria-label={t`Other reason to skip ${valve}`}
                placeholder={t`other reason, then Enter`}
                maxLength={200}
                value={own}
                onChange={(event) => setOwn(event.target.value)}
                className="min-h-12 rounded-card border border-rule-strong bg-sheet px-3 placeholder:text-ink-soft"
              />
            </form>
          </DialogPanel>
        </div>
      </Dialog>
    </>
  )
}
