// @vitest-environment jsdom
import { act, cleanup, renderHook, waitFor } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import { useOtherDrafts } from './use-other-drafts.ts'

afterEach(cleanup)

const open = (brushId: string, isUnsaved = false) =>
  renderHook(({ id, unsaved }) => useOtherDrafts(id, unsaved), { initialProps: { id: brushId, unsaved: isUnsaved } })

it('is told to pages that are open, and to those that are opened later, until it is saved', async () => {
  const [one, two, other] = [open('reed'), open('reed'), open('kelp')]
  one.rerender({ id: 'reed', unsaved: true })
  await waitFor(() => expect(two.result.current).toBe(true))
  const late = open('reed')
  await waitFor(() => expect(late.result.current).toBe(true))
  expect([one.result.current, other.result.current]).toEqual([false, false])
  one.rerender({ id: 'reed', unsaved: false })
  await waitFor(() => expect([two.result.current, late.result.current]).toEqual([false, false]))
})

it('ends with the page that had it, and does not follow to another brush', async () => {
  const [one, two] = [open('reed', true), open('reed')]
  await waitFor(() => expect(two.result.current).toBe(true))
  two.rerender({ id: 'kelp', unsaved: false })
  expect(two.result.current).toBe(false)
  two.rerender({ id: 'reed', unsaved: false })
  await waitFor(() => expect(two.result.current).toBe(true))
  act(() => one.unmount())
  await waitFor(() => expect(two.result.current).toBe(false))
})
