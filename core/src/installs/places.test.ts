import { createHash } from 'node:crypto'
import * as fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { carryOut, EMPTY_SHA, planFiles } from './places.ts'
import { FolderInMemory, sha } from './testing.ts'

const path = 'Shore/Rush.png'
const files = (bytes: string, at = path) => [{ path: at, sha256: sha(bytes) }]

describe('what an install puts over a file of a person', () => {
  it('is taken away in any order, and theirs comes back', async () => {
    for (const order of [
      ['A', 'B'],
      ['B', 'A'],
    ]) {
      const folder = new FolderInMemory({ [path]: 'theirs' })
      await folder.change('A', files('a'))
      await folder.change('B', files('b'))
      expect(folder.at(path)).toBe('b')
      for (const install of order) await folder.change(install, [])
      expect(folder.all()).toEqual({ [path]: 'theirs' })
    }
  })

  it('with the very same bytes twice stays until both are out', async () => {
    const folder = new FolderInMemory({})
    await folder.change('A', files('same'))
    await folder.change('B', files('same'))
    await folder.change('A', [])
    expect(folder.at(path)).toBe('same')
    await folder.change('B', files('same'), { repairs: true })
    await folder.change('B', [])
    expect(folder.all()).toEqual({})
  })

  it('comes back, too, where the person has deleted what had replaced it', async () => {
    const folder = new FolderInMemory({ [path]: 'theirs' })
    await folder.change('A', files('a'))
    folder.person(path, undefined)
    await folder.change('A', [])
    expect(folder.all()).toEqual({ [path]: 'theirs' })
  })

  it('comes back after the install above it was brought up to date', async () => {
    const folder = new FolderInMemory({ [path]: 'theirs' })
    await folder.change('A', files('a'))
    await folder.change('B', files('b'))
    await folder.change('A', files('a2'))
    expect(folder.at(path)).toBe('b')
    await folder.change('B', [])
    expect(folder.at(path)).toBe('a2')
    await folder.change('A', [])
    expect(folder.all()).toEqual({ [path]: 'theirs' })
  })

  it('is kept when a repair covers it; the newest has its place, older ones lie beside', async () => {
    const folder = new FolderInMemory({ [path]: 'theirs' })
    await folder.change('A', files('a'))
    folder.person(path, 'edited')
    const repaired = await folder.change('A', files('a'), { repairs: true })
    expect([repaired.said.written, folder.at(path)]).toEqual([1, 'a'])
    const out = await folder.change('A', [])
    expect(out.said.beside).toEqual([{ path, to: 'Shore/Rush 2.png' }])
    expect(folder.all()).toEqual({ [path]: 'edited', 'Shore/Rush 2.png': 'theirs' })
  })

  it('stays where the person has changed it, and says so', async () => {
    const folder = new FolderInMemory({ 'Shore/Rush 2.png': 'another' })
    await folder.change('A', files('a'))
    folder.person(path, 'edited')
    expect((await folder.change('A', [])).said).toMatchObject({ stayed: [path], beside: [] })
    expect(folder.all()).toEqual({ [path]: 'edited', 'Shore/Rush 2.png': 'another' })
  })

  it('is not touched by a repair of an install below, but put on top by it', async () => {
    const folder = new FolderInMemory({})
    await folder.change('A', files('a'))
    await folder.change('B', files('b'))
    await folder.change('A', files('a'), { repairs: true })
    expect(folder.at(path)).toBe('a')
    await folder.change('A', [])
    expect(folder.at(path)).toBe('b')
  })
})

it('knows an empty file by its hash', () => {
  expect(EMPTY_SHA).toBe(createHash('sha256').digest('hex'))
})

const PATHS = ['a.png', 'a 2.png', 'Shore/b', 'Shore/b.tune']
const INSTALLS = ['A', 'B', 'C', 'D']
/** Bytes that several installs bring, and a person has from the beginning, too. */
const SHARED = 'shared'

const somePaths = fc.subarray(PATHS, { minLength: 1 })
const operation = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({
      does: fc.constant('put' as const),
      install: fc.constantFrom(...INSTALLS),
      paths: somePaths,
      shared: fc.boolean(),
      stopAt: fc.option(fc.nat(12), { nil: undefined }),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      does: fc.constantFrom('repair' as const, 'out' as const),
      install: fc.constantFrom(...INSTALLS),
      stopAt: fc.option(fc.nat(12), { nil: undefined }),
    }),
  },
  {
    weight: 3,
    arbitrary: fc.record({
      does: fc.constantFrom('edit' as const, 'delete' as const),
      path: fc.constantFrom(...PATHS),
    }),
  },
)

describe('any sequence of puts, updates, repairs and take-outs, with a person’s own changes and stops between', () => {
  it('gives the person back all of theirs, and leaves nothing of ours', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.dictionary(fc.constantFrom(...PATHS), fc.constantFrom('first', SHARED), { maxKeys: 3 }),
        fc.array(operation, { maxLength: 14 }),
        async (begins, operations) => {
          let n = 0
          const begun = Object.fromEntries(
            Object.entries(begins).map(([at, bytes]) => [at, bytes === SHARED ? SHARED : `theirs ${at}`]),
          )
          const folder = new FolderInMemory(begun)
          /** What the person has at each path that they did not write over or take away themselves, the newest last. */
          const theirs = new Map<string, string[]>(Object.entries(begun).map(([at, bytes]) => [at, [bytes]]))
          const held = new Map<string, { path: string; sha256: string }[]>()
          // a stop may leave theirs uncovered that was to be covered: it is then taken for both
          const stopped = operations.some((each) => 'stopAt' in each && each.stopAt !== undefined)
          for (const operation of operations) {
            if (operation.does === 'edit' || operation.does === 'delete') {
              const { path: at } = operation
              const seen = folder.at(at)
              for (const [where, all] of theirs)
                theirs.set(
                  where,
                  all.filter((bytes) => bytes !== seen),
                )
              const mine = theirs.get(at) ?? []
              const bytes = operation.does === 'edit' ? `mine ${++n}` : undefined
              folder.person(at, bytes)
              theirs.set(at, bytes === undefined ? mine : [...mine, bytes])
              continue
            }
            const { install, stopAt } = operation
            const before = held.get(install) ?? []
            const files =
              operation.does === 'put'
                ? operation.paths.map((at) => {
                    const bytes = operation.shared ? SHARED : `${install} ${++n}`
                    return { path: at, sha256: folder.bring(bytes) }
                  })
                : operation.does === 'repair'
                  ? before
                  : []
            await folder.change(install, files, { repairs: operation.does === 'repair', stopAt })
            // what was given back beside another file of theirs lies there from now on
            for (const [where, bytes] of Object.entries(folder.all()))
              for (const [at, all] of theirs)
                if (at !== where && bytes !== SHARED && all.includes(bytes)) {
                  theirs.set(
                    at,
                    all.filter((each) => each !== bytes),
                  )
                  theirs.set(where, [...(theirs.get(where) ?? []), bytes])
                }
            // what was stopped is still held, until it is taken out whole
            held.set(install, files.length > 0 || stopAt === undefined ? files : before)
          }
          for (const install of INSTALLS) await folder.change(install, [])
          const left = Object.values(folder.all())
          const all = [...theirs.values()].flat()
          for (const [at, bytes] of theirs) {
            const last = bytes.filter((each) => each !== SHARED).at(-1)
            if (last !== undefined && !bytes.includes(SHARED) && !stopped) expect(folder.at(at)).toBe(last)
          }
          for (const bytes of all) if (bytes !== SHARED) expect(left).toContain(bytes)
          // where a stop left theirs uncovered and they wrote over it, what was kept of it may come back beside
          const ever = new Set([...Object.values(begun), ...Array.from({ length: n }, (_, i) => `mine ${i + 1}`)])
          const ours = left.filter((bytes) => !ever.has(bytes) && bytes !== SHARED)
          expect(ours).toEqual([])
          expect(new Set(left).size + (left.filter((bytes) => bytes === SHARED).length || 1) - 1).toBe(left.length)
          expect([folder.places.size, folder.kept.size]).toEqual([0, 0])
          const shared = (begin: Record<string, string>) =>
            Object.values(begin).filter((bytes) => bytes === SHARED).length
          expect(shared(folder.all())).toBeLessThanOrEqual(shared(begun))
        },
      ),
      { numRuns: 3_000 },
    )
  }, 60_000)

  it('plans nothing the second time', () => {
    const places = new Map([[path, { theirs: [], claims: [{ install: 'A', sha256: sha('a') }] }]])
    const plan = planFiles({ there: new Map([[path, sha('a')]]), places }, 'A', files('a'))
    expect([plan.write, plan.remove, plan.keep, plan.after.size]).toEqual([[], [], [], 0])
    expect(carryOut).toBeTypeOf('function')
  })
})
