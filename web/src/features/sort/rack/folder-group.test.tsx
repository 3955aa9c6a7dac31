// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import { FolderGroup } from './folder-group.tsx'

afterEach(cleanup)

const sets = ['reeds', 'foam', 'bark'].map((id) => ({ id, folder: 'Shore' }))
const show = (current?: string) =>
  render(
    <ul>
      <FolderGroup folder="Shore" sets={sets} current={current}>
        {({ id }) => <li key={id}>{id}</li>}
      </FolderGroup>
    </ul>,
  )
const shown = () => ['reeds', 'foam', 'bark'].filter((name) => screen.queryByText(name))

it('folds the sets of a folder away and unfolds them, keeps the open one in sight, and remembers', () => {
  show('foam')
  const head = screen.getByRole('button', { name: /Shore/ })
  expect(head.textContent).toContain('3')
  expect([head.getAttribute('aria-expanded'), shown()]).toEqual(['true', ['reeds', 'foam', 'bark']])
  fireEvent.click(head)
  expect([head.getAttribute('aria-expanded'), shown()]).toEqual(['false', ['foam']])
  cleanup()
  show()
  expect(shown()).toEqual([])
  fireEvent.click(screen.getByRole('button', { name: /Shore/ }))
  expect(shown()).toEqual(['reeds', 'foam', 'bark'])
})

it('shows sets that came alone without a head', () => {
  render(
    <ul>
      <FolderGroup folder="" sets={[{ id: 'moss', folder: '' }]} current={undefined}>
        {({ id }) => <li key={id}>{id}</li>}
      </FolderGroup>
    </ul>,
  )
  expect(screen.queryByRole('button')).toBeNull()
  expect(screen.getByText('moss')).toBeTruthy()
})
