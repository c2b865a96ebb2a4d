import type { ButtonHTMLAttributes } from 'react'

type Look = 'plain' | 'main' | 'quiet'

const LOOKS: Record<Look, string> = {
  main: 'bg-accent text-on-accent border-accent font-semibold',
  plain: 'bg-sheet text-ink border-rule-strong hover:border-accent',
  quiet: 'bg-transparent text-accent border-transparent hover:border-rule',
}

export function buttonClass(look: Look = 'plain'): string {
  return `inline-flex min-h-11 items-center justify-center gap-2 rounded-card border px-4 py-2 no-underline disabled:opacity-55 ${LOOKS[look]}`
}

export function Button({
  look = 'plain',
  className = '',
  type = 'button',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return <button type={type} className={`${buttonClass(look)} ${className}`} {...rest} />
}
