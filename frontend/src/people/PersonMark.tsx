import type { Person } from '@/api/client'

const SHAPES: Record<Person['mark'], string> = {
  disc: 'M0 -6 A6 6 0 1 1 0 6 A6 6 0 1 1 0 -6 Z',
  square: 'M-5 -5 H5 V5 H-5 Z',
  diamond: 'M0 -7 L7 0 L0 7 L-7 0 Z',
  triangle: 'M0 -6 L7 6 H-7 Z',
  ring: 'M0 -6 A6 6 0 1 1 0 6 A6 6 0 1 1 0 -6 Z M0 -3 A3 3 0 1 0 0 3 A3 3 0 1 0 0 -3 Z',
  cross: 'M-2 -6 H2 V-2 H6 V2 H2 V6 H-2 V2 H-6 V-2 H-2 Z',
  bar: 'M-7 -3 H7 V3 H-7 Z',
  hexagon: 'M-6 0 L-3 -6 H3 L6 0 L3 6 H-3 Z',
}
const COLOURS: Record<Person['mark'], string> = {
  disc: 'var(--color-accent)',
  square: 'var(--color-in)',
  diamond: 'var(--color-tight)',
  triangle: 'var(--color-loose)',
  ring: 'var(--color-in)',
  cross: 'var(--color-tight)',
  bar: 'var(--color-accent)',
  hexagon: 'var(--color-loose)',
}

/** A person's shape and initials; the colour only helps. */
export function PersonMark({ person }: { person: Person }) {
  return (
    <span className="inline-flex items-center gap-1.5 font-semibold whitespace-nowrap">
      <svg width={16} height={16} viewBox="-8 -8 16 16" aria-hidden="true" className="shrink-0">
        <path d={SHAPES[person.mark]} fill={COLOURS[person.mark]} fillRule="evenodd" />
      </svg>
      {person.initials}
    </span>
  )
}
