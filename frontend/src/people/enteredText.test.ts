import { expect, test } from 'vitest'
import { enteredText } from './enteredText'

test.each([
  [
    '{"valve":"4E","phase":"found","blades_mm":[0.2,0.05],"felt":"drag","entered":null}',
    'valve 4E, phase found, blade 0.2 + 0.05 mm, felt drag',
  ],
  ['{"temperature_c":14,"notes":""}', 'temperature 14 °C'],
  ['{"minutes":35,"was":null,"confirmed":[]}', 'minutes 35'],
  ['{"choice":{"policy":"middle"}}', 'choice policy middle'],
  ['no JSON', 'no JSON'],
])('%s is read as words', (sent, words) => {
  expect(enteredText(sent)).toBe(words)
})
