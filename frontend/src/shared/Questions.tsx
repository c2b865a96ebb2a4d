import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { ProblemError } from '@/api/client'
import { Button } from '@/design/Button'

/** What is odd though it may be right: the figure that was probably meant is one press away, and so is yes. */
export function Questions({
  error,
  onUse,
  onConfirm,
  suggestionText = (figure) => String(figure),
}: {
  error: unknown
  /** Take the figure that was probably meant at a path. */
  onUse?: (path: string, figure: number) => void
  /** Everything that was asked about is right currently. */
  onConfirm: (paths: string[]) => void
  suggestionText?: (figure: number, path: string) => string
}) {
  if (!(error instanceof ProblemError) || !error.asked) return null
  return (
    <div role="alert" className="rounded-card border-2 border-loose bg-sheet p-3">
      <p className="font-semibold text-loose">{error.message}</p>
      <ul>
        {error.faults.map(({ path, message, suggestion }) => (
          <li key={path} className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1">
            <span>{message}.</span>
            {onUse && suggestion != null && (
              <Button onClick={() => onUse(path, suggestion)}>
                <Trans>Use {suggestionText(suggestion, path)}</Trans>
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Button className="mt-2" onClick={() => onConfirm(error.faults.map((fault) => fault.path))}>
        {t`Confirm value`}
      </Button>
    </div>
  )
}
