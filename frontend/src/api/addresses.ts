/** The page's own addresses: identifiers may hold any letter, so they are always encoded. */

const step = encodeURIComponent

export function engineAddress(engineId: string): string {
  return `/engines/${step(engineId)}`
}

export function valveAddress(engineId: string, valve: string): string {
  return `${engineAddress(engineId)}/valves/${step(valve)}`
}

export function measureAddress(engineId: string, visitId: string, valve?: string): string {
  const visit = `${engineAddress(engineId)}/visits/${step(visitId)}/measure`
  return valve === undefined ? visit : `${visit}/${step(valve)}`
}

export function turnAddress(engineId: string, visitId: string): string {
  return `${engineAddress(engineId)}/visits/${step(visitId)}/turn`
}

export function caseAddress(engineId: string, caseId: string): string {
  return `${engineAddress(engineId)}/cases/${step(caseId)}`
}

/** Where the server hands out an engine's record. */
export function recordAddress(engineId: string): string {
  return `/api${engineAddress(engineId)}/record`
}
