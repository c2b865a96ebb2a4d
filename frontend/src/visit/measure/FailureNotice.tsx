import { plural, t } from '@lingui/core/macro'
import { Button } from '@/design/Button'
import type { Failure } from './useMeasuring'

function keptWords(answers: number, undos: number): string {
  const ofAnswers = plural(answers, { one: 'one answer', other: '# answers' })
  const ofUndos = plural(undos, { one: 'one undo', other: '# undos' })
  if (answers === 0 || undos === 0) return answers === 0 ? ofUndos : ofAnswers
  return t`${ofAnswers} and ${ofUndos}`
}

/** What could not be stored, that it is kept here, and what can be done. */
export function FailureNotice({
  failure,
  onSendAgain,
  onLetGo,
}: {
  failure: Failure
  onSendAgain: () => void
  onLetGo: () => void
}) {
  const { answers, takingsBack, refused, error } = failure
  const count = answers + takingsBack
  const kept = keptWords(answers, takingsBack)
  const said = `${kept.charAt(0).toUpperCase()}${kept.slice(1)}`
  return (
    <div role="alert" className="border-2 border-tight bg-sheet p-3">
      <p className="font-semibold text-tight">
        {refused
          ? plural(count, {
              one: `${said} is kept here, but the server refused: ${error.message}`,
              other: `${said} are kept here, but the server refused: ${error.message}`,
            })
          : plural(count, {
              one: `${said} is kept here, not sent yet: ${error.message}. It is sent by itself when the server is back.`,
              other: `${said} are kept here, not sent yet: ${error.message}. It is sent by itself when the server is back.`,
            })}
      </p>
      {count > 0 && (
        <div className="mt-2 flex gap-2">
          <Button onClick={onSendAgain}>{t`Send again`}</Button>
          {refused && (
            <Button look="quiet" onClick={onLetGo}>
              {t`Discard`}
            </Button>
          )}
        </div>
      )}
    </div>
  )
}
