// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { createMemoryRouter, RouterProvider } from 'react-router'
import { afterEach, expect, it } from 'vitest'
import { OWN, useAddress } from './use-address.ts'

afterEach(cleanup)

function Page() {
  const [search, change] = useAddress()
  const size = Number(search.get('size') ?? 0)
  return (
    <button type="button" onClick={() => change({ size: size + 1 })}>
      {size}
    </button>
  )
}

function open(address: string) {
  const router = createMemoryRouter([{ path: '/', element: <Page /> }], { initialEntries: [address] })
  render(<RouterProvider router={router} />)
  return { router, button: screen.getByRole('button') }
}

it('goes by what was chosen last, however late the address turns', async () => {
  const { router, button } = open('/?find=kelp')
  // as in a browser: the address turns in a transition, which these presses come before
  Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: false })
  for (let press = 0; press < 4; press++) {
    button.click()
    await Promise.resolve()
  }
  Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true })
  expect(button.textContent).toBe('4')
  await waitFor(() => expect(router.state.location.search).toBe('?find=kelp&size=4'))
  expect(button.textContent).toBe('4')
})

it('lets pass what it told before and comes late', async () => {
  const { router, button } = open('/')
  fireEvent.click(button)
  fireEvent.click(button)
  await waitFor(() => expect(router.state.location.search).toBe('?size=2'))
  await act(() => router.navigate('/?size=1', { replace: true, state: OWN }))
  expect(button.textContent).toBe('2')
})

it('takes over what the address says by itself: a link, and back', async () => {
  const { router, button } = open('/?size=2')
  fireEvent.click(button)
  await waitFor(() => expect(router.state.location.search).toBe('?size=3'))
  await act(() => router.navigate('/?size=9'))
  expect(button.textContent).toBe('9')
  fireEvent.click(button)
  await waitFor(() => expect(router.state.location.search).toBe('?size=10'))
  await act(() => router.navigate(-1))
  expect(button.textContent).toBe('3')
  expect(router.state.location.search).toBe('?size=3')
})
