import { createHash } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import { EMPTY_SHA, planFiles } from './places.ts'
import { FolderInMemory, keepsTheLaw, sha } from './testing.ts'

const path = 'Shore/Rush.png'
const known = ['a', 'a2', 'b', 'same']
const files = (bytes: string) => [{ path, sha256: sha(bytes) }]
/** A folder to which installs bring short bytes. */
function folderOf(begun: Record<string, string>) {
  const folder = new FolderInMemory(begun)
  for (const bytes of known) folder.bring(bytes)
  return folder
}

describe('what an install puts over a file of a person', () => {
  it('is taken away in any order, and theirs comes back', async () => {
    for (const order of [
      ['A', 'B'],
      ['B', 'A'],
    ]) {
      const folder = folderOf({ [path]: 'theirs' })
      await folder.change('A', files('a'))
      await folder.change('B', files('b'))
      expect(folder.at(path)).toBe('b')
      for (const install of order) await folder.change(install, [])
      expect(folder.all()).toEqual({ [path]: 'theirs' })
    }
  })

  it('with the very same bytes twice stays until both are out', async () => {
    const folder = folderOf({})
    await folder.change('A', files('same'))
    await folder.change('B', files('same'))
    await folder.change('A', [])
    expect(folder.at(path)).toBe('same')
    await folder.change('B', files('same'), { repairs: true })
    await folder.change('B', [])
    expect(folder.all()).toEqual({})
  })

  it('comes back, too, where the person has deleted what had replaced it', async () => {
    const folder = folderOf({ [path]: 'theirs' })
    await folder.change('A', files('a'))
    folder.person(path, undefined)
    await folder.change('A', [])
    expect(folder.all()).toEqual({ [path]: 'theirs' })
  })

  it('comes back after the install above it was brought up to date', async () => {
    const folder = folderOf({ [path]: 'theirs' })
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
    const folder = folderOf({ [path]: 'theirs' })
    await folder.change('A', files('a'))
    folder.person(path, 'edited')
    const repaired = await folder.change('A', files('a'), { repairs: true })
    expect([repaired.said.written, folder.at(path)]).toEqual([1, 'a'])
    const out = await folder.change('A', [])
    expect(out.said.beside).toEqual([{ path, to: 'Shore/Rush 2.png' }])
    expect(folder.all()).toEqual({ [path]: 'edited', 'Shore/Rush 2.png': 'theirs' })
  })

  it('stays where the person has changed it, and says so', async () => {
    const folder = folderOf({ 'Shore/Rush 2.png': 'another' })
    await folder.change('A', files('a'))
    folder.person(path, 'edited')
    expect((await folder.change('A', [])).said).toMatchObject({ stayed: [path], beside: [] })
    expect(folder.all()).toEqual({ [path]: 'edited', 'Shore/Rush 2.png': 'another' })
  })

  it('is not touched by a repair of an install below, but put on top by it', async () => {
    const folder = folderOf({})
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

describe('any sequence of puts, updates, repairs and take-outs, with a person’s own changes and stops between', () => {
  it('gives the person back all of theirs, and leaves nothing of ours', async () => {
    await keepsTheLaw(async (begun) => new FolderInMemory(begun), 3_000)
  }, 60_000)

  it('plans nothing the second time', () => {
    const places = new Map([[path, { theirs: [], claims: [{ install: 'A', sha256: sha('a') }] }]])
    const plan = planFiles({ there: new Map([[path, sha('a')]]), places }, 'A', files('a'))
    expect([plan.write, plan.remove, plan.keep, plan.after.size]).toEqual([[], [], [], 0])
  })
})
