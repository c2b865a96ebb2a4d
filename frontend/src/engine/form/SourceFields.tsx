import { t } from '@lingui/core/macro'
import { InputOf, useEngineForm } from './fields'

/** Where the figures come from. */
export function SourceFields() {
  const { source } = useEngineForm().values
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3 p-4">
      <InputOf name="source.title" label={t`Manual or plate`} />
      <InputOf name="source.page" label={t`Page`} />
      {source.title.trim() === '' && (
        <p className="col-span-2 font-semibold text-loose">
          {t`No source given: every figure is marked “source not given” wherever it is shown.`}
        </p>
      )}
    </div>
  )
}
