import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, ProblemError, done } from '@/api/client'
import { Button } from '@/design/Button'
import { Field } from '@/design/Field'
import { ErrorNotice } from '@/design/Notice'
import { Sheet } from '@/design/Sheet'
import { useTitle } from '@/design/useTitle'
import { deviceName } from './session'
import { LanguageChoice } from '@/design/LanguageChoice'

/** Shown in place of every page until somebody is signed in; the address stays, and leads there afterwards. */
export function SignInPage({ first }: { first: boolean }) {
  useTitle(first ? t`First owner` : t`Sign in`)
  const [typed, setTyped] = useState({ code: '', name: '', password: '', device: deviceName() })
  const queryClient = useQueryClient()
  const signIn = useMutation({
    mutationFn: () => {
      const { code, ...rest } = typed
      return done(
        first
          ? api.POST('/api/session/first-owner', { body: { code, ...rest } })
          : api.POST('/api/session', { body: rest }),
      )
    },
    onSuccess: () => queryClient.resetQueries(),
  })
  const field = (name: keyof typeof typed) => ({
    value: typed[name],
    fault: signIn.error instanceof ProblemError ? signIn.error.at(`$.${name}`) : undefined,
    onChange: (event: { target: { value: string } }) =>
      setTyped({ ...typed, [name]: event.target.value }),
  })
  function submit(event: FormEvent) {
    event.preventDefault()
    signIn.mutate()
  }
  return (
    <form onSubmit={submit} className="mx-auto mt-4 max-w-md md:mt-12">
      <Sheet title={first ? t`Become the first owner` : t`Sign in`}>
        <div className="flex flex-col gap-3 px-4 py-4">
          {first && (
            <>
              <p>
                <Trans>
                  Nobody is on the list yet. The code was printed where{' '}
                  <span className="whitespace-nowrap">pronostico serve --lan</span> was started.
                </Trans>
              </p>
              <Field label={t`Code`} autoComplete="off" required autoFocus {...field('code')} />
            </>
          )}
          <Field
            label={t`Name`}
            autoComplete="username"
            required
            autoFocus={!first}
            {...field('name')}
          />
          <Field
            label={t`Password`}
            type="password"
            autoComplete={first ? 'new-password' : 'current-password'}
            hint={first ? t`at least 10 characters; three or four words are good` : undefined}
            required
            {...field('password')}
          />
          <Field label={t`Name of this device`} maxLength={80} {...field('device')} />
          <Button type="submit" look="main" disabled={signIn.isPending}>
            {first ? t`Become the owner` : t`Sign in`}
          </Button>
          {signIn.error && <ErrorNotice error={signIn.error} />}
          <LanguageChoice />
          {!first && (
            <p className="text-sm text-ink-soft">
              {t`No password? Somebody who is signed in can pair this device on the Bench page, with a code that its camera reads. A forgotten password is replaced by an owner.`}
            </p>
          )}
        </div>
      </Sheet>
    </form>
  )
}
