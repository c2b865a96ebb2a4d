import { t } from '@lingui/core/macro'
import { useState } from 'react'
import { Link, NavLink, useLocation } from 'react-router'
import { BENCH_ADDRESS, HANDBOOK_ADDRESS } from '@/api/addresses'
import { usePreferences } from '@/design/preferences'
import { HelpDialog } from '@/help/HelpDialog'
import { AtWork } from '@/people/AtWork'
import { Find } from './Find'
import { MadeUp } from './MadeUp'
import { Unsent } from './Unsent'

const PLACES = [
  { to: '/', label: t`Workshop` },
  { to: BENCH_ADDRESS, label: t`Bench` },
  { to: HANDBOOK_ADDRESS, label: t`Handbook` },
]

/** The slim line over every page; on a small screen it folds, and the button Menu opens it. */
export function TopLine() {
  const { pathname } = useLocation()
  // Opened at one place, it is folded again at the next.
  const [openAt, setOpenAt] = useState<string>()
  const open = openAt === pathname
  const folds = `${open ? 'flex' : 'hidden'} w-full md:flex md:w-auto`
  return (
    <header
      className="no-print flex min-h-13 flex-wrap items-center gap-x-3 border-b-2 border-ink px-3 md:px-5 lg:flex-nowrap lg:gap-x-6"
      onKeyDown={(event) => {
        if (event.key === 'Escape') setOpenAt(undefined)
      }}
    >
      <Link to="/" className="text-lg font-bold tracking-tight text-ink no-underline">
        {t`Pronostico`}
      </Link>
      <MadeUp />
      <nav aria-label={t`Places`} className={`${folds} order-1 md:order-none md:h-13`}>
        {PLACES.map(({ to, label }) => (
          <NavLink
            key={to}
            to={to}
            end={to === '/'}
            className={({ isActive }) =>
              `flex min-h-12 flex-1 items-center justify-center px-3 text-ink no-underline md:flex-none ${
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
      <AtWork />
      <button
        type="button"
        aria-expanded={open}
        className="min-h-11 min-w-11 px-1 text-accent md:hidden"
        onClick={() => setOpenAt(open ? undefined : pathname)}
      >
        {open ? t`Close` : t`Menu`}
      </button>
      <div
        className={`${folds} order-2 justify-between gap-x-3 md:order-none md:ml-auto lg:gap-x-6`}
      >
        <HelpDialog />
        <Units />
        <Theme />
      </div>
    </header>
  )
}

function Units() {
  const { unit, setUnit } = usePreferences()
  const other = unit === 'mm' ? 'thou' : 'mm'
  return (
    <button
      type="button"
      className="min-h-11 px-1 whitespace-nowrap text-accent"
      onClick={() => setUnit(other)}
      aria-label={t`Lengths in ${unit === 'mm' ? t`millimetres` : 'thou'}; change to ${unit === 'mm' ? 'thou' : t`millimetres`}`}
    >
      <span className={unit === 'mm' ? 'font-bold underline' : ''}>mm</span>
      {' / '}
      <span className={unit === 'thou' ? 'font-bold underline' : ''}>thou</span>
    </button>
  )
}

function Theme() {
  const { theme, setTheme } = usePreferences()
  return (
    <button
      type="button"
      className="min-h-11 px-1 text-accent"
      onClick={() => setTheme(theme === 'light' ? 'dark' : 'light')}
    >
      {theme === 'light' ? t`Dark` : t`Light`}
    </button>
  )
}
