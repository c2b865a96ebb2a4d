import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { queryOptions, useQuery } from '@tanstack/react-query'
import { Fragment } from 'react'
import { api, unwrap } from '@/api/client'
import { ErrorNotice, Loading } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { named } from '@/design/names'

const kindsQuery = queryOptions({
  queryKey: ['instrument-kinds'],
  staleTime: Infinity,
  queryFn: () => unwrap(api.GET('/api/instrument-kinds')),
})

/** The instruments that ship: what each is held to, its caution, and the file that it can be replayed from. */
export function InstrumentList() {
  const { data, error } = useQuery(kindsQuery)
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the instruments`} />
  return (
    <Sheet
      title={t`Instruments`}
      aside={
        <span className="text-sm text-ink-soft">
          {t`used at a visit, from Measurements and tests`}
        </span>
      }
    >
      <ul>
        {data.map((one) => (
          <li key={one.id} className="border-b border-rule px-4 py-2 last:border-0">
            <Trans>
              <strong>{one.label}</strong>, on the {named(one.held_to)}. {one.how}
            </Trans>
            <p className="text-sm text-loose">{one.caution}</p>
            <p className="text-sm text-ink-soft">
              {t`file:`}{' '}
              <code>
                at_s
                {one.channels.map((channel) => (
                  // A long line of names breaks between them.
                  <Fragment key={channel.id}>
                    ,<wbr />
                    {channel.id}
                  </Fragment>
                ))}
              </code>
            </p>
          </li>
        ))}
      </ul>
    </Sheet>
  )
}
