import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react'
import type { ReactNode } from 'react'
import { Field } from '@/design/Field'
import type { EngineDraft } from './draft'
import { SelectField } from '@/design/SelectField'
import { FigureOf, LinesField, TextOf, useForm } from './fields'
import { TORQUE_EXAMPLE } from './torque'

const MATERIALS: { id: EngineDraft['head_material']; label: string }[] = [
  { id: '', label: 'not known' },
  { id: 'aluminium', label: 'aluminium' },
  { id: 'cast-iron', label: 'cast iron' },
]

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Disclosure as="section" className="border-b border-rule last:border-0">
      <DisclosureButton className="flex min-h-11 w-full items-center gap-2 px-4 text-left font-semibold">
        {({ open }) => (
          <>
            <span aria-hidden="true" className="w-4 text-accent">
              {open ? '–' : '+'}
            </span>
            {title}
          </>
        )}
      </DisclosureButton>
      {/* Kept in the page: a fault in a part that is folded away must not be lost. */}
      <DisclosurePanel unmount={false} className="grid grid-cols-2 gap-x-5 gap-y-3 px-4 pb-4">
        {children}
      </DisclosurePanel>
    </Disclosure>
  )
}

/** What makes the figures surer, where it is known. */
export function MoreSection() {
  const { draft, change, faultAt } = useForm()
  const { compression, shims } = draft
  return (
    <>
      <Group title="Materials and lengths: effect of temperature on clearance">
        <SelectField
          label="Head"
          value={draft.head_material}
          choices={MATERIALS}
          onChange={(head_material) => change({ head_material })}
        />
        <SelectField
          label="Block"
          value={draft.block_material}
          choices={MATERIALS}
          onChange={(block_material) => change({ block_material })}
        />
        <FigureOf name="valve_length_mm" label="Valve length" unit="mm" />
        <FigureOf name="pushrod_length_mm" label="Pushrod length" unit="mm" />
      </Group>
      <Group title="Rocker arm and adjuster: how far to turn the screw">
        <FigureOf
          name="rocker_ratio"
          label="Rocker ratio"
          hint="valve side divided by the other side"
        />
        <FigureOf name="adjuster_pitch_mm" label="Thread pitch" unit="mm per turn" />
        <SelectField
          label="The screw is at the"
          value={draft.adjuster_at}
          choices={[
            { id: '', label: 'not known' },
            { id: 'valve', label: 'valve end' },
            { id: 'pushrod', label: 'pushrod end' },
            { id: 'pivot', label: 'pivot' },
          ]}
          onChange={(adjuster_at) => change({ adjuster_at })}
        />
        <SelectField
          label="Thread"
          value={draft.thread.hand}
          choices={[
            { id: '', label: 'not known' },
            { id: 'right', label: 'right-hand' },
            { id: 'left', label: 'left-hand' },
          ]}
          onChange={(hand) => change({ thread: { ...draft.thread, hand } })}
        />
        <SelectField
          label="Locked by"
          value={draft.thread.locks}
          choices={[
            { id: '', label: 'not known' },
            { id: 'outer', label: 'the outer nut; the screw adjusts' },
            { id: 'inner', label: 'the inner screw; the nut adjusts' },
          ]}
          onChange={(locks) => change({ thread: { ...draft.thread, locks } })}
        />
      </Group>
      <Group title="Hydraulic lifters: preload past zero lash">
        <Field
          label="Preload"
          unit="turns"
          inputMode="decimal"
          value={draft.hydraulic.turns}
          onChange={(event) =>
            change({ hydraulic: { ...draft.hydraulic, turns: event.target.value } })
          }
          fault={faultAt('$.engine.hydraulic.preload_turns')}
        />
        <Field
          label="Plunger stroke"
          unit="mm"
          inputMode="decimal"
          value={draft.hydraulic.stroke}
          onChange={(event) =>
            change({ hydraulic: { ...draft.hydraulic, stroke: event.target.value } })
          }
          fault={faultAt('$.engine.hydraulic.plunger_stroke_mm')}
        />
      </Group>
      <Group title="Torque: cover, caps, locknuts, plugs">
        <div className="col-span-2">
          <LinesField
            label="From the manual"
            what="one line per part: part | N m, or its stages | sequence; add in-lb for inch-poundss"
            value={draft.torque}
            placeholder={TORQUE_EXAMPLE}
            fault={faultAt('$.engine.torque')}
            onChange={(torque) => change({ torque })}
          />
        </div>
      </Group>
      <Group title="Crank: stroke, compression release, the manual's own table">
        <FigureOf name="stroke_mm" label="Stroke" unit="mm" />
        <FigureOf
          name="rod_length_mm"
          label="Connecting rod length"
          unit="mm"
          hint="centre to centre"
        />
        <FigureOf name="decompression_lift_mm" label="Compression release" unit="mm of lift" />
        {draft.figures.decompression_lift_mm.trim() !== '' && (
          <SelectField
            label="It lifts"
            hint={
              draft.decompression_side === ''
                ? 'Look with the cover off, or in the manual; until then the exhaust valve is assumed.'
                : undefined
            }
            value={draft.decompression_side}
            choices={[
              { id: '', label: 'not known' },
              { id: 'exhaust', label: 'the exhaust valve' },
              { id: 'intake', label: 'the intake valve' },
            ]}
            onChange={(decompression_side) => change({ decompression_side })}
          />
        )}
        <FigureOf
          name="bump_release_travel_mm"
          label="Releases at"
          unit="mm of piston travel past TDC"
        />
        <div className="col-span-2">
          <TextOf name="lobe_position" label="Measuring position in the manual’s words" />
        </div>
        <div className="col-span-2">
          <LinesField
            label="The manual's own table"
            what="one line per position: degrees | mark | valves"
            value={draft.stations}
            placeholder="0 | mark T | 1I 1E 2I 3E"
            onChange={(stations) => change({ stations })}
          />
        </div>
      </Group>
      <Group title="Compression">
        <Field
          label="Minimum"
          unit={draft.compression.unit}
          inputMode="decimal"
          value={compression.min}
          onChange={(event) => change({ compression: { ...compression, min: event.target.value } })}
          fault={faultAt('$.engine.compression_spec_kpa.min')}
        />
        <Field
          label="Maximum"
          unit={draft.compression.unit}
          inputMode="decimal"
          value={compression.max}
          onChange={(event) => change({ compression: { ...compression, max: event.target.value } })}
          fault={faultAt('$.engine.compression_spec_kpa.max')}
        />
        <Field
          label="Maximum difference between cylinders"
          unit="%"
          inputMode="decimal"
          value={compression.spreadPercent}
          onChange={(event) =>
            change({ compression: { ...compression, spreadPercent: event.target.value } })
          }
          fault={faultAt('$.engine.compression_spec_kpa.max_spread_fraction')}
        />
      </Group>
      <Group title="Shim sizes available">
        {(['from', 'to', 'step', 'diameter'] as const).map((key) => (
          <Field
            key={key}
            label={{ from: 'Thinnest', to: 'Thickest', step: 'Step', diameter: 'Diameter' }[key]}
            unit="mm"
            inputMode="decimal"
            value={shims[key]}
            onChange={(event) => change({ shims: { ...shims, [key]: event.target.value } })}
            fault={faultAt(`$.engine.shim_series.${key}_mm`)}
          />
        ))}
      </Group>
    </>
  )
}
