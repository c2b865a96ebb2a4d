import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Field as LabelledField,
  Label,
} from '@headlessui/react'
import { useState } from 'react'
import type { Customer } from '@/api/client'

type Choice = { id: string } | { new: string }

/** Finds a customer by typing a part of what is known of them; a name that nobody has becomes a new one. */
export function CustomerChoice({
  customers,
  onChoose,
  onNew,
}: {
  customers: Customer[]
  onChoose: (id: string) => void
  onNew: (name: string) => void
}) {
  const [text, setText] = useState('')
  const wanted = text.trim().toLowerCase()
  const found = customers.filter((one) =>
    [one.name, one.telephone, one.email, one.address].join(' ').toLowerCase().includes(wanted),
  )
  const option = 'cursor-pointer px-3 py-2 data-focus:bg-accent-pale'
  return (
    <LabelledField className="relative flex flex-col gap-1">
      <Label className="text-sm font-semibold">{t`Find or add a customer`}</Label>
      <Combobox<Choice | null>
        immediate
        value={null}
        onChange={(choice: Choice | null) => {
          if (choice === null) return
          setText('')
          if ('new' in choice) onNew(choice.new)
          else onChoose(choice.id)
        }}
      >
        <ComboboxInput
          autoComplete="off"
          placeholder={t`name, telephone, e-mail, address`}
          className="min-h-11 rounded-card border border-rule-strong bg-sheet px-3 py-2"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <ComboboxOptions className="absolute top-full z-30 mt-1 max-h-72 w-full overflow-y-auto border border-rule-strong bg-sheet shadow-md">
          {found.slice(0, 8).map((one) => (
            <ComboboxOption key={one.id} value={{ id: one.id }} className={option}>
              {one.name}{' '}
              <span className="text-sm text-ink-soft">
                {[one.telephone, one.address].filter(Boolean).join(', ')}
              </span>
            </ComboboxOption>
          ))}
          {wanted !== '' && (
            <ComboboxOption value={{ new: text.trim() }} className={option}>
              <Trans>Add “{text.trim()}”</Trans>
            </ComboboxOption>
          )}
        </ComboboxOptions>
      </Combobox>
    </LabelledField>
  )
}
