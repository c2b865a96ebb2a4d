import { answerOfKey } from '@/blades/answers'
import { useKeys } from '@/design/useKeys'
import type { ValveWork } from './useValveWork'

/** Where a key means something else than on this screen: in a field. */
function isElsewhere(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (/^(textarea|select)$/i.test(target.tagName) ||
      (target instanceof HTMLInputElement && target.type !== 'checkbox'))
  )
}

/** The keys of the measuring screen: answers, blades, turns of the crank, the next valve. */
export function useMeasuringKeys(work: ValveWork) {
  useKeys((event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || isElsewhere(event.target)) return
    const felt = answerOfKey(event.key)
    // A key held down is one answer, not many.
    if (felt && event.repeat) return
    // A button or link with the focus keeps its Enter.
    const onControl = event.target instanceof Element && event.target.closest('a, button') !== null
    const doing: Record<string, () => void> = {
      ArrowUp: () => work.take({ type: 'step', by: 1 }),
      ArrowDown: () => work.take({ type: 'step', by: -1 }),
      '+': () => work.take({ type: 'stack' }),
      '-': () => work.take({ type: 'unstack' }),
      Backspace: () => work.takeBack(),
      B: () => work.setTyping(true),
      R: work.turnRound,
      F: () => work.setPhase('found'),
      G: () => work.setPhase('left'),
      ...(onControl ? {} : { Enter: work.goOn }),
    }
    const act =
      felt && felt !== 'go'
        ? () => work.answer(felt)
        : doing[event.key.length === 1 ? event.key.toUpperCase() : event.key]
    if (!act) return
    event.preventDefault()
    act()
  })
}
