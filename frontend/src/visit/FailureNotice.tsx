import { Button } from '@/design/Button'
import type { Failure } from './useMeasuring'

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
  const { count, refused, error } = failure
  const answers = count === 1 ? 'One answer is' : `${count} answers are`
  return (
    <div role="alert" className="border-2 border-tight bg-sheet p-3">
      <p className="font-semibold text-tight">
        {count === 0
          ? `The last answer could not be taken back: ${error.message}`
          : refused
            ? `${answers} kept here, but the server refused: ${error.message}`
            : `${answers} kept here, not sent yet: ${error.message}. It is sent by itself when the server is back.`}
      </p>
      {count > 0 && (
        <div className="mt-2 flex gap-2">
          <Button onClick={onSendAgain}>Send again</Button>
          {refused && (
            <Button look="quiet" onClick={onLetGo}>
              Let it go
            </Button>
          )}
        </div>
      )}
    </div>
  )
}
