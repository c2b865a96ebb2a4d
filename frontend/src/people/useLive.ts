import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, newId } from '@/api/client'
import { inLanguage } from '@/design/language'

export type News = { person: string | null; device: string; change: string }

const KEPT = 'pronostico.page'

/** This tab, also after a reload, so that it is not told of its own changes. */
const PAGE = sessionStorage.getItem(KEPT) ?? newId()
sessionStorage.setItem(KEPT, PAGE)
api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-Page', PAGE)
    return request
  },
})

/** Who only passes by does not listen. */
const STAYS_AFTER_MS = 1_500
const SHOWN_FOR_MS = 6_000

/** What others change at an engine while it is looked at: fetched anew, and told for some seconds. */
export function useLive(engineId: string | undefined): News | undefined {
  const [news, setNews] = useState<News>()
  const queryClient = useQueryClient()
  useEffect(() => {
    if (engineId === undefined) return
    let stream: EventSource | undefined
    let timer: ReturnType<typeof setTimeout> | undefined
    let shown: ReturnType<typeof setTimeout> | undefined
    function listen() {
      clearTimeout(timer)
      // A browser has few connections for a server: a page behind others takes none.
      if (document.hidden) {
        stream?.close()
        stream = undefined
        return
      }
      timer = setTimeout(open, STAYS_AFTER_MS)
    }
    function open() {
      stream?.close()
      stream = new EventSource(
        inLanguage(`/api/engines/${encodeURIComponent(engineId ?? '')}/live?page=${PAGE}`),
      )
      stream.addEventListener('change', (event: MessageEvent<string>) => {
        setNews(JSON.parse(event.data) as News)
        clearTimeout(shown)
        shown = setTimeout(() => setNews(undefined), SHOWN_FOR_MS)
        void queryClient.invalidateQueries({ queryKey: ['engines', engineId] })
        void queryClient.invalidateQueries({ queryKey: ['changes'] })
      })
    }
    listen()
    document.addEventListener('visibilitychange', listen)
    return () => {
      clearTimeout(timer)
      clearTimeout(shown)
      stream?.close()
      setNews(undefined)
      document.removeEventListener('visibilitychange', listen)
    }
  }, [engineId, queryClient])
  return news
}
