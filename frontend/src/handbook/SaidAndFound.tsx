import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useQuery } from '@tanstack/react-query'
import { api, unwrap } from '@/api/client'
import { buttonClass } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'

const FOUND = [
  ['valve-train', t`valve train`],
  ['bottom-end', t`bottom end`],
  ['unrelated', t`not the crank`],
  ['something-else', t`something else`],
  ['nothing', 'nothing'],
] as const

/** What sound recordings said in closed cases, against what was found in the end. */
export function SaidAndFound() {
  const { data, error } = useQuery({
    queryKey: ['lessons', 'recordings'],
    queryFn: () => unwrap(api.GET('/api/lessons/recordings')),
  })
  if (!data) return error ? <ErrorNotice error={error} /> : null
  return (
    <Sheet title={t`Sound recordings: said and found`}>
      <div className="px-4 py-2">
        {data.cases === 0 ? (
          <p>
            {t`No closed case has a recording yet. They are counted here, so that the weights, which come from simulated sound, can one day be fitted on real engines.`}
          </p>
        ) : (
          <div role="group" aria-label={t`Said and found`} tabIndex={0} className="overflow-x-auto">
            <table className="w-full border-collapse text-sm">
              <thead>
                <tr className="border-b border-ink text-left text-ink-soft">
                  <th className="py-0.5 pr-3 font-normal">{t`the recording said`}</th>
                  {FOUND.map(([id, label]) => (
                    <th key={id} className="py-0.5 pr-3 font-normal">
                      <Trans>found: {label}</Trans>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {data.said.map((one) => (
                  <tr key={one.answer}>
                    <th scope="row" className="py-0.5 pr-3 text-left font-semibold">
                      {one.says}
                    </th>
                    {FOUND.map(([id]) => (
                      <td key={id}>{one.found[id] || ''}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
        {data.valves_named > 0 && (
          <p>
            <Trans>
              A valve was named in {data.valves_named}, and was the one in {data.valves_right}.
            </Trans>
          </p>
        )}
        {data.cases > 0 && (
          <div className="no-print mt-2">
            <a
              href="/api/lessons/recordings.csv"
              download="sound-recordings.csv"
              className={buttonClass()}
            >
              {t`Export the counts, without whose engines`}
            </a>
          </div>
        )}
      </div>
    </Sheet>
  )
}
