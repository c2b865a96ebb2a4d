import { answerOfKey } from '@/blades/answers'
import { useKeys } from '@/design/useKeys'
import { handSettings } from '@/hands/handSettings'
import { actionOfKey, keyName } from '@/hands/keys'
import type { ValveWork } from './useValveWork'

/** Where a key means something else than on this screen: in a field. */
function isElsewhere(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (/^(textarea|select)$/i.test(target.tagName) ||
      (target instanceof HTMLInputElement && target.type !== 'checkbox'))
  )
}

/** The keys of the measuring screen: answers, blades, turns of the crank, the next valve, listening. */
export function useMeasuringKeys(work: ValveWork, listen: () => void) {
  useKeys((event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || isElsewhere(event.target)) return
    const own = actionOfKey(event.key, handSettings().keys)
    const felt = own === undefined ? answerOfKey(event.key) : own === 'next' ? undefined : own
    // A key held down is one answer, not many.
    if ((own || felt) && event.repeat) return
    // A button or link with the focus keeps the keys that press it.
    const onControl =
      event.target instanceof Element &&
      event.target.closest('a, button') !== null &&
      [' ', 'Enter'].includes(event.key)
    if (onControl) return
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
      V: listen,
      Enter: work.goOn,
    }
    const act =
      own === 'next'
        ? work.goOn
        : felt && felt !== 'go'
          ? () => work.answer(felt)
          : doing[keyName(event.key)]
    if (!act) return
    event.preventDefault()
    act()
  })
}
