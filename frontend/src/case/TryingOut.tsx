import { t } from '@lingui/core/macro'
import { Plural } from '@lingui/react/macro'
import { Button } from '@/design/Button'

/** Ticks that are only tried out: what they would do to the picture is seen before anything is noted. */
export function TryingOut({
  trying,
  onChange,
  count,
  onKeep,
  onDrop,
  disabled,
}: {
  trying: boolean
  onChange: (on: boolean) => void
  count: number
  onKeep: () => void
  onDrop: () => void
  disabled: boolean
}) {
  return (
    <div className={trying ? 'border-l-4 border-accent pl-3' : ''}>
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="size-5"
          checked={trying}
          disabled={disabled}
          onChange={(event) => onChange(event.target.checked)}
        />
        {t`What if: try a finding without saving it`}
      </label>
      {trying && (
        <div role="status" className="flex flex-wrap items-center gap-2">
          {count === 0
            ? t`Choose findings below; nothing is saved.`
            : t`${count} tried, not saved.`}
          {count > 0 && (
            <>
              <Button onClick={onKeep}>
                <Plural value={count} one="Save it in the case" other="Save them in the case" />
              </Button>
              <Button look="quiet" onClick={onDrop}>
                <Plural value={count} one="Discard it" other="Discard them" />
              </Button>
            </>
          )}
        </div>
      )}
    </div>
  )
}
