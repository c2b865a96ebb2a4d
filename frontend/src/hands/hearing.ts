import { t } from '@lingui/core/macro'
import { inLanguage } from '@/design/language'
import { openMicrophone } from './microphone'

export type CommandName =
  'no-go' | 'drag' | 'free' | 'next' | 'undo' | 'repeat' | 'skip' | 'blade' | 'stop'

export type Command = { kind: 'command'; name: CommandName; text: string; blade_mm: number | null }

/** What the server tells of what it hears. */
type Heard =
  | Command
  | { kind: 'ready' }
  | { kind: 'not-understood' }
  | { kind: 'late' }
  | { kind: 'refused'; detail: string }

export type Hearing = {
  /** The next blade was just spoken: for some seconds an answer needs no prefix, if so set. */
  prompted: () => void
  close: () => void
}

/** Have the server listen to this device's microphone, until closed or told that it ended. */
export async function hear(
  address: string,
  on: {
    ready: () => void
    command: (command: Command) => void
    notUnderstood: () => void
    late: () => void
    /** It ended, and not because it was closed here. */
    ended: (why: string) => void
  },
): Promise<Hearing> {
  let ready = false
  let over = false
  // First the microphone: whoever is asked for it may take a while.
  const microphone = await openMicrophone((samples) => {
    // Until it listens, what is said is lost, and the page says so.
    if (ready) socket.send(samples)
  })
  const socket = new WebSocket(inLanguage(address.replace(/^http/, 'ws')))
  function close() {
    if (over) return
    over = true
    ready = false
    microphone.close()
    socket.close()
  }
  function end(why: string) {
    if (over) return
    close()
    on.ended(why)
  }
  socket.onmessage = ({ data }: MessageEvent<string>) => {
    const heard = JSON.parse(data) as Heard
    if (over) return
    switch (heard.kind) {
      case 'ready':
        ready = true
        return on.ready()
      case 'command':
        return on.command(heard)
      case 'not-understood':
        return on.notUnderstood()
      case 'late':
        return on.late()
      case 'refused':
        return end(heard.detail)
    }
  }
  socket.onclose = () => end(t`the connection to the server ended`)
  return { prompted: () => ready && socket.send('prompted'), close }
}
