import { QueryClient, QueryObserver } from '@tanstack/react-query'
import { expect, it } from 'vitest'
import { letPagesGo } from './let-pages-go.ts'

it('keeps the forty pages that came last and those that are looked at, and nothing but pages goes', () => {
  const client = new QueryClient()
  const keyOf = (page: number) => [page % 2 ? 'brushes' : 'brushes-by-look', 'page', {}, 'name', page] as const
  for (let page = 0; page < 100; page++) client.setQueryData(keyOf(page), { brushes: [] }, { updatedAt: 1000 + page })
  client.setQueryData(['brushes', 'count', {}], { count: 9 }, { updatedAt: 1 })
  client.setQueryData(['sets'], { sets: [] }, { updatedAt: 1 })
  const leave = new QueryObserver(client, { queryKey: keyOf(7), enabled: false }).subscribe(() => undefined)
  letPagesGo(client)
  const kept = Array.from({ length: 100 }, (_, page) => page).filter((page) => client.getQueryData(keyOf(page)))
  expect(kept).toEqual([7, ...Array.from({ length: 40 }, (_, n) => 60 + n)])
  expect(client.getQueryData(['brushes', 'count', {}])).toEqual({ count: 9 })
  expect(client.getQueryData(['sets'])).toEqual({ sets: [] })
  leave()
  letPagesGo(client)
  expect(client.getQueryData(keyOf(7))).toBeUndefined()
  client.clear()
})
