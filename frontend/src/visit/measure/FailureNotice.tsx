import { Button } from '@/design/Button'
import type { Failure } from './useMeasuring'

function counted(count: number, one: string, many: string): string {
  return count === 0 ? '' : count === 1 ? `one ${one}` : `${count} ${many}`
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
  const kept = [counted(answers, 'answer', 'answers'), counted(takingsBack, 'undo', 'undos')]
    .filter(Boolean)
    .join(' and ')
  const said = `${kept.charAt(0).toUpperCase()}${kept.slice(1)} ${count === 1 ? 'is' : 'are'}`
  return (
    <div role="alert" className="border-2 border-tight bg-sheet p-3">
      <p className="font-semibold text-tight">
        {refused
          ? `${said} kept here, but the server refused: ${error.message}`
          : `${said} kept here, not sent yet: ${error.message}. It is sent by itself when the server is back.`}
      </p>
      {count > 0 && (
        <div className="mt-2 flex gap-2">
          <Button onClick={onSendAgain}>Send again</Button>
          {refused && (
            <Button look="quiet" onClick={onLetGo}>
              Discard
            </Button>
          )}
        </div>
      )}
    </div>
  )
}
