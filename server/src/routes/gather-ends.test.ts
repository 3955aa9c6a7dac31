import { defaultRecipe, type Recipe } from '@satchel/core/brush/recipe'
import { BUILT_IN } from '@satchel/core/destinations/built-in'
import { planFit } from '@satchel/core/destinations/plan'
import { FitWriter } from '@satchel/core/destinations/write-files'
import type { LooseEnd } from '@satchel/core/loose-ends/find'
import { encodePng } from '@satchel/node/png'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { gatherFiles, settledLedger as settled } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blot, waveTile } from '../testing/tips.ts'

type Line = {
  name: string
  kind: string
  outcome: string
  reason: string
  setName: string
  grainName: string | null
  path: string
}
type Ends = {
  ends: LooseEnd[]
  rules: { from: string; to: string; mends: number }[]
  mends: { id: string }[]
  brushes: number
}

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(() => server.close())

const recipe = (): Recipe => {
  const usual = defaultRecipe({ sizePx: 61, reading: 'light' })
  const grain = {
    sha256: '0'.repeat(64) as never,
    anchor: 'stamp' as const,
    scalePct: 130,
    strength: 0.7,
    brightness: 0,
    contrast: 0.2,
    randomTurn: 'none' as const,
  }
  return { ...usual, path: { ...usual.path, spacingPct: 37 }, ground: { grain } }
}

/** A library as an app has it: two brushes with one grain, their folder called as is said. */
function libraryFiles(renamed: (path: string) => string): Record<string, Uint8Array> {
  const writer = new FitWriter(BUILT_IN.sanderling, { library: 'Marsh' })
  const files: Record<string, Uint8Array> = {}
  for (const [k, name] of ['Reed', 'Rush'].entries()) {
    const brush = {
      name,
      set: 'Reeds',
      maker: '',
      licence: '',
      frames: [blot(k + 1, 48)],
      recipe: recipe(),
      grain: { name: 'Wave', pixels: waveTile() },
    }
    for (const arrival of planFit(brush, BUILT_IN.sanderling).arrivals)
      for (const { path, bytes } of writer.write(arrival)) files[renamed(path)] = bytes
  }
  return files
}

const linesOf = async (id: string) => (await person.json<{ lines: Line[] }>(`/api/gathers/${id}/lines`)).lines
const brushesOf = async (id: string) => (await linesOf(id)).filter(({ kind }) => kind === 'settings')
const ends = (id: string) => person.json<Ends>(`/api/gathers/${id}/loose-ends`)
const mend = (id: string, mending: object) =>
  person.post<{ id: string; mended: number }>(`/api/gathers/${id}/loose-ends`, { mending })

async function takenRecipes(id: string): Promise<Record<string, Recipe>> {
  await person.post(`/api/gathers/${id}/take`)
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  const all: Record<string, Recipe> = {}
  for (const { id: brushId, name } of brushes)
    all[name] = (await person.json<{ recipe: Recipe }>(`/api/brushes/${brushId}`)).recipe
  return all
}

describe('a library of an app', () => {
  it('comes in as brushes with their recipes and grains; their pictures are no brushes of their own', async () => {
    const { id } = await gatherFiles(
      person,
      libraryFiles((path) => `old/${path}`),
    )
    const lines = await linesOf(id)
    expect(
      (await brushesOf(id)).map(({ name, outcome, setName, grainName }) => [name, outcome, setName, grainName]),
    ).toEqual([
      ['Reed', 'take', 'Reeds', 'Wave'],
      ['Rush', 'take', 'Reeds', 'Wave'],
    ])
    const pictures = lines.filter(({ kind }) => kind === 'png')
    expect(pictures.map(({ outcome }) => outcome)).toEqual(['skip', 'skip', 'skip'])
    expect(pictures[0]?.reason).toContain('which is taken with its settings')
    expect((await ends(id)).ends).toEqual([])
    const taken = await takenRecipes(id)
    expect(Object.keys(taken)).toEqual(['Reed', 'Rush'])
    const written = planFit(
      { name: 'Reed', set: '', maker: '', licence: '', frames: [blot(1, 48)], recipe: recipe() },
      BUILT_IN.sanderling,
    ).arrivals[0]?.recipe
    const { ground, ...rest } = taken.Reed ?? defaultRecipe()
    expect(rest).toEqual({ ...written, ground: undefined })
    expect(ground.grain).toMatchObject({ anchor: 'stamp', scalePct: 130, strength: 0.7 })
    const { materials } = await person.json<{ materials: { name: string }[] }>('/api/materials')
    expect(materials.map(({ name }) => name)).toEqual(['Wave'])
  })

  it('keeps what is made smaller, and says which settings were not understood', async () => {
    const files = libraryFiles((path) => path)
    const path = 'Sanderling 5/Marsh/Reeds/Reed.sand'
    const settings = JSON.parse(new TextDecoder().decode(files[path]))
    settings.settings['path.count'] = 'several'
    const { id } = await gatherFiles(person, { ...files, [path]: new TextEncoder().encode(JSON.stringify(settings)) })
    type Sized = Line & { id: string; width: number; shrunk: boolean }
    const find = async (name: string) => (await brushesOf(id)).find((line) => line.name === name) as Sized | undefined
    expect((await find('Reed'))?.reason).toBe('Of its settings these were not understood: path.count.')
    const rush = await find('Rush')
    await server.parts.deps.pool.query(
      `update gather_line set full_frames = frames, frames = jsonb_set(frames, '{0,width}', '24') where id = $1`,
      [rush?.id],
    )
    // whatever is read next, it stays
    await person.post(`/api/gathers/${id}/read`)
    await settled(person, id)
    expect((await find('Rush'))?.shrunk).toBe(true)
    expect((await settled(person, id)).tally).toMatchObject({ loose: 0, take: 2 })
  })

  it('whose folder was renamed says what it cannot find; one press mends it, and that can be undone', async () => {
    const files = libraryFiles((path) => `old/${path.replace('Sanderling 5', 'Sanderling 6')}`)
    const { id, ledger } = await gatherFiles(person, files)
    expect(ledger.tally).toMatchObject({ loose: 2 })
    const broken = await brushesOf(id)
    expect(broken.map(({ outcome }) => outcome)).toEqual(['skip', 'skip'])
    expect(broken[0]?.reason).toBe(
      'Its picture of the tip is not among these files: "Sanderling 5/Marsh/Reeds/Reed.png".',
    )
    const found = await ends(id)
    expect(found.ends.map(({ kind, brush, isSure, proposals }) => [kind, brush, isSure, proposals[0]?.by])).toEqual([
      ['tip', 'Reed', true, 'content'],
      ['grain', 'Reed', true, 'content'],
      ['tip', 'Rush', true, 'content'],
      ['grain', 'Rush', true, 'content'],
    ])
    expect(found.rules[0]).toEqual({ from: 'Sanderling 5', to: 'old/Sanderling 6', mends: 4 })
    const { id: mendId, mended } = await mend(id, { sure: true })
    expect(mended).toBe(4)
    await settled(person, id)
    expect((await brushesOf(id)).map(({ outcome, reason }) => [outcome, reason])).toEqual([
      ['take', ''],
      ['take', ''],
    ])
    await person.post(`/api/gathers/${id}/loose-ends/${mendId}/undo`)
    expect((await settled(person, id)).tally).toMatchObject({ loose: 2, take: 3 })
    // by a rule, and then in
    await mend(id, { rule: { from: 'Sanderling 5', to: 'old/Sanderling 6' } })
    await settled(person, id)
    expect((await takenRecipes(id)).Rush?.path.spacingPct).toBe(37)
  })

  it('that says no hashes is mended by what the library’s brushes of the same names look like', async () => {
    const { id: first } = await gatherFiles(
      person,
      libraryFiles((path) => path),
    )
    await person.post(`/api/gathers/${first}/take`)
    // the same brushes by another maker: their pictures have other names, and nobody knows their bytes
    const settings = (name: string) => ({
      name,
      pictures: `Old/${name === 'Reed' ? 'k3' : 'k9'}.png`,
      settings: { 'colour.reading': 'light' },
    })
    const { id } = await gatherFiles(person, {
      'New/Reed.sand': new TextEncoder().encode(JSON.stringify(settings('Reed'))),
      'New/Rush.sand': new TextEncoder().encode(JSON.stringify(settings('Rush'))),
      'New/one.png': encodePng(blot(1, 48)),
      'New/two.png': encodePng(blot(2, 48)),
    })
    const found = await ends(id)
    expect(found.ends.map(({ brush, proposals }) => [brush, proposals[0]?.by, proposals[0]?.path])).toEqual([
      ['Reed', 'look', 'New/one.png'],
      ['Rush', 'look', 'New/two.png'],
    ])
  })

  it('of which a picture is missing leaves that brush out, and takes the others', async () => {
    const files = libraryFiles((path) => path)
    const { 'Sanderling 5/Marsh/Reeds/Reed.png': _, ...rest } = files
    const { id } = await gatherFiles(person, rest)
    expect((await ends(id)).ends).toMatchObject([{ brush: 'Reed', kind: 'tip', isSure: false }])
    // chosen by hand, the other one's picture does
    await mend(id, {
      chosen: [{ key: 'tip Sanderling 5/Marsh/Reeds/Reed.sand', path: 'Sanderling 5/Marsh/Reeds/Rush.png' }],
    })
    await settled(person, id)
    expect((await brushesOf(id)).map(({ name, outcome }) => [name, outcome])).toEqual([
      ['Reed', 'take'],
      // the same pixels once more
      ['Rush', 'skip'],
    ])
    expect(Object.keys(await takenRecipes(id))).toEqual(['Reed'])
  })
})
