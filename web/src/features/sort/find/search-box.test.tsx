// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import { SearchBox } from './search-box.tsx'

afterEach(cleanup)

function open(q: string) {
  const asked: string[] = []
  const box = (address: string) => <SearchBox q={address} focus={false} onSearch={(next) => asked.push(next)} />
  const { rerender } = render(box(q))
  const input = () => screen.getByLabelText<HTMLInputElement>('Find brushes')
  return {
    asked,
    input,
    type: (value: string) => fireEvent.change(input(), { target: { value } }),
    address: (value: string) => rerender(box(value)),
  }
}

it('keeps what is typed while the address lags behind', async () => {
  const { asked, input, type, address } = open('')
  type('rop')
  await waitFor(() => expect(asked).toEqual(['rop']))
  type('rope')
  address('') // painted anew before the address has turned
  address('rop') // the first search arrives after more was typed
  expect(input().value).toBe('rope')
  await waitFor(() => expect(asked).toEqual(['rop', 'rope']))
  address('rope')
  expect(input().value).toBe('rope')
})

it('takes over what the address says by itself: Back, or all shown again', async () => {
  const { asked, input, type, address } = open('kelp')
  expect(input().value).toBe('kelp')
  address('reed')
  expect(input().value).toBe('reed')
  type('reeds')
  await waitFor(() => expect(asked).toEqual(['reeds']))
  address('reeds')
  address('')
  expect(input().value).toBe('')
  expect(asked).toEqual(['reeds'])
})
