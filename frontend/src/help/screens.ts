import { t } from '@lingui/core/macro'

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
  { keys: ['/'], does: t`find an engine or a case` },
  { keys: ['?'], does: t`this help` },
  { keys: ['Tab'], does: t`next field or button; Enter presses a button` },
]
const PLAN: Key[] = [{ keys: ['←', '→', '↑', '↓'], does: t`on the plan: move from valve to valve` }]

export const SCREENS: ScreenHelp[] = [
  {
    paths: ['/'],
    title: t`Workshop`,
    text: [
      t`What there is to do today. Each engine has a line along time: its visits behind, its next check ahead as a fan that darkens with the risk. The worst valve is named, and any fault that develops by the readings alone.`,
      t`Above them stands the work that is not done: what is open, what waits for which part since when, and until when it was promised. How far a visit is, is said in its top line.`,
      t`Type to search, filter and sort. Add an engine, or import a record of one. Archived engines are listed under “archived” alone.`,
    ],
    keys: [],
  },
  {
    paths: ['/new-engine', '/engines/:engineId/data'],
    title: t`Engine data`,
    text: [
      t`The head is drawn as you fill in the form. Enter the spec as the manual gives it, in mm or thou, and name the manual: specs without a source are marked “source not given” everywhere.`,
      t`Unusual values are queried before they are saved; nothing that you typed is lost: a new engine that was not finished is offered again by this browser, and leaving unsaved changes is asked about.`,
    ],
    keys: PLAN,
  },
  {
    paths: ['/engines/:engineId', '/engines/:engineId/valves/:valveId'],
    title: t`Engine`,
    text: [
      t`The head after the last visit, the history and forecast of one valve, the next check and what it costs. Choose a valve on the plan.`,
      t`Valve sink is how far a clearance has closed in total, with adjustments added back. Start a visit or open a case from here.`,
      t`A visit that was begun on the wrong engine is moved or deleted in the list of visits. An engine that is not looked after any more is archived: it leaves the workshop page and the calendar, and comes back whenever you want. What is deleted stays in the bin for 30 days.`,
    ],
    keys: PLAN,
  },
  {
    paths: ['/engines/:engineId/drift', '/engines/:engineId/drift/:valveId'],
    title: t`Drift sheet`,
    text: [
      t`Every valve over usage, on the same scales. A bar reaches from the blade that went in to the one that would not; ○ as found, ● as left; the fan is the forecast with its 50 % and 90 % ranges; ◆ is where the chance of being out of spec reaches 50 %.`,
      t`A wide fan means that too little is known yet; another visit narrows it. Open a valve to see what its figures are based on.`,
    ],
    keys: [{ keys: ['Esc'], does: t`close the large view of a valve` }],
  },
  {
    paths: ['/engines/:engineId/valves/:valveId/life'],
    title: t`Life of a valve`,
    text: [
      t`All that was measured, set, fitted, changed and seen at one valve. Work on the head and changed parts divide it: what was measured before says nothing of the new parts.`,
      t`Changed parts are noted at Adjust, valve by valve.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/compare'],
    title: t`Compare`,
    text: [
      t`Two visits of one engine, before and after work on the head, or two sister engines side by side: on the plan, as figures, and over usage. A change is named only where it is more than the error of the two readings.`,
      t`Engines are compared valve by valve, by the names of the valves. Choose a valve on either plan to see both its histories.`,
    ],
    keys: PLAN,
  },
  {
    paths: ['/week'],
    title: t`The week`,
    text: [
      t`Which checks fall due, by day, by customer or by kind of engine, and how much running is left until then; what was promised; and whose meter was read too long ago. Print it, or have the calendar remind you (on the Bench).`,
      t`What is left is estimated from each engine’s own rate of use since its meter was last read. Ask the customer for the meter by telephone or mail, and enter what it shows: the dates follow.`,
    ],
    keys: [],
  },
  {
    paths: ['/customers'],
    title: t`Customers`,
    text: [
      t`Who brings engines: how to reach them, and which engines are theirs. Type to find one. Whose an engine is, is chosen on the engine’s page.`,
      t`Customers are part of the backup. They are not part of an engine’s record: whoever gets the record does not learn whose the engine is.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/cost-estimate'],
    title: t`Estimate`,
    text: [
      t`What the next check costs, and what it costs with adjustment, with how likely that is: two prices to name before the cover comes off. Print it, or write it as a mail.`,
      t`Labour rate, tax and the price of a shim stand on the Bench; the engine’s parts and their prices at Prepare. What has no price is listed and is in no sum. The account after the work stands on the job card.`,
    ],
    keys: [],
  },
  {
    paths: ['/bench/orders'],
    title: t`Parts on order`,
    text: [
      t`What the work of all visits waits for, by supplier. Print it or send it: as PDF, as CSV, or as the text of a mail. A shim that arrives goes into the shim box; work that has all its parts is ready to continue.`,
      t`Parts are put on order at Adjust (shims) or with the state of the work in the top line of a visit.`,
    ],
    keys: [],
  },
  {
    paths: ['/bench/bin'],
    title: t`Bin`,
    text: [
      t`Engines, visits, cases, notes and photos that were deleted. Each stays for 30 days and is restored whole, with everything that hung on it; meanwhile it counts nowhere. What belongs to a deleted engine waits until the engine is restored.`,
      t`Deleting for good is an owner’s, and cannot be undone. A record that is imported must not have the identifier of something in the bin. Backups leave the bin out; full copies of the database include it.`,
    ],
    keys: [],
  },
  {
    paths: ['/bench/forecasts'],
    title: t`How our forecasts did`,
    text: [
      t`Each clearance that was found at a second or later visit, against the forecast from the visits before it. Nine in ten should lie within the 90 % interval; the range beside it says what chance allows. Enter the technician and the kind of engine to see them apart.`,
      t`Where somebody’s readings differ clearly from the others’, it says so and what to do: the same blade in the same valve, two people.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/tables'],
    title: t`Export and import`,
    text: [
      t`Export: four tables as CSV, or all of them in one package with a descriptor. Import: readings from a spreadsheet saved as CSV, one line per reading.`,
      t`Columns, unit, separator and date order are recognised; what cannot be recognised is asked. Every line with an error is listed with what would be right, before anything is stored.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/sheet'],
    title: t`Check sheet (blank)`,
    text: [t`A paper check sheet to print, position by position. Enter it later from Measure.`],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/complaint'],
    title: t`Complaint`,
    text: [
      t`What the complaint is, when it happens, how it began, and the customer’s description. Do the quick checks first: they are cheaper than opening the valve cover.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/prepare'],
    title: t`Prepare`,
    text: [
      t`Enter usage and temperature: without usage no rate of wear can be calculated. List the parts removed and where they belong.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/inspect'],
    title: t`Inspect`,
    text: [
      t`Before measuring: threads, nuts, studs, rocker arms, lobes, oil. Rock each rocker arm by hand with the valve closed: a click is play, no movement means no clearance.`,
    ],
    keys: PLAN,
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/position'],
    title: t`Position`,
    text: [
      t`Where to turn the crank and which valves to measure there, by the method you choose; the engine’s own table takes precedence. Turn only in the direction of rotation.`,
    ],
    keys: [],
  },
  {
    paths: [
      '/engines/:engineId/visits/:visitId/measure',
      '/engines/:engineId/visits/:visitId/measure/:valveId',
    ],
    title: t`Measure`,
    text: [
      t`Try the recommended blade and enter how it feels. As soon as the verdict is decided the page says so; the next valve is one key away. Every answer is stored at once.`,
      t`Measure all valves as found before you adjust anything.`,
      t`Two rising tones: decided, in spec. Two falling: decided, out of spec. Two low ones: the answer was not taken. The Bench turns them off, and puts the answers on the keys of a foot switch or remote.`,
      t`“Listen to me” takes spoken answers: “feeler gauge, it drags”, “… will not go”, “… falls free”, “… next valve”, “… take that off”, “… say again”, “… skip this valve”, “… blade point one five”, “… stop listening”.`,
    ],
    keys: [
      { keys: ['J', '1'], does: t`won’t go` },
      { keys: ['K', '2'], does: t`drags` },
      { keys: ['L', '3'], does: t`slides freely` },
      { keys: ['↑', '↓'], does: t`thicker or thinner blade` },
      { keys: ['+'], does: t`stack one more blade` },
      { keys: ['B'], does: t`type a blade, or a reading: 0.13-0.15` },
      { keys: ['Backspace'], does: t`undo the last answer` },
      { keys: ['Enter'], does: t`next valve` },
      { keys: ['R'], does: t`re-measure after turning the crank` },
      { keys: ['F', 'G'], does: t`as found, as left` },
      { keys: ['V'], does: t`listen to me, or stop` },
    ],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/check-sheet'],
    title: t`Enter a check sheet`,
    text: [
      t`One line per valve: the thickest blade that went in and the thinnest that would not. All lines are stored, or none.`,
    ],
    keys: [{ keys: ['Enter'], does: t`next field` }],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/assess'],
    title: t`Assess`,
    text: [
      t`Every verdict beside its neighbours and the last visit. Tight is the dangerous side and makes no noise; loose is noisy. Inconclusive means that another blade is needed to decide.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/adjust'],
    title: t`Adjust`,
    text: [
      t`Choose the target; the turn of each screw, or the shims, follow from it. Tighten the locknut, re-measure, and repeat until it holds.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/verify'],
    title: t`Verify`,
    text: [
      t`Close up item by item, start the engine cold, and enter for each complaint whether it is gone. If it is not, the valves were not the cause, or not the only one.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/tests'],
    title: t`Measurements and tests`,
    text: [
      t`Compression dry, and wet (with a little oil) where it is low: if it rises, the rings; if not, the valves. Leak-down at TDC on compression, and where the air is heard.`,
    ],
    keys: [{ keys: ['Enter'], does: t`save a value` }],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/instruments'],
    title: t`Instruments`,
    text: [
      t`Choose an instrument and what it measures, and start; the trace is drawn live and can be stopped. What was received is kept even if the signal is lost.`,
      t`Nothing is imported into the record until you say so; it then carries the name of the instrument and the time. A recorded file can be replayed.`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/sound'],
    title: t`Sound`,
    text: [
      t`A recording tells what comes once in two turns of the crank (valve train) from what comes once a turn (bottom end) and from what keeps no time with it; with an ignition clip on cylinder 1 also at which valve it ticks. Often it cannot tell, and says so.`,
      t`Developed on simulated sound; a real engine may differ. A recording is no reason to skip the blade.`,
      t`The last recording before adjusting that says anything counts as evidence in the cases of the visit, as one witness. One that is made after adjusting is compared with it: is the tick gone?`,
    ],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/sound/:recordingId'],
    title: t`Recording`,
    text: [
      t`At the top the sound over time with the crank speed that was followed: press and hold to hear it from there, slowed to a quarter if wanted. Under it one cycle of 720 degrees: where each valve opens and closes, and how far the sound stands out in each band.`,
      t`A knock hidden under combustion looks like a tick or is not heard; two like ticks one turn apart are the twin of a knock; most faint ticks are not heard, so silence is no proof.`,
      t`If the speed or the clip was entered wrongly, correct it at the right and listen again.`,
    ],
    keys: [
      { keys: ['←', '→'], does: t`another moment of the recording` },
      { keys: ['Space'], does: t`hold to hear it from there` },
    ],
  },
  {
    paths: ['/engines/:engineId/visits/:visitId/card'],
    title: t`Job card`,
    text: [t`Findings, work done, parts, time and price on one page, to print or as PDF.`],
    keys: [],
  },
  {
    paths: ['/engines/:engineId/cases/:caseId'],
    title: t`Case`,
    text: [
      t`Threads run from each finding, through the valve it was measured on, to the causes it is evidence for or against; thick for strong, broken for against. Choose a cause to see only its threads.`,
      t`Mark what is present and what is not, or try a finding without saving it. ×10 makes a cause ten times likelier. Close the case with its outcome: the product learns from it.`,
    ],
    keys: PLAN,
  },
  {
    paths: ['/bench'],
    title: t`Bench`,
    text: [
      t`Feeler gauge sets, the shim box, labour rate and times, backup and transfer, the calendar of next checks, and the practice engine.`,
      t`People: who works here. With a list, every entry says who made it; on a shared tablet one tap on the initials in the top line hands it on. Phones and tablets: started with “pronostico serve --lan”, the application is reached from the workshop’s network, everybody signs in, and a QR code pairs a phone.`,
    ],
    keys: [],
  },
  {
    paths: ['/pair'],
    title: t`Pair this device`,
    text: [
      t`A pairing link signs one device in, once, within ten minutes. A link that was used or is too old says so: make a new one on the Bench page of a device that is signed in.`,
    ],
    keys: [],
  },
  {
    paths: ['/bench/changes', '/engines/:engineId/changes'],
    title: t`Who changed what`,
    text: [
      t`Every change with who made it, when and on which device, the last first. It is noted together with the change and cannot be altered afterwards. Export it as CSV.`,
    ],
    keys: [],
  },
  {
    paths: ['/bench/practice'],
    title: t`Practice engine: lessons`,
    text: [
      t`Ten lessons of rising difficulty, or free practice on an engine and a fault of your choice. Enter your name: progress is kept by name.`,
    ],
    keys: [],
  },
  {
    paths: ['/bench/practice/:runId'],
    title: t`Practice engine`,
    text: [
      t`The clearances are hidden. Turn the crank in the direction of rotation, measure each valve where its lobe points away, adjust and tighten, give a diagnosis, and finish: then you see the true values and what was done out of order.`,
      t`Where a valve is open there is no play and no blade goes in.`,
    ],
    keys: [
      { keys: ['T', 'Y', 'U'], does: t`turn 10, 45, 180 degrees` },
      { keys: ['W'], does: t`rock the rocker arm` },
      { keys: ['V'], does: t`look at it` },
      { keys: ['↑', '↓'], does: t`thicker or thinner blade` },
      { keys: ['+'], does: t`stack one more blade` },
      { keys: ['Enter'], does: t`try the blade` },
      { keys: ['H'], does: t`which blade is recommended` },
      { keys: ['S', 'L'], does: t`slacken and adjust, tighten the locknut` },
      { keys: ['N'], does: t`next valve` },
    ],
  },
  {
    paths: ['/handbook', '/handbook/:page'],
    title: t`Handbook`,
    text: [
      t`Every cause, finding and test with the reason of each link; the method in words, the formulas with their sources, and the user guide.`,
    ],
    keys: [],
  },
]

export const EVERY_SCREEN = EVERYWHERE
