import { t } from '@lingui/core/macro'
import { NavLink } from 'react-router'
import { HANDBOOK_ADDRESS } from '@/api/addresses'

const PAGES = [
  { to: HANDBOOK_ADDRESS, label: t`Causes and evidence` },
  { to: `${HANDBOOK_ADDRESS}/method`, label: t`Method` },
  { to: `${HANDBOOK_ADDRESS}/formulas`, label: t`Formulas` },
  { to: `${HANDBOOK_ADDRESS}/user-guide`, label: t`User guide` },
  { to: `${HANDBOOK_ADDRESS}/screens`, label: t`Screen help` },
  { to: `${HANDBOOK_ADDRESS}/changes`, label: t`Changes` },
]

/** The parts of the handbook. */
export function HandbookTabs() {
  return (
    <nav aria-label={t`Handbook`} className="no-print mb-3 flex flex-wrap border-b border-rule">
      {PAGES.map(({ to, label }) => (
        <NavLink
          key={to}
          to={to}
          end
          className={({ isActive }) =>
            `flex min-h-11 items-center px-3 text-ink no-underline ${
              isActive ? 'font-semibold shadow-[inset_0_-3px_0_var(--color-accent)]' : ''
            }`
          }
        >
          {label}
        </NavLink>
      ))}
    </nav>
  )
}
