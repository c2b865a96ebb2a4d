import { t } from '@lingui/core/macro'
import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react'
import type { ReactNode } from 'react'
import { SelectField } from '@/design/SelectField'
import type { EngineValues } from './draft'
import { FigureOf, InputOf, LinesOf, useEngineForm } from './fields'
import { TORQUE_EXAMPLE } from './torque'

const MATERIALS: { id: EngineValues['head_material']; label: string }[] = [
  { id: '', label: t`not known` },
  { id: 'aluminium', label: t`aluminium` },
  { id: 'cast-iron', label: t`cast iron` },
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
      <Group title={t`Hydraulic lifters: preload past zero lash`}>
        <FigureOf name="hydraulic.turns" label={t`Preload`} unit={t`turns`} />
        <FigureOf name="hydraulic.stroke" label={t`Plunger stroke`} unit="mm" />
      </Group>
      <Group title={t`Torque: cover, caps, locknuts, plugs`}>
        <div className="col-span-2">
          <LinesOf
            name="torque"
            label={t`From the manual`}
            what={t`one line per part: part | N m, or its stages | sequence; add in-lb for inch-pounds`}
            placeholder={TORQUE_EXAMPLE}
          />
        </div>
      </Group>
      <Crank />
      <Group title={t`Compression`}>
        <FigureOf name="compression.min" label={t`Minimum`} unit={compression.unit} />
        <FigureOf name="compression.max" label={t`Maximum`} unit={compression.unit} />
        <FigureOf
          name="compression.spreadPercent"
          label={t`Maximum difference between cylinders`}
          unit="%"
        />
      </Group>
      <Group title={t`Shim sizes available`}>
        <FigureOf name="shims.from" label={t`Thinnest`} unit="mm" />
        <FigureOf name="shims.to" label={t`Thickest`} unit="mm" />
        <FigureOf name="shims.step" label={t`Step`} unit="mm" />
        <FigureOf name="shims.diameter" label={t`Diameter`} unit="mm" />
      </Group>
    </>
  )
}

function Materials() {
  const { values, change } = useEngineForm()
  return (
    <Group title={t`Materials and lengths: effect of temperature on clearance`}>
      <SelectField
        label={t`Head`}
        value={values.head_material}
        choices={MATERIALS}
        onChange={(head_material) => change({ head_material })}
      />
      <SelectField
        label={t`Block`}
        value={values.block_material}
        choices={MATERIALS}
        onChange={(block_material) => change({ block_material })}
      />
      <FigureOf name="figures.valve_length_mm" label={t`Valve length`} unit="mm" />
      <FigureOf name="figures.pushrod_length_mm" label={t`Pushrod length`} unit="mm" />
    </Group>
  )
}

function Adjuster() {
  const { values, change } = useEngineForm()
  const { thread } = values
  return (
    <Group title={t`Rocker arm and adjuster: how far to turn the screw`}>
      <FigureOf
        name="figures.rocker_ratio"
        label={t`Rocker ratio`}
        hint={t`valve side divided by the other side`}
      />
      <FigureOf name="figures.adjuster_pitch_mm" label={t`Thread pitch`} unit={t`mm per turn`} />
      <SelectField
        label={t`The screw is at the`}
        value={values.adjuster_at}
        choices={[
          { id: '', label: t`not known` },
          { id: 'valve', label: t`valve end` },
          { id: 'pushrod', label: t`pushrod end` },
          { id: 'pivot', label: t`pivot` },
        ]}
        onChange={(adjuster_at) => change({ adjuster_at })}
      />
      <SelectField
        label={t`Thread`}
        value={thread.hand}
        choices={[
          { id: '', label: t`not known` },
          { id: 'right', label: t`right-hand` },
          { id: 'left', label: t`left-hand` },
        ]}
        onChange={(hand) => change({ thread: { ...thread, hand } })}
      />
      <SelectField
        label={t`Locked by`}
        value={thread.locks}
        choices={[
          { id: '', label: t`not known` },
          { id: 'outer', label: t`the outer nut; the screw adjusts` },
          { id: 'inner', label: t`the inner screw; the nut adjusts` },
        ]}
        onChange={(locks) => change({ thread: { ...thread, locks } })}
      />
    </Group>
  )
}

function Crank() {
  const { values, change } = useEngineForm()
  return (
    <Group title={t`Crank: stroke, compression release, the manual's own table`}>
      <FigureOf name="figures.stroke_mm" label={t`Stroke`} unit="mm" />
      <FigureOf
        name="figures.rod_length_mm"
        label={t`Connecting rod length`}
        unit="mm"
        hint={t`centre to centre`}
      />
      <FigureOf
        name="figures.decompression_lift_mm"
        label={t`Compression release`}
        unit={t`mm of lift`}
      />
      {values.figures.decompression_lift_mm.trim() !== '' && (
        <SelectField
          label={t`It lifts`}
          hint={
            values.decompression_side === ''
              ? t`Look with the cover off, or in the manual; until then the exhaust valve is assumed.`
              : undefined
          }
          value={values.decompression_side}
          choices={[
            { id: '', label: t`not known` },
            { id: 'exhaust', label: t`the exhaust valve` },
            { id: 'intake', label: t`the intake valve` },
          ]}
          onChange={(decompression_side) => change({ decompression_side })}
        />
      )}
      <FigureOf
        name="figures.bump_release_travel_mm"
        label={t`Releases at`}
        unit={t`mm of piston travel past TDC`}
      />
      <div className="col-span-2">
        <InputOf
          name="texts.lobe_position"
          label={t`Measuring position in the manual’s words`}
          maxLength={200}
        />
      </div>
      <div className="col-span-2">
        <LinesOf
          name="stations"
          label={t`The manual's own table`}
          what={t`one line per position: degrees | mark | valves`}
          placeholder={t`0 | mark T | 1I 1E 2I 3E`}
        />
      </div>
    </Group>
  )
}
