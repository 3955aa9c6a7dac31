import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FolderFollower, type Ports, SIGN_MS } from './follow.ts'
import { type KnownFile, type LookPlan, planLook, type SeenFile } from './look.ts'
import { type Listed, notLookedYet, settleSight, sight, type Watching } from './steady.ts'
import { NOTHING_TOLD, tellDay } from './told.ts'

const known = (path: string, sha256: string, isGone = false): KnownFile => ({ id: `of ${path}`, path, sha256, isGone })
const file = (path: string, sha256: string | null): SeenFile => ({ path, sha256, sizeBytes: 9 })
const nothing: LookPlan = { same: [], moved: [], changed: [], fresh: [], gone: [] }

describe('a look at a folder', () => {
  it('tells what changed, is new and is gone', () => {
    const before = [known('a.png', 'A'), known('b.png', 'B'), known('c.png', 'C')]
    const seen = [file('a.png', 'A'), file('b.png', 'B2'), file('d.png', 'D')]
    const changed = [{ id: 'of b.png', file: seen[1] }]
    expect(planLook(before, seen)).toEqual({
      ...nothing,
      same: ['of a.png'],
      changed,
      fresh: [seen[2]],
      gone: ['of c.png'],
    })
  })

  it('knows a file by what it holds, where its name changed', () => {
    const moved = [{ id: 'of a.png', path: 'clouds/high.png' }]
    expect(planLook([known('a.png', 'A')], [file('clouds/high.png', 'A')])).toEqual({ ...nothing, moved })
  })

  it('lets names change places, and move on by one', () => {
    const before = [known('1.png', 'A'), known('2.png', 'B'), known('3.png', 'C')]
    const places = (plan: LookPlan) => plan.moved.map(({ id, path }) => `${id} > ${path}`).sort()
    const swapped = planLook(before, [file('1.png', 'B'), file('2.png', 'A'), file('3.png', 'C')])
    expect(places(swapped)).toEqual(['of 1.png > 2.png', 'of 2.png > 1.png'])
    const shifted = planLook(before, [file('2.png', 'A'), file('3.png', 'B'), file('4.png', 'C')])
    expect(places(shifted)).toEqual(['of 1.png > 2.png', 'of 2.png > 3.png', 'of 3.png > 4.png'])
    expect([swapped.changed, shifted.changed, shifted.gone]).toEqual([[], [], []])
  })

  it('lets a file go on under its name, where a copy of how it was lies beside it', () => {
    const seen = [file('a old.png', 'A'), file('a.png', 'A2')]
    const changed = [{ id: 'of a.png', file: seen[1] }]
    expect(planLook([known('a.png', 'A')], seen)).toEqual({ ...nothing, changed, fresh: [seen[0]] })
    // and where that copy was laid over another file
    const over = planLook([known('a.png', 'A'), known('b.png', 'B')], [file('a.png', 'A2'), file('b.png', 'A')])
    expect(over.changed.map(({ id, file }) => `${id} ${file.sha256}`)).toEqual(['of a.png A2', 'of b.png A'])
    const twice = planLook([known('a.png', 'A'), known('b.png', 'B')], [file('a.png', 'A'), file('b.png', 'A')])
    expect([twice.same, twice.changed.map(({ id }) => id)]).toEqual([['of a.png'], ['of b.png']])
  })

  it('leaves alone what is being written', () => {
    expect(planLook([known('a.png', 'A')], [file('a.png', null), file('new.png', null)])).toEqual({
      ...nothing,
      same: ['of a.png'],
    })
  })

  it('knows a file again that was gone, where it lay or elsewhere', () => {
    const gone = [known('a.png', 'A', true)]
    expect(planLook(gone, [file('a.png', 'A')]).moved).toEqual([{ id: 'of a.png', path: 'a.png' }])
    expect(planLook(gone, [file('b.png', 'A')]).moved).toEqual([{ id: 'of a.png', path: 'b.png' }])
    expect(planLook(gone, [file('a.png', 'A2')]).changed.map(({ id }) => id)).toEqual(['of a.png'])
    // one that lies at its path now goes before one that did once
    const both = [known('a.png', 'A', true), { ...known('a.png', 'B'), id: 'now' }]
    expect(planLook(both, [file('a.png', 'C')])).toMatchObject({ changed: [{ id: 'now' }], gone: ['of a.png'] })
  })

  const sha = fc.constantFrom('A', 'B', 'C', 'D')
  const folder = fc.uniqueArray(fc.record({ path: fc.constantFrom(...'abcdefgh'), sha256: sha }), { selector: ({ path }) => path }) // biome-ignore format: one folder
  const goneOnes = fc.array(sha, { maxLength: 3 })

  it('puts each file in one place, whatever came of the folder', () => {
    fc.assert(
      fc.property(folder, goneOnes, folder, fc.infiniteStream(fc.boolean()), (before, gone, now, isWriting) => {
        const all = [
          ...before.map(({ path, sha256 }) => known(path, sha256)),
          ...gone.map((sha256, i) => ({ id: `gone ${i}`, path: 'abc'[i] ?? 'a', sha256, isGone: true })),
        ]
        const seen = now.map(({ path, sha256 }) => file(path, isWriting.next().value ? null : sha256))
        const { same, moved, changed, fresh, gone: left } = planLook(all, seen)
        const ids = [...same, ...moved.map(({ id }) => id), ...changed.map(({ id }) => id), ...left]
        expect(ids.sort()).toEqual(all.map(({ id }) => id).sort())
        const paths = [...moved.map(({ path }) => path), ...changed.map((each) => each.file.path), ...fresh.map(({ path }) => path)] // biome-ignore format: all paths
        const kept = all.filter(({ id }) => same.includes(id)).map(({ path }) => path)
        const written = seen.filter(({ sha256 }) => sha256 === null).map(({ path }) => path)
        expect([...new Set([...paths, ...kept, ...written])].sort()).toEqual(seen.map(({ path }) => path).sort())
        expect(new Set(paths).size).toBe(paths.length)
        // what is said to have moved holds what it held
        const held = new Map(all.map(({ id, sha256 }) => [id, sha256]))
        for (const { id, path } of moved) expect(seen.find((each) => each.path === path)?.sha256).toBe(held.get(id))
        for (const { id, file: to } of changed) expect(held.get(id)).not.toBe(to.sha256)
      }),
    )
  })

  it('finds every file again however names change, where all hold something else', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([...'abcdefgh'], { minLength: 4 }), fc.shuffledSubarray([...'abcdefgh'], { minLength: 8 }), (paths, names) => {
        const before = paths.map((path) => known(path, path.toUpperCase()))
        const seen = paths.map((path, i) => file(names[i] ?? '', path.toUpperCase()))
        const plan = planLook(before, seen)
        expect([plan.changed, plan.fresh, plan.gone]).toEqual([[], [], []])
      }),
    ) // biome-ignore format: two rows
  })
})

describe('files that lie still', () => {
  const at = (path: string, sizeBytes: number, modifiedMs: number): Listed => ({ path, sizeBytes, modifiedMs })
  /** Looks at listings one after the other; what is read has its size as its hash. */
  const watch = (...listings: Listed[][]) => {
    let watching: Watching = notLookedYet()
    return listings.map((now) => {
      const { toHash, isMoving } = sight(watching, now)
      const read = new Map(toHash.map(({ path, sizeBytes }) => [path, String(sizeBytes)]))
      const settled = settleSight(watching, now, read)
      watching = settled.watching
      const said = Object.fromEntries(settled.seen.map(({ path, sha256 }) => [path, sha256]))
      return { said, isMoving, read: toHash.map(({ path }) => path) }
    })
  }

  it('are read once, when two looks found them the same', () => {
    const still = [at('a', 5, 1)]
    expect(watch(still, still, still)).toEqual([
      { said: { a: null }, isMoving: true, read: [] },
      { said: { a: '5' }, isMoving: false, read: ['a'] },
      { said: { a: '5' }, isMoving: false, read: [] },
    ])
  })

  it('are waited for while they grow, and while they are empty', () => {
    const [, growing, larger, same] = watch([at('a', 5, 1)], [at('a', 9, 2)], [at('a', 9, 3)], [at('a', 9, 3)])
    expect([growing?.said, larger?.said, same?.said]).toEqual([{ a: null }, { a: null }, { a: '9' }])
    const empty = watch([at('a', 0, 1)], [at('a', 0, 1)])
    expect(empty[1]).toEqual({ said: { a: null }, isMoving: true, read: [] })
  })

  it('are gone only when they were missed twice', () => {
    const still = [at('a', 5, 1)]
    const looks = watch(still, still, [], [])
    expect(looks.slice(2)).toEqual([
      { said: { a: null }, isMoving: true, read: [] },
      { said: {}, isMoving: false, read: [] },
    ])
  })

  it('have no hash where they changed while they were read', () => {
    const now = [at('a', 5, 1)]
    const { watching } = settleSight(notLookedYet(), now, new Map())
    const settled = settleSight(watching, now, new Map())
    expect(settled.seen).toEqual([{ path: 'a', sizeBytes: 5, sha256: null }])
    expect(sight(settled.watching, now).toHash).toEqual(now)
  })
})

it('tells a day in one line', () => {
  expect(tellDay(NOTHING_TOLD)).toBe('Nothing changed.')
  expect(tellDay({ ...NOTHING_TOLD, changed: 12, fresh: 1, gone: 2 })).toBe(
    '12 brushes have new pixels; 1 new one waits in the ledger; 2 are gone from the folder, their brushes stay.',
  )
})

describe('following a folder', () => {
  /** A workspace that wants what it does not have, and a folder whose files have their size as their hash. */
  function place(folder: Map<string, number>) {
    const has = new Map<string, string>()
    let told: readonly SeenFile[] = []
    const calls = { looks: 0, sent: [] as string[], pauses: 0 }
    let reading = 0
    const wanted = () => told.flatMap(({ path, sha256 }) => (sha256 && has.get(path) !== sha256 ? [path] : []))
    const how = () => ({ day: '2026-12-02', wanted: wanted(), reading, today: { ...NOTHING_TOLD, fresh: has.size } })
    const ports: Ports = {
      list: async () => [...folder].map(([path, sizeBytes]) => ({ path, sizeBytes, modifiedMs: sizeBytes })),
      hash: async ({ sizeBytes }) => String(sizeBytes),
      async look(files) {
        calls.looks++
        told = files
        return { ...how(), before: { ...NOTHING_TOLD, fresh: has.size } }
      },
      async send(path, sha256) {
        if (String(folder.get(path)) !== sha256) return false
        calls.sent.push(`${path} ${sha256}`)
        has.set(path, sha256)
        reading = 2
        return true
      },
      how: async () => how(),
      async pause() {
        calls.pauses++
        reading--
      },
    }
    return { ports, calls }
  }

  it('sends what is wanted once it lies still, waits until it is read, and is quiet after that', async () => {
    const folder = new Map([['a', 5]])
    const { ports, calls } = place(folder)
    const follower = new FolderFollower(ports)
    expect(await follower.look(0)).toMatchObject({ isMoving: true })
    expect(calls.sent).toEqual([])
    expect(await follower.look(2)).toEqual({ brought: { ...NOTHING_TOLD, fresh: 1 }, isMoving: false })
    expect([calls.sent, calls.pauses, calls.looks]).toEqual([['a 5'], 2, 2])
    expect(await follower.look(4)).toEqual({ brought: undefined, isMoving: false })
    expect(calls.looks).toBe(2)
    // a sign that it is still there
    expect(await follower.look(4 + SIGN_MS)).toEqual({ brought: NOTHING_TOLD, isMoving: false })
    expect(calls.looks).toBe(3)
  })

  it('tells again what could not be sent, and what an answer was lost of', async () => {
    const folder = new Map([['a', 5], ['b', 6]]) // biome-ignore format: two files
    const { ports, calls } = place(folder)
    let isLost = false
    const follower = new FolderFollower({
      ...ports,
      list: async () => {
        const now = await ports.list()
        // changed between the look and the sending
        if (calls.looks === 1) folder.set('b', 7)
        return now
      },
      async look(files) {
        if (isLost) throw new Error('no answer')
        return ports.look(files)
      },
    })
    await follower.look(0)
    expect(await follower.look(1)).toMatchObject({ isMoving: true })
    expect(calls.sent).toEqual(['a 5'])
    isLost = true
    await expect(follower.look(2)).rejects.toThrow('no answer')
    await expect(follower.look(3)).rejects.toThrow('no answer')
    isLost = false
    expect(await follower.look(4)).toEqual({ brought: { ...NOTHING_TOLD, fresh: 1 }, isMoving: false })
    expect(calls.sent).toEqual(['a 5', 'b 7'])
  })
})
