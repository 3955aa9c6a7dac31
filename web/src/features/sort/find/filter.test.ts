import { describe, expect, it } from 'vitest'
import { changeParams } from '../../../components/use-address.ts'
import { readFilter, splitFilter } from './filter.ts'

const read = (text: string) => readFilter(new URLSearchParams(text))

describe('a list’s address', () => {
  it('without words is all brushes, A to Z, as lines', () => {
    expect(read('')).toEqual({ filter: {}, sort: 'name', view: 'lines' })
  })

  it('says filter, order and view, and everything else in it is passed over', () => {
    expect(read('q=soft+reed&tag=wet&sizeFrom=20&sort=size&view=tiles&find=1&ids=7')).toEqual({
      filter: { q: 'soft reed', tag: 'wet', sizeFrom: '20' },
      sort: 'size',
      view: 'tiles',
    })
  })

  it('with an unknown order or view, or empty parts, falls back on the usual', () => {
    expect(read('sort=sideways&view=cubes&q=&maker=')).toEqual({ filter: {}, sort: 'name', view: 'lines' })
  })

  it('comes back the same after being written', () => {
    const filter = { setId: 'a', q: 'näht & saum', tag: 'wet', reading: 'dark', frames: 'many', sizeTo: '9', bin: '1' }
    expect(read(changeParams(new URLSearchParams(), filter).toString()).filter).toEqual(filter)
  })

  it('is split into its place on the rack and what narrows it', () => {
    expect(splitFilter({ inFolder: 'Shore', q: 'reed', bin: '1', tag: 'wet' })).toEqual({
      place: { inFolder: 'Shore', bin: '1' },
      search: { q: 'reed', tag: 'wet' },
    })
  })

  it('changes only what is said, and leaves the one it came from alone', () => {
    const before = new URLSearchParams('q=reed&sort=size&find=1')
    expect(changeParams(before, { q: undefined, tag: 'wet', sort: '' }).toString()).toBe('find=1&tag=wet')
    expect(before.toString()).toBe('q=reed&sort=size&find=1')
  })
})
