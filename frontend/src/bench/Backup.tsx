import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, unwrap, type ShopImport } from '@/api/client'
import { Button, buttonClass } from '@/design/Button'
import { FileButton } from '@/design/FileButton'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'

/** The zip goes as it is, with the engines that are passed over. */
const sent = (file: File, leaveOut: string[]) => ({
  body: file as unknown as string,
  bodySerializer: (body: unknown) => body as Blob,
  headers: { 'Content-Type': 'application/zip' },
  params: { query: { leave_out: leaveOut } },
})

/** The whole shop as one file: saved, and taken in after a look at what it would change. */
export function Backup() {
  const queryClient = useQueryClient()
  const [file, setFile] = useState<File>()
  const [leaveOut, setLeaveOut] = useState<string[]>([])
  const look = useMutation({
    mutationFn: (chosen: File) => unwrap(api.POST('/api/shop-file/preview', sent(chosen, []))),
  })
  const take = useMutation({
    mutationFn: (chosen: File) => unwrap(api.POST('/api/shop-file', sent(chosen, leaveOut))),
    onSuccess: () => {
      setFile(undefined)
      look.reset()
      void queryClient.invalidateQueries()
    },
  })
  const seen = file && look.data
  const blocked =
    seen !== undefined &&
    (seen.faults.length > 0 ||
      seen.engines.some((one) => one.state === 'refused' && !leaveOut.includes(one.id)))

  function choose(chosen: File) {
    setFile(chosen)
    setLeaveOut([])
    take.reset()
    look.mutate(chosen)
  }

  return (
    <Sheet title="The whole shop as one file">
      <div className="flex flex-col gap-3 px-4 py-3">
        <p>
          Every engine as a record, the blade sets, the shim box, what cases taught, notes and
          photographs, in a zip that other programs can open. Keep one somewhere else.
        </p>
        <div className="flex flex-wrap gap-2">
          <a href="/api/shop-file" download className={buttonClass()}>
            Save the shop
          </a>
          <FileButton
            label="A shop’s file"
            accept=".zip,application/zip"
            disabled={look.isPending}
            onFile={choose}
          >
            Look at a shop’s file
          </FileButton>
        </div>
        {(look.isPending || take.isPending) && (
          <TakingProgress words={look.isPending ? 'Holding it against the shop' : 'Taking it in'} />
        )}
        {look.error && <ErrorNotice error={look.error} />}
        {seen && (
          <>
            <Seen
              seen={seen}
              leaveOut={leaveOut}
              onLeaveOut={(id, out) =>
                setLeaveOut(out ? [...leaveOut, id] : leaveOut.filter((one) => one !== id))
              }
            />
            <Button
              look="main"
              disabled={blocked || take.isPending}
              onClick={() => take.mutate(file)}
            >
              Take it in
            </Button>
            {blocked && (
              <p className="text-loose">
                All of it is taken in or nothing: mend what is refused, or leave those engines out.
              </p>
            )}
          </>
        )}
        {take.error && <ErrorNotice error={take.error} />}
        {take.data && (
          <p role="status">
            Taken in; new or changed: {take.data.engines.length}, as they were: {take.data.same}.
          </p>
        )}
      </div>
    </Sheet>
  )
}

/** How far the server has come with a file, engine by engine. */
function TakingProgress({ words }: { words: string }) {
  const { data } = useQuery({
    queryKey: ['shop-file', 'progress'],
    queryFn: () => unwrap(api.GET('/api/shop-file/progress')),
    refetchInterval: 400,
    gcTime: 0,
  })
  const known = data !== undefined && data.total > 0
  return (
    <p role="status" className="flex items-center gap-3">
      <progress
        className="h-3 w-40 accent-accent"
        aria-label="engines of the file"
        {...(known ? { value: data.done, max: data.total } : {})}
      />
      {words}
      {known ? `: ${data.done} of ${data.total} engines.` : '…'}
    </p>
  )
}

function Seen({
  seen,
  leaveOut,
  onLeaveOut,
}: {
  seen: ShopImport
  leaveOut: string[]
  onLeaveOut: (id: string, out: boolean) => void
}) {
  const beside = [
    [seen.blade_sets, 'blade sets'],
    [seen.shim_sizes, 'sizes of shims'],
    [seen.lessons, 'lessons of closed cases'],
    [seen.notebook_entries, 'notes'],
    [seen.photographs, 'photographs'],
    [seen.knowledge.length, 'knowledge files, in use after the next start'],
  ].filter(([count]) => count !== 0)
  return (
    <div aria-label="What the file would change" role="group">
      {seen.faults.map((fault) => (
        <p key={fault} className="text-tight">
          {fault}
        </p>
      ))}
      {seen.engines.length > 0 && (
        <table className="w-full border-collapse text-sm">
          <thead>
            <tr className="border-b border-ink text-left text-ink-soft">
              <th className="py-1 font-normal">engine</th>
              <th className="py-1 font-normal">is</th>
              <th className="py-1 font-normal">brings</th>
              <th className="py-1 font-normal">leave out</th>
            </tr>
          </thead>
          <tbody>
            {seen.engines.map((one) => (
              <tr key={one.id} className="border-b border-rule align-top">
                <th scope="row" className="py-1 text-left font-semibold">
                  {one.name}
                </th>
                <td className={`py-1 ${one.state === 'refused' ? 'font-semibold text-tight' : ''}`}>
                  {one.state}
                  {one.faults.map((fault) => (
                    <p key={fault} className="font-normal">
                      {fault}
                    </p>
                  ))}
                </td>
                <td className="py-1">
                  {one.visits} visits, {one.cases} cases
                </td>
                <td className="py-1">
                  <input
                    type="checkbox"
                    className="size-6"
                    aria-label={`Leave out ${one.name}`}
                    checked={leaveOut.includes(one.id)}
                    onChange={(event) => onLeaveOut(one.id, event.target.checked)}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p>
        {seen.same} engines as they are here already
        {beside.length > 0 &&
          `; new beside them: ${beside.map(([count, what]) => `${count} ${what}`).join(', ')}`}
        .
      </p>
      {seen.knowledge_not_taken.length > 0 && (
        <p>Knowledge that the shop has of its own stays: {seen.knowledge_not_taken.join(', ')}.</p>
      )}
    </div>
  )
}
