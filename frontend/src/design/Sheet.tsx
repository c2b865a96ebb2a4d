import type { ReactNode } from 'react'

/** A ruled sheet with a heading, the ground that everything is written on. */
export function Sheet({
  title,
  aside,
  children,
  className = '',
}: {
  title: string
  aside?: ReactNode
  children: ReactNode
  className?: string
}) {
  return (
    <section className={`rounded-card border border-rule bg-sheet ${className}`}>
      <header className="flex min-h-11 flex-wrap items-center justify-between gap-x-4 border-b border-rule px-4 py-1.5">
        <h2>{title}</h2>
        {aside}
      </header>
      {children}
    </section>
  )
}

/** The title block of a drawing: small ruled cells, each a name and its figure. */
export function TitleBlock({ cells }: { cells: { name: string; value: ReactNode }[] }) {
  return (
    <dl className="flex flex-wrap border border-rule-strong bg-sheet">
      {cells.map((cell) => (
        <div key={cell.name} className="-mb-px flex-auto border-r border-b border-rule px-3 py-1">
          <dt className="text-xs text-ink-soft">{cell.name}</dt>
          <dd className="whitespace-nowrap">{cell.value}</dd>
        </div>
      ))}
    </dl>
  )
}
