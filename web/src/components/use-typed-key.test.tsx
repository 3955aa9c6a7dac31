// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, expect, it, vi } from 'vitest'
import { useTypedKey } from './use-typed-key.ts'

afterEach(cleanup)

function Page({ run }: { run: () => void }) {
  useTypedKey('?', run)
  return (
    <>
      <input aria-label="name" />
      <input aria-label="box" type="checkbox" />
    </>
  )
}

it('goes by the character, wherever it lies on the keyboard, and not while text is typed', () => {
  const run = vi.fn()
  render(<Page run={run} />)
  fireEvent.keyDown(document.body, { key: '?', code: 'Minus', shiftKey: true }) // a German keyboard
  fireEvent.keyDown(document.body, { key: '?', code: 'Slash', shiftKey: true })
  fireEvent.keyDown(screen.getByLabelText('box'), { key: '?' })
  expect(run).toHaveBeenCalledTimes(3)
  fireEvent.keyDown(screen.getByLabelText('name'), { key: '?' })
  fireEvent.keyDown(document.body, { key: '/', code: 'Slash', shiftKey: true })
  fireEvent.keyDown(document.body, { key: '?', ctrlKey: true })
  expect(run).toHaveBeenCalledTimes(3)
})
