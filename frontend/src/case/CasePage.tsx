import { t } from '@lingui/core/macro'
import { useQuery } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { analysisQuery, engineQuery, findingsQuery } from '@/api/queries'
import { ErrorNotice, Loading } from '@/design/Notice'
import { CaseView } from './CaseView'
import { caseQuery, diagnosisQuery } from './queries'

export function CasePage() {
  const { engineId = '', caseId = '' } = useParams()
  const engine = useQuery(engineQuery(engineId))
  const analysis = useQuery(analysisQuery(engineId))
  const open = useQuery(caseQuery(engineId, caseId))
  const diagnosis = useQuery(diagnosisQuery(engineId, caseId))
  const findings = useQuery(findingsQuery)
  const queries = [engine, analysis, open, diagnosis, findings]
  const error = queries.find((query) => query.error)?.error
  if (engine.data && analysis.data && open.data && diagnosis.data && findings.data) {
    return (
      <CaseView
        detail={engine.data}
        analysis={analysis.data}
        open={open.data}
        diagnosis={diagnosis.data}
        findings={findings.data}
      />
    )
  }
  return error ? <ErrorNotice error={error} /> : <Loading what={t`the case`} />
}
