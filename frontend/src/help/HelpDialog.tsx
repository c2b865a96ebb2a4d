import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { useState } from 'react'
import { Link, matchPath, useLocation } from 'react-router'
import { HANDBOOK_ADDRESS } from '@/api/addresses'
import { Button } from '@/design/Button'
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
        aria-label="Help for this page"
      >
        Help <span className="text-sm">( ? )</span>
      </button>
      {/* Only there while it is open: a closed one lets go of what another dialog keeps out of reach. */}
      {open && (
        <Dialog open onClose={() => setOpen(false)} className="relative z-20">
          <div className="fixed inset-0 bg-ink/40" aria-hidden="true" />
          <div className="fixed inset-0 flex items-start justify-center overflow-y-auto p-6">
            <DialogPanel className="w-full max-w-2xl rounded-card border-2 border-ink bg-sheet p-5">
              <DialogTitle className="text-xl font-bold">{help?.title ?? 'Help'}</DialogTitle>
              {help?.text.map((one) => (
                <p key={one} className="mt-2">
                  {one}
                </p>
              ))}
              <KeyTable keys={[...(help?.keys ?? []), ...EVERY_SCREEN]} />
              <div className="mt-4 flex flex-wrap items-center justify-between gap-3">
                <span className="flex gap-4">
                  <Link to={`${HANDBOOK_ADDRESS}/user-guide`} onClick={() => setOpen(false)}>
                    User guide
                  </Link>
                  <Link to={`${HANDBOOK_ADDRESS}/method`} onClick={() => setOpen(false)}>
                    Method
                  </Link>
                </span>
                <Button onClick={() => setOpen(false)}>Close ( Esc )</Button>
              </div>
            </DialogPanel>
          </div>
        </Dialog>
      )}
    </>
  )
}
