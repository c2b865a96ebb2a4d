import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { useState, type FormEvent } from 'react'
import { Button, buttonClass } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'

const REASONS = [
  'cannot be reached',
  'nut or screw seized',
  'blade does not get in straight',
  'no time',
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
  const [own, setOwn] = useState('')
  if (skipped) {
    return (
      <Button className="min-h-12" onClick={() => onSkip(null)}>
        Read it after all
      </Button>
    )
  }
  return (
    <Popover className="relative">
      <PopoverButton className={`${buttonClass()} min-h-12 px-2.5!`}>Pass over…</PopoverButton>
      <PopoverPanel
        focus
        anchor="top start"
        className="z-20 w-80 border-2 border-ink bg-paper p-3 [--anchor-gap:6px]"
      >
        {({ close }) => {
          const skip = (reason: string) => {
            onSkip(reason)
            close()
          }
          const submit = (event: FormEvent) => {
            event.preventDefault()
            if (own.trim()) skip(own.trim())
          }
          return (
            <form onSubmit={submit} className="flex flex-col gap-2">
              <p className="font-semibold">Why is {valve} not read?</p>
              {REASONS.map((reason) => (
                <Button key={reason} className="min-h-12" onClick={() => skip(reason)}>
                  {reason}
                </Button>
              ))}
              <input
                aria-label={`Another reason for passing over ${valve}`}
                placeholder="another reason, then Enter"
                maxLength={200}
                value={own}
                onChange={(event) => setOwn(event.target.value)}
                className="min-h-12 rounded-card border border-rule-strong bg-sheet px-3 placeholder:text-ink-soft"
              />
              {error && <ErrorNotice error={error} />}
            </form>
          )
        }}
      </PopoverPanel>
    </Popover>
  )
}
