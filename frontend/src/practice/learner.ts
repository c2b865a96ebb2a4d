import { useState } from 'react'

const KEY = 'pronostico.learner'

/** Who practises at this screen; kept here, the progress with the workshop. */
export function useLearner(): [string, (name: string) => void] {
  const [learner, setLearner] = useState(() => localStorage.getItem(KEY) ?? 'Apprentice')
  function keep(name: string) {
    localStorage.setItem(KEY, name)
    setLearner(name)
  }
  return [learner, keep]
}
