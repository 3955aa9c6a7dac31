// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { Ledger } from '../../data/gather.ts'
import { SetupOffers } from './setup-offers.tsx'

/** A server that answers when it is told to, and keeps what it was asked for. */
const server = vi.hoisted(() => ({ asked: [] as boolean[], answers: [] as ((error?: Error) => void)[] }))
vi.mock('../../data/gather.ts', () => ({
  ledgerQuery: (id: string) => ({ queryKey: ['ledger', id] }),
  chooseCard: (_id: string, { isChosen }: { isChosen: boolean }) =>
    new Promise<void>((done, fail) => {
      server.asked.push(isChosen)
      server.answers.push((error) => (error ? fail(error) : done()))
    }),
}))

let client = new QueryClient()
beforeEach(() => {
  Object.assign(server, { asked: [], answers: [] })
  client = new QueryClient()
})
afterEach(cleanup)

const ledger = (isChosen: boolean) =>
  ({
    id: 'l1',
    cards: [{ fileId: 'f1', key: 'k1', title: 'Weeds', isChosen, pockets: [], setup: null }],
  }) as unknown as Ledger
const show = (isChosen: boolean) => (
  <QueryClientProvider client={client}>
    <SetupOffers ledger={ledger(isChosen)} />
  </QueryClientProvider>
)
const box = () => screen.getByRole<HTMLInputElement>('checkbox')

it('is ticked as it is pressed, before the server has said anything', () => {
  render(show(false))
  fireEvent.click(box())
  expect(box().checked).toBe(true)
})

it('pressed twice, it is what it was, and the server is told both in their order', async () => {
  render(show(false))
  fireEvent.click(box())
  fireEvent.click(box())
  expect(box().checked).toBe(false)
  await waitFor(() => expect(server.asked).toEqual([true]))
  server.answers[0]?.()
  await waitFor(() => expect(server.asked).toEqual([true, false]))
  expect(box().checked).toBe(false)
  server.answers[1]?.()
})

it('shows what the ledger says once the server has answered, and once it has refused', async () => {
  const { rerender } = render(show(false))
  fireEvent.click(box())
  await waitFor(() => expect(server.answers).toHaveLength(1))
  rerender(show(true))
  server.answers[0]?.()
  await waitFor(() => expect(client.isMutating()).toBe(0))
  expect(box().checked).toBe(true)
  fireEvent.click(box())
  expect(box().checked).toBe(false)
  await waitFor(() => expect(server.answers).toHaveLength(2))
  server.answers[1]?.(new Error('The ledger is closed.'))
  await waitFor(() => expect(box().checked).toBe(true))
})
