import { QueryClientProvider } from '@tanstack/react-query'
import { createRoot } from 'react-dom/client'
import { createQueryClient } from './api/query-client.ts'
import { startTheme } from './features/shell/theme.ts'
import './styles.css'

startTheme()

const root = document.getElementById('root')
if (!root) throw new Error('the page has no root')

/** A person who was given a link loads this one page, and nothing of the curator's app. */
const [, token] = /^\/h\/([^/]+)\/?$/.exec(window.location.pathname) ?? []
if (token !== undefined) {
  const { PersonPage } = await import('./routes/person.tsx')
  createRoot(root).render(
    <QueryClientProvider client={createQueryClient()}>
      <PersonPage token={decodeURIComponent(token)} />
    </QueryClientProvider>,
  )
} else {
  const { createApp } = await import('./app.tsx')
  createRoot(root).render(createApp())
}
