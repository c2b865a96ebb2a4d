import { useRef, type ReactNode } from 'react'
import { Button } from './Button'

/** A button that asks for a file. */
export function FileButton({
  label,
  accept,
  capture = false,
  disabled,
  onFile,
  children,
}: {
  /** What the file is. */
  label: string
  accept: string
  /** Straight from the camera, where the device has one. */
  capture?: boolean
  disabled?: boolean
  onFile: (file: File) => void
  children: ReactNode
}) {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        capture={capture ? 'environment' : undefined}
        className="sr-only"
        tabIndex={-1}
        aria-label={label}
        onChange={(event) => {
          const file = event.target.files?.[0]
          // The same file may be chosen again once it is fixed.
          event.target.value = ''
          if (file) onFile(file)
        }}
      />
      <Button onClick={() => input.current?.click()} disabled={disabled}>
        {children}
      </Button>
    </>
  )
}
