import { plural, t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type LessonsDocument } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { percent } from '@/design/format'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'

const lessonsQuery = queryOptions({
  queryKey: ['lessons'],
  queryFn: () => unwrap(api.GET('/api/lessons')),
})

/** What the workshop's closed cases have taught: shown, handed on, brought in, taken back. */
export function Learned() {
  const known = useQuery(lessonsQuery)
  const queryClient = useQueryClient()
  const onSuccess = () => {
    // Every case is weighed anew, and so is the handbook.
    void queryClient.invalidateQueries({ queryKey: ['lessons'] })
    void queryClient.invalidateQueries({ queryKey: ['handbook'] })
    void queryClient.invalidateQueries({ queryKey: ['engines'] })
  }
  const bringIn = useMutation({
    mutationFn: async (file: File) => {
      const text = await file.text()
      return unwrap(
        api.POST('/api/lessons/file', {
          params: { query: { name: file.name.slice(0, 200) } },
          body: text as unknown as LessonsDocument,
          // The text goes as it is: broken JSON is told by its place.
          bodySerializer: (body) => body as unknown as string,
          headers: { 'Content-Type': 'application/json' },
        }),
      )
    },
    onSuccess,
  })
  const takeBack = useMutation({
    mutationFn: async (name: string) => {
      const { response } = await api.DELETE('/api/lessons/file', { params: { query: { name } } })
      if (!response.ok) throw new Error(t`The server answered ${response.status}`)
    },
    onSuccess,
  })
  if (!known.data) return known.error ? <ErrorNotice error={known.error} /> : null
  const { cases, share, nothing_found, causes, brought } = known.data
  const found = causes.filter((cause) => cause.found > 0)
  const error = bringIn.error ?? takeBack.error
  return (
    <Sheet title={t`Learned from closed cases`}>
      <div className="px-4 py-2">
        <p>
          {cases === 0
            ? t`No case has been closed with an outcome yet: all figures are the built-in ones.`
            : t`${plural(cases, { one: '# closed case', other: '# closed cases' })}: ${percent(share)} of the prior probabilities comes from this workshop.`}
          {nothing_found > 0 && t` Nothing was found in ${nothing_found}.`}
        </p>
        {found.length > 0 && (
          <table className="mt-1 w-full border-collapse text-sm">
            <thead>
              <tr className="border-b border-ink text-left text-ink-soft">
                <th className="py-0.5 font-normal">{t`cause`}</th>
                <th className="py-0.5 font-normal">{t`found in`}</th>
                <th className="py-0.5 font-normal">{t`prior, built in`}</th>
                <th className="py-0.5 font-normal">{t`now`}</th>
              </tr>
            </thead>
            <tbody>
              {found.map((cause) => (
                <tr key={cause.cause}>
                  <th scope="row" className="py-0.5 text-left font-semibold">
                    {cause.label}
                  </th>
                  <td>{Number(cause.found.toFixed(1))}</td>
                  <td>{percent(cause.stated)}</td>
                  <td>{percent(cause.now)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {brought.map((one) => (
          <p key={one.brought_from} className="flex flex-wrap items-center justify-between gap-x-3">
            <span>
              <Trans>
                {one.lessons} of them from {one.brought_from}
              </Trans>
            </span>
            <Button look="quiet" onClick={() => takeBack.mutate(one.brought_from)}>
              <Trans>Undo what {one.brought_from} added</Trans>
            </Button>
          </p>
        ))}
        <div className="no-print mt-2 flex flex-wrap gap-2">
          <a href="/api/lessons/file" download="lessons.json" className={buttonClass()}>
            {t`Export what was learned`}
          </a>
          <FileButton
            label={t`File of learned cases`}
            accept=".json,application/json"
            disabled={bringIn.isPending}
            onFile={(file) => bringIn.mutate(file)}
          >
            {t`Import from another workshop`}
          </FileButton>
        </div>
        {bringIn.data && (
          <p role="status">
            <Trans>
              {bringIn.data.new} new, {bringIn.data.known} already known.
            </Trans>
          </p>
        )}
      </div>
      {error && <ErrorNotice error={error} />}
    </Sheet>
  )
}
