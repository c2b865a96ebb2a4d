import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { forgetSeen } from '@/api/reach'
import { api, done } from '@/api/client'
import { PersonMark } from './PersonMark'
import { chooseTechnician, sessionQuery, useAtWork } from './session'

const ITEM = 'flex min-h-11 w-full items-center gap-3 px-3 py-2 text-left data-focus:bg-accent-pale'

/** Who is at work at this device: on a shared one, one tap hands it on. */
export function AtWork() {
  const { data: session } = useQuery(sessionQuery)
  const { atWork, people } = useAtWork()
  const queryClient = useQueryClient()
  const signOut = useMutation({
    mutationFn: () => done(api.DELETE('/api/session')).then(forgetSeen),
    onSuccess: () => {
      chooseTechnician(null)
      return queryClient.resetQueries()
    },
  })
  if (people.length === 0) return null
  const able = people.filter((one) => one.role !== 'reader')
  return (
    <Menu>
      {signOut.isError && (
        <span role="alert" className="px-1 text-sm font-semibold text-tight">
          {t`Not signed out: try again`}
        </span>
      )}
      <MenuButton
        className="min-h-11 px-1 whitespace-nowrap text-accent"
        aria-label={atWork ? t`At work: ${atWork.name}` : t`Who is at work?`}
      >
        {atWork ? <PersonMark person={atWork} /> : t`Who?`}
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-30 min-w-56 rounded-card border border-rule-strong bg-sheet shadow-md outline-none"
      >
        {able.map((one) => (
          <MenuItem key={one.id}>
            <button
              type="button"
              className={ITEM}
              aria-current={one.id === atWork?.id ? 'true' : undefined}
              onClick={() => chooseTechnician(one.id)}
            >
              <span className="w-12">
                <PersonMark person={one} />
              </span>
              <span className={one.id === atWork?.id ? 'font-semibold' : ''}>{one.name}</span>
            </button>
          </MenuItem>
        ))}
        {session?.on_network && (
          <MenuItem>
            <button
              type="button"
              className={`${ITEM} border-t border-rule text-accent`}
              onClick={() => signOut.mutate()}
            >
              <Trans>Sign out {session.person?.name} on this device</Trans>
            </button>
          </MenuItem>
        )}
      </MenuItems>
    </Menu>
  )
}
