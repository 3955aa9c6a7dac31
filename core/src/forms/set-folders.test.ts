import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { outerSets } from './set-folders.ts'

const outer = (...paths: string[]) =>
  Object.fromEntries(
    outerSets(
      paths.map((folder) => ({ folder, setName: folder.split('/').at(-1) ?? '' })),
      (name) => name.replaceAll('_', ' '),
    ),
  )

describe('sets that come in folders', () => {
  it('are put inside the nearest folder that holds several', () => {
    expect(outer('Lib/Shore/Rocks', 'Lib/Shore/Sand', 'Lib/Cliffs/Chalk', 'Lib/Cliffs/Flint')).toEqual({
      ...{ rocks: 'Shore', sand: 'Shore', chalk: 'Cliffs', flint: 'Cliffs' },
    })
    expect(outer('old_lib/Rocks', 'old_lib/Sand')).toEqual({ rocks: 'old lib', sand: 'old lib' })
  })

  it('stand in the folder above, where their own holds no other', () => {
    expect(outer('Lib/Shore/Rocks', 'Lib/Cliffs/Chalk', 'Lib/Foam')).toEqual({
      rocks: 'Lib',
      chalk: 'Lib',
      foam: 'Lib',
    })
  })

  it('stand alone where all others of their folder lie deeper', () => {
    expect(outer('Lib/Shore/Rocks', 'Lib/Shore/Sand', 'Lib/Foam')).toEqual({ rocks: 'Shore', sand: 'Shore' })
  })

  it('stand beside the brushes that lie in the folder itself', () => {
    expect(outer('Shore', 'Shore/Rocks')).toEqual({ shore: 'Shore', rocks: 'Shore' })
  })

  it('stand alone where they came alone', () => {
    expect(outer('Rocks', 'Sand', '')).toEqual({})
    expect(outer('Lib/Rocks', 'Lib/Rocks')).toEqual({})
  })

  it('are told apart by the folder above, where two are called the same', () => {
    expect(outer('A/Misc/x', 'A/Misc/y', 'B/misc/z', 'B/misc/w')).toEqual({
      ...{ x: 'A, Misc', y: 'A, Misc', z: 'B, misc', w: 'B, misc' },
    })
  })

  it('are inside a folder of their own path, and never alone there', () => {
    const part = fc.constantFrom('a', 'b', 'c', 'd')
    const path = fc.array(part, { minLength: 1, maxLength: 4 }).map((parts) => parts.join('/'))
    fc.assert(
      fc.property(fc.array(path, { maxLength: 12 }), (paths) => {
        const places = paths.map((folder, i) => ({ folder, setName: `s${i}` }))
        const found = outerSets(places, (name) => name)
        const count = new Map<string, number>()
        for (const name of found.values()) count.set(name, (count.get(name) ?? 0) + 1)
        for (const [key, name] of found) {
          const folder = places.find(({ setName }) => setName === key)?.folder ?? ''
          expect(folder.split('/')).toEqual(expect.arrayContaining(name.split(', ')))
          expect(count.get(name)).toBeGreaterThan(1)
        }
        // those of one folder are never parted, and never left out
        for (const one of places)
          for (const other of places)
            if (one !== other && one.folder === other.folder)
              expect(found.get(one.setName)).toBe(found.get(other.setName) ?? 'some')
      }),
    )
  })
})
