import { curveBumpX, line } from 'd3-shape'
import { useCallback, useLayoutEffect, useRef, useState, type ReactNode } from 'react'
import type { EvidenceRow } from './evidence'

type Drawn = { key: string; path: string; width: number; against: boolean; alone: boolean }

const THICKEST = 7

/** A soft curve through up to three points, level where it leaves and where it arrives. */
const curve = line<{ x: number; y: number }>(
  (point) => point.x,
  (point) => point.y,
).curve(curveBumpX)

/**
 * The threads over what they tie together: from each finding at the left, through the valves where it was
 * measured, to the causes at the right that it is evidence for (solid) or against (broken).
 */
export function Threads({
  rows,
  causes,
  alone,
  children,
}: {
  rows: EvidenceRow[]
  /** The causes whose threads are drawn. */
  causes: ReadonlySet<string>
  /** Whether one was chosen: then they are inked, else pale. */
  alone: boolean
  children: ReactNode
}) {
  const frame = useRef<HTMLDivElement>(null)
  const [drawn, setDrawn] = useState<Drawn[]>([])

  const draw = useCallback(() => {
    const root = frame.current
    if (!root) return
    const origin = root.getBoundingClientRect()
    const boxOf = (selector: string) => root.querySelector(selector)?.getBoundingClientRect()
    const plan = boxOf('[data-threads="plan"]')
    const next: Drawn[] = []
    for (const row of rows) {
      const from = boxOf(`[data-evidence="${CSS.escape(row.key)}"]`)
      if (!from || !plan) continue
      const start = { x: from.right - origin.left, y: from.top + from.height / 2 - origin.top }
      for (const thread of row.threads) {
        if (!causes.has(thread.cause)) continue
        const to = boxOf(`[data-cause="${CSS.escape(thread.cause)}"]`)
        if (!to) continue
        const end = { x: to.left - origin.left, y: to.top + to.height / 2 - origin.top }
        // Without a valve of its own a thread passes under the plan.
        const stations =
          thread.valves.length === 0
            ? [
                {
                  id: '',
                  x: plan.left + plan.width / 2 - origin.left,
                  y: plan.bottom - origin.top - 6,
                },
              ]
            : thread.valves.flatMap((id) => {
                const box = boxOf(`[data-valve="${CSS.escape(id)}"]`)
                return box
                  ? [
                      {
                        id,
                        x: box.left + box.width / 2 - origin.left,
                        y: box.top + box.height / 2 - origin.top,
                      },
                    ]
                  : []
              })
        for (const station of stations) {
          next.push({
            key: `${row.key} ${thread.cause} ${station.id}`,
            path: curve([start, station, end]) ?? '',
            width:
              Math.min(THICKEST, 1 + Math.abs(thread.decibans) / 2) / Math.sqrt(stations.length),
            against: thread.decibans < 0,
            alone,
          })
        }
      }
    }
    setDrawn(next)
  }, [rows, causes, alone])

  useLayoutEffect(() => {
    draw()
    const root = frame.current
    if (!root) return
    const watching = new ResizeObserver(draw)
    watching.observe(root)
    // A list that grows moves the others without the frame changing its size.
    for (const part of root.children) watching.observe(part)
    return () => watching.disconnect()
  }, [draw])

  return (
    <div ref={frame} className="relative">
      {children}
      <svg
        aria-hidden="true"
        className="no-print pointer-events-none absolute inset-0 hidden size-full lg:block"
      >
        {drawn.map((one) => (
          <path
            key={one.key}
            d={one.path}
            fill="none"
            stroke={one.against ? 'var(--color-loose)' : 'var(--color-accent)'}
            strokeWidth={one.width}
            strokeDasharray={one.against ? '7 6' : undefined}
            opacity={one.alone ? 0.5 : 0.25}
          />
        ))}
      </svg>
    </div>
  )
}
