import { t } from '@lingui/core/macro'
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { caseAddress, engineAddress } from '@/api/addresses'
import { enginesQuery } from '@/api/queries'

type Target = { label: string; detail: string; address: string }

function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && /^(input|textarea|select)$/i.test(target.tagName)
}

/** Find an engine or a case by typing; '/' leads here from anywhere. */
export function Find() {
  const [text, setText] = useState('')
  const input = useRef<HTMLInputElement>(null)
  const navigate = useNavigate()
  const { data: engines = [] } = useQuery(enginesQuery)

  useEffect(() => {
    function onKeyDown(event: globalThis.KeyboardEvent) {
      if (event.key !== '/' || isTyping(event.target)) return
      event.preventDefault()
      input.current?.focus()
    }
    window.addEventListener('keydown', onKeyDown)
    return () => window.removeEventListener('keydown', onKeyDown)
  }, [])

  const targets: Target[] = engines.flatMap((engine) => [
    {
      label: engine.name,
      detail: [engine.identity ?? 'engine', engine.customer].filter(Boolean).join('; '),
      address: engineAddress(engine.id),
    },
    ...engine.open_cases.map((open) => ({
      label: t`${engine.name}: case ${open.id}`,
      detail: open.complaints.join(', '),
      address: caseAddress(engine.id, open.id),
    })),
  ])
  const wanted = text.trim().toLowerCase()
  const found = targets.filter((target) =>
    `${target.label} ${target.detail}`.toLowerCase().includes(wanted),
  )

  return (
    <Combobox
      value={null as Target | null}
      onChange={(target: Target | null) => {
        if (!target) return
        setText('')
        input.current?.blur()
        void navigate(target.address)
      }}
      onClose={() => setText('')}
    >
      <div className="relative">
        <ComboboxInput
          ref={input}
          aria-label={t`Find an engine or a case`}
          placeholder={t`Find ( / )`}
          className="h-9 w-32 rounded-card sm:w-40 lg:w-56 border border-rule-strong bg-sheet px-3 placeholder:text-ink-soft"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <ComboboxOptions className="absolute right-0 z-20 mt-1 w-[min(20rem,90vw)] border border-rule-strong bg-sheet shadow-md">
          {found.length === 0 ? (
            <div className="px-3 py-2 text-ink-soft">{t`Nothing found by that name.`}</div>
          ) : (
            found.slice(0, 8).map((target) => (
              <ComboboxOption
                key={target.address}
                value={target}
                className="cursor-pointer px-3 py-2 data-focus:bg-accent-pale"
              >
                {target.label} <span className="text-sm text-ink-soft">{target.detail}</span>
              </ComboboxOption>
            ))
          )}
        </ComboboxOptions>
      </div>
    </Combobox>
  )
}
