// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { MemoryRouter } from 'react-router'
import { afterEach, beforeAll, expect, it, vi } from 'vitest'
import { findBrushesQuery } from '../../data/brush.ts'
import { packsQuery } from '../../data/packs.ts'
import { setsQuery } from '../../data/sets.ts'
import { CommandList } from './command-list.tsx'

const nothing = () => undefined

beforeAll(() => {
  // what the list asks of a page that jsdom does not have
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe = nothing
      unobserve = nothing
      disconnect = nothing
    },
  )
  Element.prototype.scrollIntoView = nothing
  vi.stubGlobal('fetch', () => new Promise(nothing)) // the server has not answered yet
})
afterEach(cleanup)

const labels = () => screen.getAllByRole('option').map((line) => line.textContent)

function shown() {
  const client = new QueryClient()
  client.setQueryData(setsQuery.queryKey, { sets: [] } as never)
  client.setQueryData(packsQuery.queryKey, { packs: [{ id: 'p', title: 'Rope work' }] } as never)
  render(
    <MemoryRouter>
      <QueryClientProvider client={client}>
        <CommandList open onOpenChange={nothing} onKeys={nothing} />
      </QueryClientProvider>
    </MemoryRouter>,
  )
  return client
}

it('keeps what may be pressed where it is while brushes are still being found', async () => {
  const client = shown()
  fireEvent.change(screen.getByLabelText('Type a command or a brush'), { target: { value: 'rope' } })
  const all = screen.getByRole('option', { name: /^All brushes with "rope"/ })
  expect(labels()).toEqual(['All brushes with "rope"/', 'Rope work'])
  client.setQueryData(findBrushesQuery('rope', 7).queryKey, {
    brushes: [{ id: 'b', name: 'Twine', maker: 'Tidewrack' }],
  } as never)
  await screen.findByRole('option', { name: /^Twine/ })
  expect(labels()).toEqual(['All brushes with "rope"/', 'TwineTidewrack', 'Rope work'])
  expect(screen.getByRole('option', { name: /^All brushes/ })).toBe(all) // not taken out and set in anew
  expect(screen.getByRole('option', { name: /^Twine/ }).getAttribute('aria-selected')).toBe('true')
  fireEvent.keyDown(screen.getByLabelText('Type a command or a brush'), { key: 'ArrowUp' })
  expect(all.getAttribute('aria-selected')).toBe('true')
})

it('finds by what is typed, and chooses the likest when no brush is', async () => {
  const client = shown()
  expect(labels()[0]).toContain('Gather')
  fireEvent.change(screen.getByLabelText('Type a command or a brush'), { target: { value: 'theme' } })
  client.setQueryData(findBrushesQuery('theme', 7).queryKey, { brushes: [] } as never)
  await waitFor(() => {
    expect(screen.getByRole('option', { name: /theme$/ }).getAttribute('aria-selected')).toBe('true')
  })
  expect(screen.queryByRole('option', { name: 'Rope work' })).toBeNull()
})
