/** What each screen is for, how to go about it, and its keys. */

export type Key = { keys: string[]; does: string }
export type ScreenHelp = {
  /** Addresses that it belongs to, as the router writes them. */
  paths: string[]
  title: string
  text: string[]
  keys: Key[]
}

const EVERYWHERE: Key[] = [
  { keys: ['/'], does: 'find an engine or a case' },
  { keys: ['?'], does: 'this help' },
  { keys: ['Tab'], does: 'the next thing that can be pressed; Enter presses it' },
]
const PLAN: Key[] = [{ keys: ['←', '→', '↑', '↓'], does: 'on the plan: from valve to valve' }]

export const SCREENS: ScreenHelp[] = [
  {
    paths: ['/'],
    title: 'Shop',
    text: [
      'What there is to do today. Each engine is a lane along time: its visits behind, its next check ahead as a fan that darkens with the risk. The worst valve is named, and what is building up by the readings alone.',
      'Type to find, filter and sort. Describe an engine, or bring in a record, to add one.',
    ],
    keys: [],
  },
  {
    paths: ['/new-engine', '/engines/:engineId/data'],
    title: 'An engine’s data',
    text: [
      'The head is drawn as you fill it in. Type the spec as the manual prints it, in mm or thou, and name the manual: a figure without a source is marked as hearsay everywhere.',
      'What is odd is asked about; nothing that you typed is lost.',
    ],
    keys: PLAN,
  },
  {
    paths: ['/engines/:engineId', '/engines/:engineId/valves/:valveId'],
    title: 'Engine',
    text: [
      'The head as it stands after the last visit, one valve’s history, when to look again and what a check costs. Pick a valve on the plan.',
      'Sink is how far a clearance closed all told, with what settings gave back counted in. From here a visit is started and a case opened.',
    ],
    keys: PLAN,
  },
  {
    paths: ['/engines/:engineId/drift', '/engines/:engineId/drift/:valveId'],
    title: 'Drift sheet',
    text: [
      'Every valve along its usage, on the same scales. Uprights are what went and what did not; ○ as found, ● as left; the fan is what is ahead, half and nine tenths of the chance; ◆ is where the odds of being out are even.',
      'A wide fan says that too little is known, and another visit narrows it. Open a valve to see what its figures rest on.',
    ],
    keys: [{ keys: ['Esc'], does: 'close a valve that is shown large' }],
  },
  {
    paths: ['/engines/:engineId/tables'],
    title: 'Tables',
    text: [
      'Out: four tables as CSV, or all in one package with a descriptor. In: readings from a spreadsheet saved as CSV, one line a reading.',
      'Columns, unit, delimiter and the order of days are found out; what cannot be told is asked. Every line with a fault is shown with what would be right, before anything is stored.',
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/sheet'],
    title: 'Blank sheet',
    text: ['A sheet of paper for the shed, position by position; typed in afterwards at Measure.'],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/listen'],
    title: 'Listen',
    text: [
      'What is complained of, when it happens and since when, in the owner’s words. Look at what is quicker and cheaper than a valve first.',
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/prepare'],
    title: 'Prepare',
    text: [
      'Usage and temperature make the figures worth keeping: without hours there is no rate. Write down what came off and where it goes back.',
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/look-in'],
    title: 'Look in',
    text: [
      'Before any measuring: threads, nuts, studs, rockers, lobes, oil. Waggle each rocker with its lobe away: a click is play, a dead one is tight.',
    ],
    keys: PLAN,
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/turn'],
    title: 'Turn',
    text: [
      'Where to turn the crank and which valves are free there, by the school you choose; an engine’s own table overrides all. Only ever turn the running way.',
    ],
    keys: [],
  },
  {
    paths: [
      '/engines/:engineId/visits/:visitId/measure',
      '/engines/:engineId/visits/:visitId/measure/:valveId',
    ],
    title: 'Measure',
    text: [
      'Offer the drawn-out blade and say what the hand felt. It says when the verdict is settled; the next valve is one key away. Every answer is stored as it is given.',
      'Note everything as found before anything is touched.',
    ],
    keys: [
      { keys: ['J', '1'], does: 'it won’t go' },
      { keys: ['K', '2'], does: 'it drags' },
      { keys: ['L', '3'], does: 'it falls free' },
      { keys: ['↑', '↓'], does: 'a thicker, a thinner blade' },
      { keys: ['+'], does: 'stack one more' },
      { keys: ['B'], does: 'type a blade' },
      { keys: ['Backspace'], does: 'take the last answer back' },
      { keys: ['Enter'], does: 'the next valve' },
      { keys: ['R'], does: 'read it again after the crank was turned' },
      { keys: ['F', 'G'], does: 'as found, as left' },
      ...PLAN,
    ],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/type-in'],
    title: 'Type in a sheet',
    text: ['A line a valve: what went and what did not. All of it is stored, or nothing.'],
    keys: [{ keys: ['Enter'], does: 'the next field' }],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/judge'],
    title: 'Judge',
    text: [
      'Every verdict beside its neighbours and last time. Tight is the dangerous side and is quiet; loose is the noisy one. Open says that another blade would settle it.',
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/set'],
    title: 'Set',
    text: [
      'Choose where to aim; the turn of each screw, or the shims, follow. Lock it, measure again, and do so until it holds.',
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/prove'],
    title: 'Prove',
    text: [
      'Close up item by item, start cold, and say of each complaint whether it is gone. If it is not, it was not, or not only, the valves.',
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/tests'],
    title: 'Tests with numbers',
    text: [
      'Compression dry, and with a little oil where it is low: if it rises, rings; if not, valves. Air lost at top on compression, and where it is heard.',
    ],
    keys: [{ keys: ['Enter'], does: 'keep a figure' }],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/instruments'],
    title: 'Instruments',
    text: [
      'Choose an instrument and what it is held to, and begin; the trace is drawn as it comes and may be stopped. What came is kept even where the instrument was lost.',
      'Nothing enters the record before you say so; then it carries the instrument’s name and time. A file recorded elsewhere is replayed.',
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/card'],
    title: 'Job card',
    text: ['What was found, done and left, parts, time and price: one page, printed or as PDF.'],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/cases/:caseId'],
    title: 'Case',
    text: [
      'Threads run from findings, through the valves they were measured on, to the causes that they speak for or against; thick for strong, broken for against. Choosing a cause leaves only its own.',
      'Tick what is there, what is not, or only try it out. Ten decibans make a cause ten times as likely. Close the case with what was really found: that teaches.',
    ],
    keys: PLAN,
  },
  {
    paths: ['/bench'],
    title: 'Bench',
    text: [
      'Blade sets and the shim box, the shop’s own figures, the whole shop as one file, next checks for a calendar, and the practice engine.',
    ],
    keys: [],
  },
  {
    paths: ['/bench/practice'],
    title: 'Practice engine: lessons',
    text: [
      'Ten lessons of rising grade, or free practice on an engine and a fault of your choice. Say who you are: progress is kept by name.',
    ],
    keys: [],
  },
  {
    paths: ['/bench/practice/:runId'],
    title: 'Practice engine',
    text: [
      'The clearances are hidden. Turn the crank the running way, measure where the lobe points away, set and lock, say what it is, and end the run: then the truth is told, and what was done out of order.',
      'On the wrong stroke the train is pressed together: no click, and no blade goes.',
    ],
    keys: [
      { keys: ['T', 'Y', 'U'], does: 'turn 10, 45, 180 degrees' },
      { keys: ['W'], does: 'waggle the rocker' },
      { keys: ['V'], does: 'look at it' },
      { keys: ['↑', '↓'], does: 'a thicker, a thinner blade' },
      { keys: ['+'], does: 'stack one more' },
      { keys: ['Enter'], does: 'offer the blade' },
      { keys: ['H'], does: 'what the advice would try' },
      { keys: ['S', 'L'], does: 'slacken and set, lock the nut' },
      { keys: ['N'], does: 'the next valve' },
      ...PLAN,
    ],
  },
  {
    paths: ['/handbook', '/handbook/:page'],
    title: 'Handbook',
    text: [
      'Every cause, finding and test as it is weighed, with the reason of each link; the method in words, the formulas with their sources, and how to use it.',
    ],
    keys: [],
  },
]

export const EVERY_SCREEN = EVERYWHERE
