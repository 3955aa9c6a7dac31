// @vitest-environment jsdom
import type { Virtualizer } from '@tanstack/react-virtual'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, expect, it, vi } from 'vitest'
import { usePageEnds } from './use-page-ends.ts'

afterEach(cleanup)

function Page({ lines, count }: { lines: Virtualizer<Window, Element>; count: number }) {
  usePageEnds(lines, count)
  return (
    <>
      <input aria-label="name" />
      <div role="tablist">
        <button type="button">Picture</button>
      </div>
      <a href="/make">a line</a>
    </>
  )
}

it('goes to the first and to the last line, and leaves these keys to what has ends of its own', () => {
  const went = vi.fn()
  const lines = {
    scrollToIndex: (at: number, { align }: { align: string }) => went(`line ${at} ${align}`),
    scrollToOffset: (at: number) => went(`offset ${at}`),
  } as unknown as Virtualizer<Window, Element>
  const { rerender } = render(<Page lines={lines} count={0} />)
  fireEvent.keyDown(document.body, { key: 'End' })
  expect(went.mock.calls).toEqual([])
  rerender(<Page lines={lines} count={2502} />)
  fireEvent.keyDown(document.body, { key: 'End' })
  fireEvent.keyDown(screen.getByText('a line'), { key: 'Home' })
  expect(went.mock.calls).toEqual([['line 2501 start'], ['offset 0']])
  fireEvent.keyDown(screen.getByLabelText('name'), { key: 'End' })
  fireEvent.keyDown(screen.getByText('Picture'), { key: 'End' })
  fireEvent.keyDown(document.body, { key: 'End', shiftKey: true })
  fireEvent.keyDown(document.body, { key: 'End', ctrlKey: true })
  expect(went).toHaveBeenCalledTimes(2)
})
