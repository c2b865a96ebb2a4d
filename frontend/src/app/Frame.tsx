import { useEffect, useRef } from 'react'
import { Link, NavLink, Outlet, useLocation } from 'react-router'
import { BENCH_ADDRESS, HANDBOOK_ADDRESS } from '@/api/addresses'
import { usePreferences } from '@/design/preferences'
import { HelpDialog } from '@/help/HelpDialog'
import { useOutboxSender } from '@/visit/measure/useOutboxSender'
import { Find } from './Find'
import { Unsent } from './Unsent'

const PLACES = [
  { to: '/', label: 'Workshop' },
  { to: BENCH_ADDRESS, label: 'Bench' },
  { to: HANDBOOK_ADDRESS, label: 'Handbook' },
]

/** The slim top line, and the place under it. */
export function Frame() {
  const { theme, setTheme, unit, setUnit } = usePreferences()
  const main = useRef<HTMLElement>(null)
  useOutboxSender()
  const place = useLocation().pathname.split('/').slice(0, 5).join('/')

  // A new place is read from its top, by eye and by screen reader alike.
  useEffect(() => {
    window.scrollTo(0, 0)
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
        Skip to the page
      </a>
      <header className="no-print flex h-13 items-center gap-3 border-b-2 lg:gap-6 border-ink px-5">
        <Link to="/" className="text-lg font-bold tracking-tight text-ink no-underline">
          Pronostico
        </Link>
        <nav aria-label="Places" className="flex h-full">
          {PLACES.map(({ to, label }) => (
            <NavLink
              key={to}
              to={to}
              end={to === '/'}
              className={({ isActive }) =>
                `flex h-full items-center px-3 text-ink no-underline ${
                  isActive ? 'font-semibold shadow-[inset_0_-4px_0_var(--color-accent)]' : ''
                }`
              }
            >
              {label}
            </NavLink>
          ))}
        </nav>
        <div className="flex-1" />
        <Unsent />
        <Find />
        <HelpDialog />
        <button
          type="button"
          className="min-h-11 px-1 whitespace-nowrap text-accent"
          onClick={() => setUnit(unit === 'mm' ? 'thou' : 'mm')}
          aria-label={`Lengths in ${unit === 'mm' ? 'millimetres' : 'thou'}; change to ${unit === 'mm' ? 'thou' : 'millimetres'}`}
        >
          <span className={unit === 'mm' ? 'font-bold underline' : ''}>mm</span>
          {' / '}
          <span className={unit === 'thou' ? 'font-bold underline' : ''}>thou</span>
        </button>
        <button
          type="button"
          className="min-h-11 px-1 text-accent"
          onClick={() => setTheme(theme === 'light' ? 'dark' : 'light')}
        >
          {theme === 'light' ? 'Dark' : 'Light'}
        </button>
      </header>
      <main ref={main} id="main" tabIndex={-1} className="flex-1 px-5 py-4 outline-none">
        <Outlet />
      </main>
    </div>
  )
}
