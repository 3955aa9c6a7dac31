// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import { OuterSet } from './outer-set.tsx'

afterEach(cleanup)

const sets = ['reeds', 'foam', 'bark'].map((id) => ({ id, folder: 'Shore' }))
const opened: string[] = []
const show = (current?: string) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ul>
        <OuterSet
          name="Shore"
          sets={sets}
          current={current}
          active={false}
          onGo={(name) => opened.push(name)}
          onLeave={() => opened.push('left')}
        >
          {({ id }) => <li key={id}>{id}</li>}
        </OuterSet>
      </ul>
    </QueryClientProvider>,
  )
const shown = () => ['reeds', 'foam', 'bark'].filter((name) => screen.queryByText(name))

it('folds its sets away and unfolds them, keeps the open one in sight, and remembers', () => {
  show('foam')
  const head = () => screen.getByRole('button', { name: 'Sets of Shore' })
  expect(screen.getByText('3 sets')).toBeTruthy()
  expect([head().getAttribute('aria-expanded'), shown()]).toEqual(['true', ['reeds', 'foam', 'bark']])
  fireEvent.click(head())
  expect([head().getAttribute('aria-expanded'), shown()]).toEqual(['false', ['foam']])
  cleanup()
  show()
  expect(shown()).toEqual([])
  fireEvent.click(head())
  expect(shown()).toEqual(['reeds', 'foam', 'bark'])
})

it('opens what is in all of them by its name', () => {
  show()
  fireEvent.click(screen.getByRole('button', { name: /^Shore/ }))
  expect(opened).toEqual(['Shore'])
})
