// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { MemoryRouter } from 'react-router'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { ActionStrip } from './action-strip.tsx'

afterEach(cleanup)

const show = (props: Partial<Parameters<typeof ActionStrip>[0]>) => {
  const called = { act: vi.fn(), onAll: vi.fn(), onNone: vi.fn() }
  render(
    <MemoryRouter>
      <ActionStrip
        {...{
          count: 2,
          onlyId: undefined,
          comparedIds: undefined,
          inSet: false,
          inBin: false,
          ...called,
          ...props,
        }}
      />
    </MemoryRouter>,
  )
  return called
}

describe('what can be done with the chosen brushes', () => {
  it('is said with how many they are, and does what it says', () => {
    const called = show({ count: 2178 })
    expect(screen.getByRole('status').textContent).toBe('2,178 brushes chosen')
    for (const [name, act] of [
      ['Copy to set', 'copy'],
      ['Move to set', 'move'],
      ['Tag', 'tag'],
      ['Pin', 'pin'],
      ['Bin', 'bin'],
    ] as const) {
      fireEvent.click(screen.getByRole('button', { name }))
      expect(called.act, name).toHaveBeenLastCalledWith(act)
    }
    fireEvent.click(screen.getByRole('button', { name: 'Choose All shown' }))
    fireEvent.click(screen.getByRole('button', { name: 'Choose None' }))
    expect([called.onAll.mock.calls.length, called.onNone.mock.calls.length]).toEqual([1, 1])
    expect(screen.queryByRole('button', { name: 'Take out of this set' })).toBeNull()
  })

  it('in a set is also to take them out, and in the bin only to bring them back', () => {
    show({ inSet: true })
    expect(screen.getByRole('button', { name: 'Take out of this set' })).toBeTruthy()
    cleanup()
    const called = show({ inBin: true })
    expect(screen.queryByRole('button', { name: 'Bin' })).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Bring back' }))
    expect(called.act).toHaveBeenLastCalledWith('bringBack')
  })

  it('leads to Tune for one, and to the comparison for a few', () => {
    show({ count: 1, onlyId: 'b7' })
    expect(screen.getByRole('link', { name: 'Tune' }).getAttribute('href')).toBe('/tune/b7')
    expect(screen.queryByRole('link', { name: 'Compare' })).toBeNull()
    cleanup()
    show({ comparedIds: ['a', 'b'] })
    expect(screen.getByRole('link', { name: 'Compare' }).getAttribute('href')).toBe('/compare?ids=a,b')
  })
})
