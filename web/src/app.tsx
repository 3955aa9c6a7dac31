import { QueryClientProvider } from '@tanstack/react-query'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { createQueryClient } from './api/query-client.ts'
import { Toasts } from './components/toasts.tsx'
import { routes } from './routes/routes.tsx'

/** The curator's app. */
export const createApp = () => (
  <QueryClientProvider client={createQueryClient()}>
    <RouterProvider router={createBrowserRouter(routes)} />
    <Toasts />
  </QueryClientProvider>
)
