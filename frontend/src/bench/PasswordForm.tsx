import { t } from '@lingui/core/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, ProblemError, unwrap, type Person } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { ErrorNotice } from '@/design/Notice'
import { sessionQuery } from '@/people/session'

/** A new password: one's own with the old one, somebody else's by an owner. */
export function PasswordForm({ person, close }: { person: Person; close: () => void }) {
  const { data: session } = useQuery(sessionQuery)
  const [password, setPassword] = useState('')
  const [old, setOld] = useState('')
  const queryClient = useQueryClient()
  const own = session?.person?.id === person.id
  const change = useMutation({
    mutationFn: () =>
      unwrap(
        api.PUT('/api/people/{person_id}/password', {
          params: { path: { person_id: person.id } },
          body: { password, old: own ? old : null },
        }),
      ),
    onSuccess: async () => {
      await queryClient.invalidateQueries({ queryKey: ['session'] })
      close()
    },
  })
  const fault = (path: string) =>
    change.error instanceof ProblemError ? change.error.at(path) : undefined
  function submit(event: FormEvent) {
    event.preventDefault()
    change.mutate()
  }
  return (
    <form onSubmit={submit} className="flex w-full flex-col gap-3 pb-3">
      {own && person.has_password && (
        <Field
          label={t`Password until now`}
          type="password"
          autoComplete="current-password"
          required
          value={old}
          fault={fault('$.old')}
          onChange={(event) => setOld(event.target.value)}
        />
      )}
      <Field
        label={t`New password of ${person.name}`}
        type="password"
        autoComplete="new-password"
        hint={t`at least 10 characters; every other device is signed out`}
        required
        value={password}
        fault={fault('$.password')}
        onChange={(event) => setPassword(event.target.value)}
      />
      <div className="flex gap-2">
        <Button type="submit" disabled={change.isPending}>
          {t`Save password`}
        </Button>
        <Button look="quiet" onClick={close}>
          {t`Cancel`}
        </Button>
      </div>
      {change.error && <ErrorNotice error={change.error} />}
    </form>
  )
}
