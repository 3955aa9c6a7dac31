import { describe, expect, it } from 'vitest'
import { JSON_NESTING_MAX } from '../formats/json.ts'
import { FEED_VERSION, PAGE_ITEMS, readListing, withdrawalText } from './protocol.ts'

const fingerprint = Array.from({ length: 16 }, () => 'ab12').join(' ')
const item = (more: object = {}, own: object = {}) => ({
  ...{ id: 'quiet-feathers-12', title: 'Quiet Feathers', authors: [{ name: 'Brita' }] },
  ...{ date_published: '2026-11-01T10:00:00.000Z', date_modified: '2026-11-02T10:00:00.000Z' },
  _satchel: {
    ...{ version: '1.0.0', licence: 'CC0-1.0', brushes: 2, signer: fingerprint, strokes: ['/pictures/a.png'] },
    ...{ more: '/items/quiet-feathers-12.json' },
    ...own,
  },
  ...more,
})
const feed = (items: object[], more: object = {}) =>
  JSON.stringify({ version: FEED_VERSION, title: 'Barter Shed', items, ...more })

describe('what an exchange says', () => {
  it('is read, and what is not ours in it is left', () => {
    const read = readListing(feed([item({ language: 'nl' })], { icon: '/i.png', next_url: '/feed.json?at=24' }), 'feed')
    expect(read).toMatchObject({ said: { items: [{ title: 'Quiet Feathers', tags: [], summary: '' }], next_url: '/feed.json?at=24' } }) // biome-ignore format: one line
    expect(JSON.stringify(read)).not.toContain('nl')
  })

  it.each<[string, object, string]>([
    ['a name that turns the writing about', item({ title: 'a\u202eb' }), 'title'],
    ['an empty name', item({ title: '' }), 'title'],
    ['a name beyond any length', item({ title: 'x'.repeat(10_000) }), 'title'],
    ['an id that is a path', item({ id: '../x' }), 'id'],
    ['nobody who made it', item({ authors: [] }), 'authors'],
    ['a day that is none', item({ date_modified: 'yesterday' }), 'date_modified'],
    ['a version that is none', item({}, { version: '1' }), 'version'],
    ['a key that is none', item({}, { signer: 'abc' }), 'signer'],
    ['a picture elsewhere', item({}, { strokes: ['https://evil.example/a.png'] }), 'strokes'],
    ['a picture of another server', item({}, { strokes: ['//evil.example/a.png'] }), 'strokes'],
    ['a path upwards', item({}, { more: '/items/../../x' }), 'more'],
    ['a number below none', item({}, { brushes: -1 }), 'brushes'],
  ])('is refused with %s', (_what, wrong, where) => {
    expect(readListing(feed([wrong]), 'feed')).toEqual({ wrong: expect.stringContaining(where) })
  })

  it('is refused with more items than a page has, and where it is no listing', () => {
    expect(readListing(feed(Array.from({ length: PAGE_ITEMS + 1 }, () => item())), 'feed')).toHaveProperty('wrong')
    expect(readListing(feed(Array.from({ length: PAGE_ITEMS }, () => item())), 'feed')).toHaveProperty('said')
    expect(readListing('null', 'feed')).toHaveProperty('wrong')
    expect(() => readListing('<html>', 'card')).toThrow('JSON')
    expect(() => readListing('['.repeat(JSON_NESTING_MAX + 1), 'card')).toThrow('depth')
  })

  it('lets a listing by a mark go on, whose address is long', () => {
    const next_url = `/like.json?mark=${'A'.repeat(3_500)}&at=24`
    expect(readListing(feed([], { next_url }), 'feed')).toMatchObject({ said: { next_url } })
  })

  it('is withdrawn by a text that means one item at one moment', () => {
    expect(withdrawalText('a', '2026-01-01T00:00:00Z')).toBe('satchel-exchange withdraw\na\n2026-01-01T00:00:00Z\n')
  })
})
