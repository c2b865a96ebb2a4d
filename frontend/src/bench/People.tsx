import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { ALL_CHANGES_ADDRESS } from '@/api/addresses'
import { api, done, unwrap, type Person, type Role } from '@/api/client'
import { Button } from '@/design/Button'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { PersonMark } from '@/people/PersonMark'
import { peopleQuery, sessionQuery } from '@/people/session'
import { NewPerson } from './NewPerson'
import { PasswordForm } from './PasswordForm'
import { ROLES } from './roles'

/** Who works here, and what each may do; owners see to it. */
export function People() {
  const { data: people = [], error } = useQuery(peopleQuery)
  return (
    <Sheet
      title={t`People`}
      aside={
        <Link to={ALL_CHANGES_ADDRESS} className="text-sm">
          {t`Who changed what`}
        </Link>
      }
    >
      {error && <ErrorNotice error={error} />}
      {people.length === 0 && !error && (
        <p className="px-4 pt-3 text-ink-soft">
          {t`Nobody yet. With a list, every entry says who made it, and one tap in the top line hands a shared tablet on.`}
        </p>
      )}
      <ul>
        {people.map((one) => (
          <PersonLine key={one.id} person={one} />
        ))}
      </ul>
      <NewPerson />
    </Sheet>
  )
}

function PersonLine({ person }: { person: Person }) {
  const { data: session } = useQuery(sessionQuery)
  const [open, setOpen] = useState<'password' | 'remove'>()
  const queryClient = useQueryClient()
  const path = { person_id: person.id }
  const refresh = () => queryClient.invalidateQueries({ queryKey: ['session'] })
  const role = useMutation({
    mutationFn: (chosen: Role) =>
      unwrap(api.PUT('/api/people/{person_id}/role', { params: { path }, body: { role: chosen } })),
    onSettled: refresh,
  })
  const remove = useMutation({
    mutationFn: () => done(api.DELETE('/api/people/{person_id}', { params: { path } })),
    onSuccess: refresh,
  })
  return (
    <li className="flex flex-wrap items-center gap-x-3 border-b border-rule px-4 py-1">
      <span className="w-14">
        <PersonMark person={person} />
      </span>
      <span className="min-w-32 flex-1">{person.name}</span>
      <select
        aria-label={t`Role of ${person.name}`}
        value={person.role}
        onChange={(event) => role.mutate(event.target.value as Role)}
        className="min-h-11 rounded-card border border-rule-strong bg-sheet px-2"
      >
        {ROLES.map((one) => (
          <option key={one.id} value={one.id}>
            {one.label}
          </option>
        ))}
      </select>
      {session?.on_network && (
        <Button look="quiet" onClick={() => setOpen(open === 'password' ? undefined : 'password')}>
          {person.has_password ? t`New password` : t`Set password`}
        </Button>
      )}
      <Button look="quiet" onClick={() => setOpen(open === 'remove' ? undefined : 'remove')}>
        {t`Remove`}
      </Button>
      {open === 'password' && <PasswordForm person={person} close={() => setOpen(undefined)} />}
      {open === 'remove' && (
        <div className="flex w-full flex-wrap items-center gap-2 pb-2">
          <p className="flex-1">
            <Trans>
              Remove {person.name}? All their devices are signed out; what they entered goes on
              naming them.
            </Trans>
          </p>
          <Button onClick={() => remove.mutate()}>
            <Trans>Remove {person.name}</Trans>
          </Button>
          <Button look="quiet" onClick={() => setOpen(undefined)}>
            {t`Cancel`}
          </Button>
        </div>
      )}
      {(role.error ?? remove.error) && (
        <div className="w-full pb-2">
          <ErrorNotice error={role.error ?? remove.error} />
        </div>
      )}
    </li>
  )
}
