import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { useState } from 'react'
import { Link, matchPath, useLocation } from 'react-router'
import { HANDBOOK_ADDRESS } from '@/api/addresses'
import { Popup } from '@/design/Popup'
import { useKeys } from '@/design/useKeys'
import { KeyTable } from './KeyTable'
import { EVERY_SCREEN, SCREENS, type ScreenHelp } from './screens'

/** The help of an address; undefined where there is no such page. */
export function helpFor(pathname: string): ScreenHelp | undefined {
  return SCREENS.find((one) => one.paths.some((path) => matchPath(path, pathname)))
}

/** What the page available is for, and its keys: `?` shows it, and so does the word in the top line. */
export function HelpDialog() {
  const [open, setOpen] = useState(false)
  const { pathname } = useLocation()
  const help = helpFor(pathname)
  useKeys((event) => {
    const typing =
      event.target instanceof HTMLElement && event.target.matches('input, textarea, select')
    if (event.key !== '?' || typing || event.ctrlKey || event.metaKey) return
    event.preventDefault()
    setOpen(true)
  })
  return (
    <>
      <button
        type="button"
        className="min-h-11 px-1 whitespace-nowrap text-accent"
        onClick={() => setOpen(true)}
        aria-label={t`Help for this page`}
      >
        <Trans>
          Help <span className="text-sm">( ? )</span>
        </Trans>
      </button>
      {open && (
        <Popup title={help?.title ?? t`Help`} onClose={() => setOpen(false)}>
          {help?.text.map((one) => (
            <p key={one} className="mt-2">
              {one}
            </p>
          ))}
          <KeyTable keys={[...(help?.keys ?? []), ...EVERY_SCREEN]} />
          <p className="mt-4 flex gap-4">
            <Link to={`${HANDBOOK_ADDRESS}/user-guide`} onClick={() => setOpen(false)}>
              {t`User guide`}
            </Link>
            <Link to={`${HANDBOOK_ADDRESS}/method`} onClick={() => setOpen(false)}>
              {t`Method`}
            </Link>
          </p>
        </Popup>
      )}
    </>
  )
}
