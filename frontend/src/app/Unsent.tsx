import { useSyncExternalStore } from 'react'
import { Link } from 'react-router'
import { measureAddress } from '@/api/addresses'
import { subscribe, waiting } from '@/api/outbox'
import { sendingTrouble } from '@/visit/measure/useOutboxSender'

/** How many answers are kept in this browser and not stored yet, on every page. */
export function Unsent() {
  const all = useSyncExternalStore(subscribe, waiting)
  const stuck = all.filter((one) => one.refused || sendingTrouble())
  const first = stuck[0]
  if (!first) return null
  return (
    <Link
      to={measureAddress(first.engineId, first.visitId)}
      className="font-semibold whitespace-nowrap text-tight"
    >
      {stuck.length === 1 ? '1 answer not sent' : `${stuck.length} answers not sent`}
    </Link>
  )
}
