import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { Outlet, useLocation } from 'react-router'
import { PAIR_ADDRESS } from '@/api/addresses'
import { LiveNews } from '@/people/LiveNews'
import { SignInPage } from '@/people/SignInPage'
import { sessionQuery } from '@/people/session'
import { useOutboxSender } from '@/shared/outboxSender'
import { AwayNotice } from './AwayNotice'
import { NewVersion } from './NewVersion'
import { TopLine } from './TopLine'

/** The slim top line, and the place under it. */
export function Frame() {
  const main = useRef<HTMLElement>(null)
  useOutboxSender()
  // A step of a visit is a place; a valve of it is not.
  const place = useLocation().pathname.split('/').slice(0, 6).join('/')
  const shown = useRef(place)

  // A new place is read from its top, by eye, by keyboard and by screen reader alike.
  useEffect(() => {
    if (shown.current === place) return
    shown.current = place
    window.scrollTo(0, 0)
    // A dialog that led here gives the focus back first, to whatever is left of the page before.
    const timer = setTimeout(() => {
      if (!document.activeElement?.closest('main, [role=dialog]')) {
        main.current?.focus({ preventScroll: true })
      }
    })
    return () => clearTimeout(timer)
  }, [place])

  return (
    <div className="flex min-h-screen flex-col">
      <a
        href="#main"
        onClick={(event) => {
          event.preventDefault()
          main.current?.focus()
        }}
        className="absolute -left-[999px] z-10 bg-accent px-4 py-2 text-on-accent focus:left-2"
      >
        {t`Skip to the page`}
      </a>
      <TopLine />
      <AwayNotice />
      <NewVersion />
      <main ref={main} id="main" tabIndex={-1} className="flex-1 px-3 py-4 outline-none md:px-5">
        <Signed />
      </main>
      <LiveNews />
    </div>
  )
}

/** The page, once somebody is signed in where that is wanted; a pairing link signs in by itself. */
function Signed() {
  const { data: session, isPending } = useQuery(sessionQuery)
  const { pathname } = useLocation()
  if (isPending) return null
  const needs = session?.needs ?? 'nothing'
  if (needs === 'nothing' || pathname === PAIR_ADDRESS) return <Outlet />
  return <SignInPage first={needs === 'first-owner'} />
}
