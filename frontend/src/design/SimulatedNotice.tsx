import { t } from '@lingui/core/macro'

/** Figures that no instrument measured: said wherever they are shown. */
export function SimulatedNotice({ parts, visit }: { parts: string[]; visit?: string }) {
  if (parts.length === 0) return null
  return (
    <p className="border-l-6 border-loose bg-sheet px-4 py-1">
      <strong>
        {t`Simulated, not measured`}
        {visit && t`, visit ${visit}`}:
      </strong>{' '}
      {parts.join(', ')}.
    </p>
  )
}

/** The same for all visits of an engine. */
export function SimulatedVisits({ visits }: { visits: { visit: string; simulated?: string[] }[] }) {
  return visits.map((one) => (
    <SimulatedNotice key={one.visit} visit={one.visit} parts={one.simulated ?? []} />
  ))
}
