// @vitest-environment jsdom
import { cleanup, render, screen } from '@testing-library/react'
import { Suspense } from 'react'
import { afterEach, expect, it } from 'vitest'
import { fetched } from './fetched.tsx'

afterEach(cleanup)

it('a part whose code does not come takes nothing else of the page away', async () => {
  const Gone = fetched<object>(() => Promise.reject(new Error('no such file')))
  const There = fetched<object>(async () => ({ default: () => <p>a curve</p> }))
  render(
    <Suspense fallback="fetching">
      <p>its figures</p>
      <Gone />
      <There />
    </Suspense>,
  )
  expect(await screen.findByText('a curve')).toBeTruthy()
  expect(screen.getByText('its figures')).toBeTruthy()
  expect(screen.getByText(/did not come/)).toBeTruthy()
})
