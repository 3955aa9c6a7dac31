import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { RequestError } from './api/client.ts'
import { Toasts } from './components/toasts.tsx'
import { startTheme } from './features/shell/theme.ts'
import { routes } from './routes/routes.tsx'
import './styles.css'

startTheme()

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      retry: (count, error) =>
        count < 2 && !(error instanceof RequestError && error.status >= 400 && error.status < 500),
    },
  },
})

const root = document.getElementById('root')
if (!root) throw new Error('the page has no root')
createRoot(root).render(
  <QueryClientProvider client={client}>
    <RouterProvider router={createBrowserRouter(routes)} />
    <Toasts />
  </QueryClientProvider>,
)
