/** A figure as it was typed; a comma is a point. Null where it is none, or nothing was typed. */
export function typedFigure(text: string): number | null {
  const plain = text.trim().replace(',', '.')
  return /^-?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : null
}
