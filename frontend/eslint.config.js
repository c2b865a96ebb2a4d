import js from '@eslint/js'
import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

// What everybody may use knows nothing of the places; places meet only in app/.
const BENEATH = {
  design: [],
  api: ['design'],
  'head-plan': ['api', 'design'],
  blades: ['api', 'design', 'head-plan'],
  instruments: ['api', 'design', 'head-plan', 'shared'],
  hands: ['design'],
  help: ['api', 'design'],
  people: ['api', 'design'],
  shared: ['api', 'blades', 'design', 'head-plan'],
  sound: ['api', 'design', 'hands'],
}
const PLACES = ['workshop', 'engine', 'visit', 'case', 'bench', 'handbook', 'practice']
// The steps of a visit meet only in visit/shared.
const STEPS = [
  'complaint',
  'prepare',
  'inspect',
  'position',
  'measure',
  'assess',
  'adjust',
  'verify',
  'tests',
  'instruments',
  'sound',
  'check-sheet',
  'job-card',
]

function only(folder, allowed, within = 'src') {
  const forbidden = [...Object.keys(BENEATH), ...PLACES, 'app'].filter(
    (one) => one !== folder && !allowed.includes(one),
  )
  return {
    files: [`${within}/${folder}/**`],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: forbidden.map((one) => `@/${one}/*`),
              message: `${folder}/ may use ${allowed.join(', ') || 'nothing of ours'} and itself.`,
            },
            { regex: '^\\.\\./(?!.*(docs/|CHANGELOG))', message: 'Write @/… for another folder.' },
          ],
        },
      ],
    },
  }
}

function step(folder) {
  const base = only('visit', Object.keys(BENEATH)).rules['no-restricted-imports'][1].patterns
  return {
    files: [`src/visit/${folder}/**`],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            ...base,
            {
              group: STEPS.filter((one) => one !== folder).map((one) => `@/visit/${one}/*`),
              message: 'Steps of a visit share what they need through visit/shared.',
            },
          ],
        },
      ],
    },
  }
}

export default tseslint.config(
  { ignores: ['node_modules', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  tseslint.configs.recommended,
  reactHooks.configs.flat.recommended,
  // A component that no longer fits on two screens does more than one thing.
  {
    rules: {
      'max-lines-per-function': ['error', { max: 150, skipBlankLines: true, skipComments: true }],
    },
  },
  ...Object.entries(BENEATH).map(([folder, allowed]) => only(folder, allowed)),
  ...PLACES.map((place) => only(place, Object.keys(BENEATH))),
  ...[...STEPS, 'shared'].map(step),
)
