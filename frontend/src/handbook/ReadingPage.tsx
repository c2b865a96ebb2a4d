import { t } from '@lingui/core/macro'
import { marked } from 'marked'
import { useMemo } from 'react'
import { useParams } from 'react-router'
import changes from '../../../CHANGELOG.md?raw'
import formulas from '../../../docs/formulas.md?raw'
import method from '../../../docs/method.md?raw'
import userGuide from '../../../docs/user-guide.md?raw'
import { Empty } from '@/design/Notice'
import { useTitle } from '@/design/useTitle'
import { KeyTable } from '@/help/KeyTable'
import { EVERY_SCREEN, SCREENS } from '@/help/screens'
import { HandbookTabs } from './HandbookTabs'
import { language } from '@/design/language'

const TEXTS: Record<string, { title: string; text: string }> = {
  method: { title: t`Method`, text: method },
  formulas: { title: t`Formulas`, text: formulas },
  'user-guide': { title: t`User guide`, text: userGuide },
  changes: { title: t`Changes`, text: changes },
}

/** What ships as text beside the product, to be read here without a network. */
export function ReadingPage() {
  const { page = '' } = useParams()
  const known = TEXTS[page]
  useTitle(known?.title ?? (page === 'screens' ? t`Screen help` : t`Handbook`))
  if (page === 'screens') return <Screens />
  if (!known) return <Empty>{t`There is no page of the handbook at this address.`}</Empty>
  return (
    <div className="mx-auto max-w-[1400px]">
      <HandbookTabs />
      {language() !== 'en' && <p className="mb-2 text-ink-soft">{t`This text is in English.`}</p>}
      <Prose text={known.text} />
    </div>
  )
}

function Prose({ text }: { text: string }) {
  // The text is the product's own, built in with the page.
  const html = useMemo(() => marked.parse(text, { async: false }), [text])
  return (
    <article
      lang="en"
      className="prose rounded-card border border-rule bg-sheet px-6 py-4"
      dangerouslySetInnerHTML={{ __html: html }}
    />
  )
}

function Screens() {
  return (
    <div className="mx-auto max-w-[1400px]">
      <HandbookTabs />
      <h1 className="mb-3">{t`Screen help`}</h1>
      <div className="grid items-start gap-4 lg:grid-cols-2">
        {SCREENS.map((one) => (
          <section key={one.title} className="rounded-card border border-rule bg-sheet px-4 py-3">
            <h2>{one.title}</h2>
            {one.text.map((each) => (
              <p key={each} className="mt-1">
                {each}
              </p>
            ))}
            {one.keys.length > 0 && <KeyTable keys={one.keys} />}
          </section>
        ))}
        <section className="rounded-card border border-rule bg-sheet px-4 py-3">
          <h2>{t`On every screen`}</h2>
          <KeyTable keys={EVERY_SCREEN} />
        </section>
      </div>
    </div>
  )
}
