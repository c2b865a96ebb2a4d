import { t } from '@lingui/core/macro'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, newId, ProblemError, unwrap, type Role } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { ErrorNotice } from '@/design/Notice'
import { SelectField } from '@/design/SelectField'
import { sessionQuery } from '@/people/session'
import { ROLES } from './roles'

/** With the identifier it is stored under, so that what is sent twice adds one person. */
const empty = () => ({
  id: newId(),
  name: '',
  initials: '',
  password: '',
  role: 'technician' as Role,
})

/** Somebody new for the list. */
export function NewPerson() {
  const { data: session } = useQuery(sessionQuery)
  const [typed, setTyped] = useState(empty)
  const queryClient = useQueryClient()
  const add = useMutation({
    mutationFn: (sent: typeof typed) =>
      unwrap(
        api.PUT('/api/people/{person_id}', {
          params: { path: { person_id: sent.id } },
          body: {
            name: sent.name,
            role: sent.role,
            initials: sent.initials.trim() || null,
            password: sent.password || null,
          },
        }),
      ),
    onSuccess: async (_, sent) => {
      setTyped((now) => (now.id === sent.id ? empty() : now))
      await queryClient.invalidateQueries({ queryKey: ['session'] })
    },
  })
  const field = (name: 'name' | 'initials' | 'password') => ({
    value: typed[name],
    fault: add.error instanceof ProblemError ? add.error.at(`$.${name}`) : undefined,
    onChange: (event: { target: { value: string } }) => change({ [name]: event.target.value }),
  })
  // What is typed while the last one is on its way is the next one.
  function change(to: Partial<typeof typed>) {
    setTyped({ ...typed, ...to, id: add.isPending ? newId() : typed.id })
  }
  function submit(event: FormEvent) {
    event.preventDefault()
    add.mutate(typed)
  }
  return (
    <form onSubmit={submit} className="flex flex-col gap-3 px-4 py-3">
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-[2fr_1fr_1fr]">
        <Field label={t`Full name`} required maxLength={80} autoComplete="off" {...field('name')} />
        <Field
          label={t`Initials`}
          maxLength={4}
          placeholder={t`from the name`}
          {...field('initials')}
        />
        <SelectField
          label={t`Role`}
          value={typed.role}
          choices={ROLES}
          onChange={(role) => change({ role })}
        />
      </div>
      {session?.on_network && (
        <Field
          label={t`Password`}
          type="password"
          autoComplete="new-password"
          hint={t`at least 10 characters; empty: they sign in with a paired device alone`}
          {...field('password')}
        />
      )}
      <p className="text-sm text-ink-soft">
        {t`A reader sees everything and changes nothing. An owner also sees to people, backups, learned cases and the workshop’s figures.`}
      </p>
      <Button type="submit" className="self-start">
        {t`Add person`}
      </Button>
      {add.error && <ErrorNotice error={add.error} />}
    </form>
  )
}
