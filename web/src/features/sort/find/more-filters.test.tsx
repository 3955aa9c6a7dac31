// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, render, screen, waitFor } from '@testing-library/react'
import { createMemoryRouter, RouterProvider } from 'react-router'
import { afterEach, expect, it, vi } from 'vitest'
import { useFilter } from './filter.ts'
import MoreFilters from './more-filters.tsx'

afterEach(cleanup)

function Page() {
  const { filter, sort, change } = useFilter()
  return <MoreFilters filter={filter} sort={sort} change={change} onClose={() => undefined} />
}

it('chooses at once what is ticked, one after the other, however late the address turns', async () => {
  vi.stubGlobal('fetch', () => new Promise(() => undefined))
  const router = createMemoryRouter([{ path: '/', element: <Page /> }], { initialEntries: ['/?q=kelp'] })
  render(
    <QueryClientProvider client={new QueryClient()}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  )
  const box = (name: string) => screen.getByRole<HTMLInputElement>('checkbox', { name })
  // as in a browser: the address turns in a transition, which these presses come before
  Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: false })
  box('takes paint away').click()
  expect(box('takes paint away').checked).toBe(true)
  await Promise.resolve()
  expect(box('takes paint away').checked).toBe(true)
  box('made of a source here').click()
  await Promise.resolve()
  expect(box('made of a source here').checked).toBe(true)
  Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true })
  await waitFor(() => expect(new URLSearchParams(router.state.location.search).get('is')).toBe('erases,made'))
  expect(router.state.location.search).toContain('q=kelp')
})
