import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Case, SupposedFinding } from '@/api/client'
import type { State } from '@/design/TriState'
import type { Ticks } from './Complaints'
import { notedKey, type Place } from './place'
import { diagnosisQuery, useNoteFinding, whatIfQuery } from './queries'

/** Ticks of a case: noted at once, or only tried out to see what they would do. */
export function useTicks(engineId: string, open: Case) {
  const note = useNoteFinding(engineId, open.id)
  const [trying, setTrying] = useState(false)
  const [supposed, setSupposed] = useState<SupposedFinding[]>([])
  const diagnosis = useQuery(diagnosisQuery(engineId, open.id))
  const whatIf = useQuery(whatIfQuery(engineId, open.id, supposed))
  const pending = note.isPending ? note.variables : undefined
  const noted = new Map(open.findings.map((one) => [notedKey(one.id, one), one.state]))

  const ticks: Ticks = {
    stateOf: (id, place) => {
      const key = notedKey(id, place)
      const tried = supposed.find((one) => notedKey(one.id, one) === key)
      if (tried) return tried.state
      if (pending && notedKey(pending.id, pending) === key) return pending.state
      return noted.get(key) ?? 'unknown'
    },
    tick: (id, place, state) => {
      if (!trying) return note.mutate({ id, state, ...place })
      const key = notedKey(id, place)
      const others = supposed.filter((one) => notedKey(one.id, one) !== key)
      const asNoted = (noted.get(key) ?? 'unknown') === state
      setSupposed(asNoted ? others : [...others, { id, state, ...place }])
    },
  }

  async function keep() {
    for (const one of supposed) {
      await note.mutateAsync({
        id: one.id,
        state: one.state as State,
        cylinder: one.cylinder ?? undefined,
        side: one.side ?? undefined,
      } as { id: string; state: State } & Place)
    }
    drop()
  }

  function drop() {
    setSupposed([])
    setTrying(false)
  }

  return {
    ticks,
    trying,
    setTrying: (on: boolean) => (on ? setTrying(true) : drop()),
    supposed,
    keep,
    drop,
    error: note.error ?? whatIf.error,
    diagnosis,
    /** The picture with what is tried out, where anything is. */
    tried: supposed.length > 0 ? whatIf.data : undefined,
  }
}
