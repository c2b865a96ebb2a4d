import { Trans } from '@lingui/react/macro'
import { ANSWER_WORDS, ANSWERS } from './answers'
import { FeltMark } from './BladeFan'

/** The three answers: by touch here, by key anywhere on the page. */
export function AnswerButtons({
  onAnswer,
}: {
  onAnswer: (felt: 'no-go' | 'drag' | 'free') => void
}) {
  return (
    <div className="grid grid-cols-3 gap-3">
      {ANSWERS.map(({ felt, keys }) =>
        felt === 'go' ? null : (
          <button
            key={felt}
            type="button"
            onClick={() => onAnswer(felt)}
            className="flex min-h-18 flex-col items-center justify-center rounded-card border-2 border-ink bg-sheet hover:bg-accent-pale active:bg-accent-pale"
          >
            <span className="flex items-center gap-1 text-lg leading-tight font-semibold sm:gap-2 sm:text-xl">
              <svg width={22} height={24} viewBox="-11 -12 22 24" aria-hidden="true">
                <g stroke="currentColor" fill="none">
                  <FeltMark felt={felt} />
                </g>
              </svg>
              {ANSWER_WORDS[felt]}
            </span>
            <span className="text-sm text-ink-soft max-lg:hidden">
              <Trans>
                {keys[0]} or {keys[1]}
              </Trans>
            </span>
          </button>
        ),
      )}
    </div>
  )
}
