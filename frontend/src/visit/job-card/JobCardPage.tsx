import { t } from '@lingui/core/macro'
import { Plural, Trans } from '@lingui/react/macro'
import { VERDICT_WORDS } from '@/design/shapes'
import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { cardPdfAddress, stepAddress, visitPhotographAddress } from '@/api/addresses'
import type { JobCard } from '@/api/client'
import { useGaugeUnits } from '@/shared/gaugeUnits'
import { Button, buttonClass } from '@/design/Button'
import { day, lengthRange, torqueText, usage, type LengthUnit, fixed } from '@/design/format'
import { ErrorNotice, Loading } from '@/design/Notice'
import { usePreferences } from '@/design/preferences'
import { shownFigure, shownUnit } from '@/design/pressure'
import { SimulatedNotice } from '@/design/SimulatedNotice'
import { MoneyTable } from '@/shared/MoneyTable'
import { useTitle } from '@/design/useTitle'
import { gapFigure, gapOf, type EstimateLike } from '@/head-plan/gap'
import { HeadPlan } from '@/head-plan/HeadPlan'
import { photographsQuery } from '@/shared/photographQueries'
import { jobCardQuery } from '@/shared/verifyQueries'
import { named } from '@/design/names'

/** What was found, what was done, what it cost and what comes next, on one page to print. */
export function JobCardPage() {
  const { engineId = '', visitId = '' } = useParams()
  const { data, error } = useQuery(jobCardQuery(engineId, visitId))
  if (!data) return error ? <ErrorNotice error={error} /> : <Loading what={t`the job card`} />
  return <Card card={data} />
}

function read(estimate: EstimateLike | null, unit: LengthUnit): string {
  if (!estimate) return ''
  const word = estimate.contradiction
    ? t`contradictory answers`
    : estimate.verdict === 'open'
      ? t`inconclusive, probably ${VERDICT_WORDS[estimate.leaning]}`
      : estimate.verdict
  return `${gapFigure(gapOf(estimate), unit)}, ${word}`
}

function Card({ card }: { card: JobCard }) {
  const { unit } = usePreferences()
  useTitle(t`Job card, visit ${card.visit}: ${card.name}`)
  const { verification } = card
  const units = useGaugeUnits()
  return (
    <div className="mx-auto max-w-[820px] bg-sheet p-6 print:max-w-none print:p-0 print:[zoom:0.8]">
      <div className="flex items-start justify-between gap-4">
        <h1>
          <Trans>Job card: {card.name}</Trans>
        </h1>
        <div className="no-print flex gap-2">
          <Link className={buttonClass()} to={stepAddress(card.engine, card.visit, 'verify')}>
            {t`Back to Verify`}
          </Link>
          <a className={buttonClass()} href={cardPdfAddress(card.engine, card.visit, unit)}>
            {t`PDF`}
          </a>
          <Button look="main" onClick={() => window.print()}>
            {t`Print`}
          </Button>
        </div>
      </div>
      {card.identity && <p>{card.identity}</p>}
      {card.customer && (
        <p>
          <Trans>Customer: {card.customer}</Trans>
        </p>
      )}
      <p className="mt-1 flex flex-wrap justify-between gap-x-6">
        <span>
          <Trans>
            visit {card.visit}, {day(card.date)}
          </Trans>
          {card.ended && card.ended !== card.date && t`, done ${day(card.ended)}`}
        </span>
        <span>
          {card.meter === card.usage
            ? usage(card.usage, card.usage_unit)
            : t`meter ${usage(card.meter, card.usage_unit)}, running total ${usage(card.usage, card.usage_unit)}`}
        </span>
        <span>
          {card.temperature_c === null
            ? t`temperature not entered`
            : t`engine temperature ${card.temperature_c} °C`}
        </span>
        <span>{card.work_done}</span>
        <span>
          <Trans>by {card.technician ?? '…'}</Trans>
        </span>
      </p>
      <p className="text-sm text-ink-soft">
        <Trans>
          Specs from {card.source ?? t`source not given`}. Lengths in {unit}.
        </Trans>
      </p>
      <SimulatedNotice parts={card.simulated} />
      <Plans card={card} unit={unit} />
      <ValveTable card={card} unit={unit} />
      {card.unread.length > 0 && (
        <p className="mt-1">
          <strong>{t`Not measured:`}</strong> {card.unread.join(' ')}.
        </p>
      )}
      <div className="mt-3 grid grid-cols-2 gap-x-8">
        <div>
          <Part title={t`Complaint`}>
            {card.customers_words.map((words) => (
              <p key={words}>“{words}”</p>
            ))}
            {verification.complaints.map((one) => (
              <p key={one.finding}>
                <strong>{one.label}</strong>:{' '}
                {one.verified ? named(one.verified.outcome) : t`not checked yet`}
                {one.verified?.note && `, ${one.verified.note}`}
              </p>
            ))}
            {verification.complaints.length === 0 && (
              <p className="text-ink-soft">{t`None entered.`}</p>
            )}
            {card.quick_checks.map((one) => (
              <p key={one}>
                <Trans>checked first, {one}</Trans>
              </p>
            ))}
            {card.sound.map((one) => (
              <p key={one}>
                <Trans>sound: {one}</Trans>
              </p>
            ))}
            {verification.figures
              .filter((one) => one.before !== null || one.after !== null)
              .map((one) => {
                const shown = shownUnit(one.id, one.unit, units)
                const figure = (value: number | null) =>
                  value === null ? '–' : shownFigure(value, shown)
                return (
                  <p key={`${one.id} ${one.cylinder ?? ''}`}>
                    <Trans>
                      {one.label}: {figure(one.before)} before, {figure(one.after)} after ({shown})
                    </Trans>
                  </p>
                )
              })}
          </Part>
          <PartsOfIt card={card} />
        </div>
        <div>
          <Part title={t`Torque`}>
            {card.torque.map((one) => (
              <p key={one.part}>
                {one.part}: {torqueText(one)}
              </p>
            ))}
            {card.torque.length === 0 && (
              <p className="text-ink-soft">
                {t`See the manual: no torque is entered for this engine.`}
                {verification.soft_metal && t` Aluminium strips easily.`}
              </p>
            )}
          </Part>
          <Ticked card={card} />
        </div>
      </div>
      <Part title={t`Time and price`}>
        <p>
          <Trans>{Math.round(card.price.minutes)} minutes</Trans>
          {!card.price.noted && t`, estimated from the workshop’s times`}
        </p>
        {card.price.cost !== null && <MoneyTable money={card.account} />}
      </Part>
      <Next card={card} />
      <CardPhotographs card={card} />
      <p className="mt-2 text-sm text-ink-soft">
        {t`The maker's manual and local rules come first; this card advises, and a qualified person decides.`}
      </p>
    </div>
  )
}

/** Shims and other parts: new, moved, taken off and changed. */
function PartsOfIt({ card }: { card: JobCard }) {
  return (
    <Part title={t`Parts`}>
      {card.shims.map((one) => (
        <p key={`${one.shim_mm} ${one.bought}`}>
          <Trans>
            <Plural value={one.count} one="# new shim" other="# new shims" />{' '}
            {fixed(one.shim_mm, 3)} mm, {one.bought ? t`bought` : t`from the box`}
          </Trans>
        </p>
      ))}
      {card.moved_shims.map((one) => (
        <p key={one.valve}>
          <Trans>
            shim {fixed(one.shim_mm, 3)} mm moved from {one.moved_from} to {one.valve}
          </Trans>
        </p>
      ))}
      {card.parts.map((part, index) => (
        <p key={index}>
          {part.what}
          {part.came_from && `, ${part.came_from}`}: {part.back ? t`back` : t`not refitted yet`}
        </p>
      ))}
      {card.parts_changed.map((one) => (
        <p key={one}>
          <Trans>changed at {one}</Trans>
        </p>
      ))}
      {card.shims.length +
        card.moved_shims.length +
        card.parts.length +
        card.parts_changed.length ===
        0 && <p className="text-ink-soft">{t`None.`}</p>}
    </Part>
  )
}

/** The head as it was found, and beside it as it was left where anything was read again. */
function Plans({ card, unit }: { card: JobCard; unit: LengthUnit }) {
  const phases = (['found', 'left'] as const).filter(
    (phase) => phase === 'found' || card.valves.some((one) => one.left),
  )
  return (
    <div className={`my-2 grid gap-4 ${phases.length > 1 ? 'grid-cols-2' : ''}`}>
      {phases.map((phase) => (
        <figure key={phase}>
          <figcaption className="text-sm text-ink-soft">
            <Trans>as {named(phase)}</Trans>
          </figcaption>
          <HeadPlan
            valves={card.valves.map(({ valve, ...one }) => ({ id: valve, ...one }))}
            layout={card.layout}
            specs={Object.fromEntries(card.valves.map((one) => [one.valve, one.spec]))}
            gaps={Object.fromEntries(
              card.valves.map((one) => {
                const read = one[phase]
                return [one.valve, read ? gapOf(read) : undefined]
              }),
            )}
            unit={unit}
            label={t`Plan of the head of ${card.name}, as ${named(phase)}`}
            className="max-h-[300px]"
          />
        </figure>
      ))}
    </div>
  )
}

/** The photographs that were chosen for it. */
function CardPhotographs({ card }: { card: JobCard }) {
  const { data = [] } = useQuery(photographsQuery(card.engine, card.visit))
  const chosen = data.filter((one) => one.on_card)
  if (chosen.length === 0) return null
  return (
    <Part title={t`Photos`}>
      <div className="grid grid-cols-2 gap-3 pt-2">
        {chosen.map((one) => (
          <figure key={one.id} className="break-inside-avoid">
            <img
              src={visitPhotographAddress(card.engine, card.visit, one.id)}
              alt={one.text || one.valve || t`photo`}
              className="max-h-80 w-full object-contain object-left"
            />
            <figcaption>{[one.valve, one.text].filter(Boolean).join(' · ')}</figcaption>
          </figure>
        ))}
      </div>
    </Part>
  )
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-2 break-inside-avoid">
      <h2 className="border-b border-ink">{title}</h2>
      {children}
    </section>
  )
}

function ValveTable({ card, unit }: { card: JobCard; unit: LengthUnit }) {
  return (
    <div className="overflow-x-auto">
      <table className="w-full border-collapse text-sm">
        <thead>
          <tr className="border-b border-ink text-left text-ink-soft">
            {[t`valve`, t`spec`, t`found`, t`done`, t`left`].map((title) => (
              <th key={title} className="px-2 py-0.5 font-normal">
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {card.valves.map((one) => (
            <tr key={one.valve} className="border-b border-rule align-top">
              <th scope="row" className="px-2 py-0.5 text-left">
                {one.valve}
              </th>
              <td className="px-2 py-0.5 whitespace-nowrap">
                {one.spec ? lengthRange(one.spec.min_mm, one.spec.max_mm, unit) : '–'}
              </td>
              <td className="px-2 py-0.5">
                {one.found
                  ? read(one.found, unit)
                  : card.adjustment === 'hydraulic'
                    ? t`hydraulic`
                    : t`not measured${one.skipped ? `: ${one.skipped}` : ''}`}
              </td>
              <td className="px-2 py-0.5">
                {one.settings.map((done) => done.text[unit]).join(t`; then `) ||
                  (card.adjustment === 'hydraulic'
                    ? t`not adjusted`
                    : one.found?.verdict === 'in'
                      ? t`left as is`
                      : t`not adjusted`)}
                {one.reason && <span className="text-ink-soft"> ({one.reason})</span>}
              </td>
              <td className="px-2 py-0.5">
                {card.verification.unmeasured.includes(one.valve) ? (
                  <strong>{t`not re-measured`}</strong>
                ) : (
                  read(one.left, unit)
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

// More would push the rest off the page.
const MOST_OPEN = 4

function Ticked({ card }: { card: JobCard }) {
  const { ticks } = card.verification
  const open = ticks.filter((one) => !one.done)
  // Where nobody noted anything there is nothing to say.
  if (open.length === ticks.length) return null
  return (
    <Part title={t`Closed up and verified`}>
      {open.length === 0 ? (
        <p>{t`Everything is done.`}</p>
      ) : (
        <ul className="list-disc pl-5 text-sm">
          {open.slice(0, MOST_OPEN).map((one) => (
            <li key={one.id}>
              <Trans>not marked as done: {one.text}</Trans>
            </li>
          ))}
          {open.length > MOST_OPEN && <li>{t`and other items not marked as done`}</li>}
        </ul>
      )}
    </Part>
  )
}

function Next({ card }: { card: JobCard }) {
  const { recheck, unmeasured, complaints } = card.verification
  return (
    <Part title={t`Next steps`}>
      <p>
        <strong>
          <Trans>
            Next check {recheck.now ? t`now` : t`at ${usage(recheck.usage, card.usage_unit)}`}
          </Trans>
        </strong>
        {!recheck.now && recheck.day && t`, about ${day(recheck.day)} at the rate of use so far`}
        {recheck.reason && `: ${recheck.reason}`}.
      </p>
      {unmeasured.length > 0 && (
        <p>
          <Trans>
            Set and not re-measured: {unmeasured.join(' ')}. Tightening the locknut changes the
            clearance: measure before the engine runs.
          </Trans>
        </p>
      )}
      {complaints
        .filter((one) => one.verified && one.verified.outcome !== 'gone')
        .map((one) => (
          <p key={one.finding}>
            <Trans>
              {one.label} is not gone: {one.next_step}
            </Trans>
          </p>
        ))}
      {card.notes && <p>{card.notes}</p>}
    </Part>
  )
}
