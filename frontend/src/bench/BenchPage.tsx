import { t } from '@lingui/core/macro'
import { Trans } from '@lingui/react/macro'
import { Link } from 'react-router'
import {
  BIN_ADDRESS,
  forecastsAddress,
  HANDBOOK_ADDRESS,
  ORDERS_ADDRESS,
  practiceAddress,
} from '@/api/addresses'
import { buttonClass } from '@/design/Button'
import { useTitle } from '@/design/useTitle'
import { BladeSets } from './BladeSets'
import { CalendarFeed } from './CalendarFeed'
import { useIsOwner } from '@/people/session'
import { Devices } from './Devices'
import { DeviceSettings } from './DeviceSettings'
import { FullCopies } from './FullCopies'
import { HandSheet } from './HandSheet'
import { InstrumentList } from './InstrumentList'
import { People } from './People'
import { ShimBox } from './ShimBox'
import { Backup } from './Backup'
import { WorkshopFigures } from './WorkshopFigures'

/** Put in when the pages are built: they ship with the server of the same version. */
declare const VERSION: string

/** What the workshop works with, whatever the engine. */
export function BenchPage() {
  useTitle(t`Bench`)
  const owner = useIsOwner()
  return (
    <div className="mx-auto max-w-[1400px]">
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <h1>{t`Bench`}</h1>
        <div className="flex flex-wrap gap-2">
          <Link to={ORDERS_ADDRESS} className={buttonClass('quiet')}>
            {t`Parts on order`}
          </Link>
          <Link to={BIN_ADDRESS} className={buttonClass('quiet')}>
            {t`Bin`}
          </Link>
          <Link to={forecastsAddress} className={buttonClass('quiet')}>
            {t`How our forecasts did`}
          </Link>
          <Link to={practiceAddress} className={buttonClass('main')}>
            {t`Practice engine`}
          </Link>
        </div>
      </div>
      <div className="grid grid-cols-1 items-start gap-4 lg:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
        <div className="flex flex-col gap-4">
          <BladeSets />
          <ShimBox />
          <HandSheet />
          {owner && <People />}
          {owner && <FullCopies />}
        </div>
        <div className="flex flex-col gap-4">
          {owner && <WorkshopFigures />}
          <DeviceSettings />
          <Devices />
          {owner && <Backup />}
          <div id="calendar">
            <CalendarFeed />
          </div>
          <InstrumentList />
        </div>
      </div>
      <p className="mt-4 text-sm text-ink-soft">
        <Trans>
          Pronostico {VERSION}, <Link to={`${HANDBOOK_ADDRESS}/changes`}>what is new</Link>
        </Trans>
      </p>
    </div>
  )
}
