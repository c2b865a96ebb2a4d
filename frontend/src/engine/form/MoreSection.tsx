import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react'
import type { ReactNode } from 'react'
import { SelectField } from '@/design/SelectField'
import type { EngineValues } from './draft'
import { FigureOf, InputOf, LinesOf, useEngineForm } from './fields'
import { TORQUE_EXAMPLE } from './torque'

const MATERIALS: { id: EngineValues['head_material']; label: string }[] = [
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
  const { compression } = useEngineForm().values
  return (
    <>
      <Materials />
      <Adjuster />
      <Group title="Hydraulic lifters: preload past zero lash">
        <FigureOf name="hydraulic.turns" label="Preload" unit="turns" />
        <FigureOf name="hydraulic.stroke" label="Plunger stroke" unit="mm" />
      </Group>
      <Group title="Torque: cover, caps, locknuts, plugs">
        <div className="col-span-2">
          <LinesOf
            name="torque"
            label="From the manual"
            what="one line per part: part | N m, or its stages | sequence; add in-lb for inch-pounds"
            placeholder={TORQUE_EXAMPLE}
          />
        </div>
      </Group>
      <Crank />
      <Group title="Compression">
        <FigureOf name="compression.min" label="Minimum" unit={compression.unit} />
        <FigureOf name="compression.max" label="Maximum" unit={compression.unit} />
        <FigureOf
          name="compression.spreadPercent"
          label="Maximum difference between cylinders"
          unit="%"
        />
      </Group>
      <Group title="Shim sizes available">
        <FigureOf name="shims.from" label="Thinnest" unit="mm" />
        <FigureOf name="shims.to" label="Thickest" unit="mm" />
        <FigureOf name="shims.step" label="Step" unit="mm" />
        <FigureOf name="shims.diameter" label="Diameter" unit="mm" />
      </Group>
    </>
  )
}

function Materials() {
  const { values, change } = useEngineForm()
  return (
    <Group title="Materials and lengths: effect of temperature on clearance">
      <SelectField
        label="Head"
        value={values.head_material}
        choices={MATERIALS}
        onChange={(head_material) => change({ head_material })}
      />
      <SelectField
        label="Block"
        value={values.block_material}
        choices={MATERIALS}
        onChange={(block_material) => change({ block_material })}
      />
      <FigureOf name="figures.valve_length_mm" label="Valve length" unit="mm" />
      <FigureOf name="figures.pushrod_length_mm" label="Pushrod length" unit="mm" />
    </Group>
  )
}

function Adjuster() {
  const { values, change } = useEngineForm()
  const { thread } = values
  return (
    <Group title="Rocker arm and adjuster: how far to turn the screw">
      <FigureOf
        name="figures.rocker_ratio"
        label="Rocker ratio"
        hint="valve side divided by the other side"
      />
      <FigureOf name="figures.adjuster_pitch_mm" label="Thread pitch" unit="mm per turn" />
      <SelectField
        label="The screw is at the"
        value={values.adjuster_at}
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
        value={thread.hand}
        choices={[
          { id: '', label: 'not known' },
          { id: 'right', label: 'right-hand' },
          { id: 'left', label: 'left-hand' },
        ]}
        onChange={(hand) => change({ thread: { ...thread, hand } })}
      />
      <SelectField
        label="Locked by"
        value={thread.locks}
        choices={[
          { id: '', label: 'not known' },
          { id: 'outer', label: 'the outer nut; the screw adjusts' },
          { id: 'inner', label: 'the inner screw; the nut adjusts' },
        ]}
        onChange={(locks) => change({ thread: { ...thread, locks } })}
      />
    </Group>
  )
}

function Crank() {
  const { values, change } = useEngineForm()
  return (
    <Group title="Crank: stroke, compression release, the manual's own table">
      <FigureOf name="figures.stroke_mm" label="Stroke" unit="mm" />
      <FigureOf
        name="figures.rod_length_mm"
        label="Connecting rod length"
        unit="mm"
        hint="centre to centre"
      />
      <FigureOf
        name="figures.decompression_lift_mm"
        label="Compression release"
        unit="mm of lift"
      />
      {values.figures.decompression_lift_mm.trim() !== '' && (
        <SelectField
          label="It lifts"
          hint={
            values.decompression_side === ''
              ? 'Look with the cover off, or in the manual; until then the exhaust valve is assumed.'
              : undefined
          }
          value={values.decompression_side}
          choices={[
            { id: '', label: 'not known' },
            { id: 'exhaust', label: 'the exhaust valve' },
            { id: 'intake', label: 'the intake valve' },
          ]}
          onChange={(decompression_side) => change({ decompression_side })}
        />
      )}
      <FigureOf
        name="figures.bump_release_travel_mm"
        label="Releases at"
        unit="mm of piston travel past TDC"
      />
      <div className="col-span-2">
        <InputOf
          name="texts.lobe_position"
          label="Measuring position in the manual’s words"
          maxLength={200}
        />
      </div>
      <div className="col-span-2">
        <LinesOf
          name="stations"
          label="The manual's own table"
          what="one line per position: degrees | mark | valves"
          placeholder="0 | mark T | 1I 1E 2I 3E"
        />
      </div>
    </Group>
  )
}
