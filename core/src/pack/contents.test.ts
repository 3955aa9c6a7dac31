import fc from 'fast-check'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { type Contents, choosePart, entriesOfPart, OPEN_FILES, partSizes, StoredPart, stepsText } from './contents.ts'
import type { PackManifest } from './manifest.ts'
import { nameOfPart, type Part, readPart } from './parts.ts'

const file = (path: string, more: object = {}) => ({
  ...{ path, method: 0, crc: 1, packedBytes: 10, sizeBytes: 10, at: 0, brushes: [] as number[] },
  ...more,
})
const contents: Contents = {
  version: 1,
  satchelPath: 'Shore.satchel.zip',
  files: [
    file('Reeds/one.png', { of: OPEN_FILES, brushes: [0] }),
    file('Reeds/two.png', { of: OPEN_FILES, brushes: [1] }),
    file('Sand/three.png', { of: OPEN_FILES, brushes: [2] }),
    file('Apps/Dunlin 3/one.gbr', { of: 0, brushes: [0] }),
    file('Apps/Dunlin 3/grains/paper.png', { of: 0, brushes: [0, 2] }),
    file('Apps/Dunlin 3/three.gbr', { of: 0, brushes: [2] }),
    file('Apps/Dunlin 3/carry-over.html', { of: 0 }),
    file('Apps/Plover 1/one.png', { of: 1, brushes: [0] }),
    file('Shore.satchel.zip'),
    file('LICENSE.txt'),
    file('README.txt'),
    file('SHA256SUMS'),
  ],
  apps: [
    {
      ...{ id: 'dunlin', name: 'Dunlin', appVersion: '3', folder: 'Apps/Dunlin 3' },
      ...{ afterCopying: ['Press "Scan again".'], arrives: [], refused: [{ brush: 1, why: 'It has no picture.' }] },
    },
    {
      ...{ id: 'plover', name: 'Plover', appVersion: '1', folder: 'Apps/Plover 1' },
      ...{ afterCopying: [], arrives: [], refused: [] },
    },
  ],
}
const brush = (id: string, name: string) => ({ id, name })
const manifest = {
  ...{ title: 'Shore', release: '1.0.0', maker: 'Ida', licence: 'CC0-1.0' },
  brushes: [brush('a', 'One'), brush('b', 'Two'), brush('c', 'Three')],
  sets: [
    { name: 'Reeds', brushes: ['a', 'b'] },
    { name: 'Sand', brushes: ['c'] },
    { name: 'Bare', brushes: ['b'] },
  ],
} as unknown as PackManifest
const dunlin = { kind: 'app', id: 'dunlin' } as const
const paths = (part: Part) => choosePart(contents, manifest, part)?.files.map(({ path }) => path)

it('says how large each brush and each set are, as choosing them gives them', () => {
  for (const [at, as] of [
    [0, dunlin],
    [1, { kind: 'app', id: 'plover' }],
    [OPEN_FILES, { kind: 'open' }],
  ] as const) {
    const size = (of: Part['of']) => {
      const files = choosePart(contents, manifest, { as, of })?.files ?? []
      return { files: files.length, bytes: files.reduce((sum, { packedBytes }) => sum + packedBytes, 0) }
    }
    expect(partSizes(contents, manifest, at)).toEqual({
      brushes: manifest.brushes.map(({ id }) => size({ kind: 'brush', id })),
      sets: manifest.sets.map((_, place) => size({ kind: 'set', at: place })),
    })
  }
})

describe('a part of a download', () => {
  it('is all that lies there for an app, with the page of what arrives', () => {
    expect(paths({ as: dunlin, of: { kind: 'all' } })).toEqual([
      'Apps/Dunlin 3/one.gbr',
      'Apps/Dunlin 3/grains/paper.png',
      'Apps/Dunlin 3/three.gbr',
      'Apps/Dunlin 3/carry-over.html',
    ])
  })

  it('of a set or a brush has their files, and a grain that they share with others', () => {
    expect(paths({ as: dunlin, of: { kind: 'set', at: 1 } })).toEqual([
      'Apps/Dunlin 3/grains/paper.png',
      'Apps/Dunlin 3/three.gbr',
    ])
    expect(paths({ as: dunlin, of: { kind: 'brush', id: 'a' } })).toEqual([
      'Apps/Dunlin 3/one.gbr',
      'Apps/Dunlin 3/grains/paper.png',
    ])
    expect(paths({ as: { kind: 'open' }, of: { kind: 'set', at: 0 } })).toEqual(['Reeds/one.png', 'Reeds/two.png'])
  })

  it('is not there where nothing of it is: another app, another set, a brush that could not be made', () => {
    expect(paths({ as: { kind: 'app', id: 'knot' }, of: { kind: 'all' } })).toBeUndefined()
    expect(paths({ as: dunlin, of: { kind: 'set', at: 9 } })).toBeUndefined()
    expect(paths({ as: dunlin, of: { kind: 'set', at: 2 } })).toBeUndefined()
    expect(paths({ as: dunlin, of: { kind: 'brush', id: 'z' } })).toBeUndefined()
    expect(paths({ as: { kind: 'satchel' }, of: { kind: 'brush', id: 'a' } })).toBeUndefined()
  })

  it('goes with its licence and what signs it, and tells what is not in it', () => {
    const part: Part = { as: dunlin, of: { kind: 'set', at: 0 } }
    const chosen = choosePart(contents, manifest, part)
    if (!chosen) throw new Error('nothing was chosen')
    expect(entriesOfPart(contents, chosen, part).map(({ path }) => path)).toEqual([
      'LICENSE.txt',
      'SHA256SUMS',
      'Apps/Dunlin 3/one.gbr',
      'Apps/Dunlin 3/grains/paper.png',
    ])
    const text = stepsText(manifest, chosen, 'Shore.zip')
    expect(text).toContain('Reeds, of Shore, release 1.0.0, for Dunlin 3\n')
    expect(text).toContain('  Two: It has no picture.\n')
    expect(text).toContain('  3. Press "Scan again".\n')
  })
})

const anyPart = fc.record({
  as: fc.oneof(
    fc.record({ kind: fc.constant('app' as const), id: fc.string({ minLength: 1, maxLength: 100 }) }),
    fc.constant({ kind: 'open' as const }),
    fc.constant({ kind: 'satchel' as const }),
  ),
  of: fc.oneof(
    fc.constant({ kind: 'all' as const }),
    fc.record({ kind: fc.constant('set' as const), at: fc.nat(100_000) }),
    fc.record({ kind: fc.constant('brush' as const), id: fc.string({ minLength: 1, maxLength: 100 }) }),
  ),
})

it('a part is named in an address and read again, whatever its ids are; other words name none', () => {
  fc.assert(
    fc.property(anyPart, (part) => {
      const { as, of } = nameOfPart(part)
      expect(readPart(as, of)).toEqual(part)
      expect(v.parse(StoredPart, part)).toEqual(part)
    }),
  )
  for (const [
    as,
    of,
  ] of [['', 'all'], ['app.', 'all'], ['open', ''], ['open', 'set.'], ['open', 'set.-1'], ['opens', 'all'], ['open', 'set.1e9']] as const) // biome-ignore format: a table
    expect(readPart(as, of), `${as} ${of}`).toBeUndefined()
})
