const RADIUS = 22

function at(degrees: number, radius: number): string {
  const angle = ((degrees - 90) * Math.PI) / 180
  return `${(radius * Math.cos(angle)).toFixed(2)} ${(radius * Math.sin(angle)).toFixed(2)}`
}

function hexagon(radius: number, turnedBy: number): string {
  const corners = [0, 60, 120, 180, 240, 300].map((angle) => at(angle + turnedBy, radius))
  return `M${corners.join(' L')} Z`
}

/** Which part of the adjuster is turned; the other one locks it. */
export type Turned = 'screw' | 'nut'

/** The adjuster as one checks down on it: what is turned is inked, where it goes, and the way round. */
export function TurnDial({ degrees, turned }: { degrees: number; turned: Turned }) {
  // More than one turn is drawn as one; the words say the rest.
  const shown = Math.max(-350, Math.min(350, degrees))
  const way = shown > 0 ? 1 : -1
  const end = at(shown, RADIUS)
  const large = Math.abs(shown) > 180 ? 1 : 0
  const pale = 'var(--color-rule-strong)'
  const ink = 'var(--color-accent)'
  return (
    <svg width={64} height={64} viewBox="-32 -32 64 64" aria-hidden="true" className="shrink-0">
      <path
        d={hexagon(17, 0)}
        fill="var(--color-paper)"
        stroke={pale}
        strokeDasharray={turned === 'nut' ? '2 2' : undefined}
      />
      {turned === 'nut' ? (
        <>
          <path d={hexagon(17, shown)} fill="none" stroke={ink} strokeWidth={2} />
          <circle r={8} fill="var(--color-paper)" stroke={pale} />
          <path d={`M${at(0, 6)} L${at(180, 6)}`} stroke={pale} strokeWidth={3} />
        </>
      ) : (
        <>
          <circle r={12} fill="var(--color-paper)" stroke={pale} />
          <path d={`M0 0 L${at(0, 10)}`} stroke={pale} strokeWidth={3} />
          <path d={`M0 0 L${at(shown, 11)}`} stroke={ink} strokeWidth={3} />
        </>
      )}
      <g fill="none" stroke={ink} strokeWidth={2}>
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
