import { QueryClientProvider } from '@tanstack/react-query'
import { setNonce } from 'get-nonce'
import type { ComponentType } from 'react'
import { createRoot } from 'react-dom/client'
import { createQueryClient } from './api/query-client.ts'
import { startTheme } from './features/shell/theme.ts'
import './styles.css'

startTheme()
// what styles the primitives add at run time says the name that this very page was given for them
setNonce(document.querySelector<HTMLMetaElement>('meta[name=style-nonce]')?.content ?? '')

const root = document.getElementById('root')
if (!root) throw new Error('the page has no root')

/** Who was given a link loads its one page, and nothing of the curator's app. */
const LINK_PAGES: readonly { begins: string; load: () => Promise<ComponentType<{ token: string }>> }[] = [
  { begins: 'h', load: async () => (await import('./routes/person.tsx')).PersonPage },
  { begins: 'p', load: async () => (await import('./routes/phone.tsx')).PhonePage },
]
const [, begins, token] = /^\/([a-z])\/([^/]+)\/?$/.exec(window.location.pathname) ?? []
const page = LINK_PAGES.find((each) => each.begins === begins)
if (page && token !== undefined) {
  const Page = await page.load()
  createRoot(root).render(
    <QueryClientProvider client={createQueryClient()}>
      <Page token={decodeURIComponent(token)} />
    </QueryClientProvider>,
  )
} else {
  const { createApp } = await import('./app.tsx')
  createRoot(root).render(createApp())
}
