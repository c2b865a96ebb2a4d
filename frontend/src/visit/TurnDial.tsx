/** A turn in words: degrees, the nearest sixteenth of a turn, and which way. */
export function turnWords(degrees: number): string {
  const way = degrees > 0 ? 'clockwise' : 'anticlockwise'
  const sixteenths = Math.round(Math.abs(degrees) / 22.5)
  return `${Math.abs(degrees).toFixed(0)}° ${way}, ${shareOf(sixteenths)}`
}

function shareOf(sixteenths: number): string {
  if (sixteenths === 0) return 'less than a sixteenth of a turn'
  if (sixteenths % 16 === 0) return sixteenths === 16 ? 'one turn' : `${sixteenths / 16} turns`
  if (sixteenths > 16) return `about ${(sixteenths / 16).toFixed(1)} turns`
  let [top, bottom] = [sixteenths, 16]
  while (top % 2 === 0) [top, bottom] = [top / 2, bottom / 2]
  return `about ${top}/${bottom} of a turn`
}

const RADIUS = 22

function at(degrees: number, radius: number): string {
  const angle = ((degrees - 90) * Math.PI) / 180
  return `${(radius * Math.cos(angle)).toFixed(2)} ${(radius * Math.sin(angle)).toFixed(2)}`
}

/** The adjuster as one looks down on it: the slot now, where it goes, and the way round. */
export function TurnDial({ degrees }: { degrees: number }) {
  // More than one turn is drawn as one; the words say the rest.
  const shown = Math.max(-350, Math.min(350, degrees))
  const way = shown > 0 ? 1 : -1
  const end = at(shown, RADIUS)
  const large = Math.abs(shown) > 180 ? 1 : 0
  return (
    <svg width={64} height={64} viewBox="-32 -32 64 64" aria-hidden="true" className="shrink-0">
      <circle r={15} fill="var(--color-paper)" stroke="var(--color-rule-strong)" />
      <path d={`M0 0 L${at(0, 13)}`} stroke="var(--color-rule-strong)" strokeWidth={3} />
      <path d={`M0 0 L${at(shown, 13)}`} stroke="var(--color-accent)" strokeWidth={3} />
      <g fill="none" stroke="var(--color-accent)" strokeWidth={2}>
        {Math.abs(shown) > 1 && (
          <path d={`M${at(0, RADIUS)} A${RADIUS} ${RADIUS} 0 ${large} ${way > 0 ? 1 : 0} ${end}`} />
        )}
        <path
          d={`M${at(shown - way * 16, RADIUS + 5)} L${end} L${at(shown - way * 16, RADIUS - 5)}`}
        />
      </g>
    </svg>
  )
}
