import type { PackManifest } from '@satchel/core/pack/manifest'
import { expect, it } from 'vitest'
import type { Deps } from '../deps.ts'
import { printPack, printPicture } from './print-sheet.ts'

// signs of emphasis that nest take a reader of Markdown seconds
const slow = '*a**a'.repeat(4_000)
const manifest = { title: 'Marsh', help: slow, brushes: [], single: [], sets: [] } as unknown as PackManifest

it('hands what people wrote to a process that may be given up, and lays nothing of it out itself', async () => {
  const given: unknown[] = []
  const run = async (_task: string, input: unknown) => void given.push(input)
  const deps = { workers: { threads: 1, run } } as unknown as Deps
  const printed = { workspaceId: '', manifest, brushes: [] }
  const work = { folder: 'nowhere', signal: new AbortController().signal, step: () => undefined }
  await printPack(deps, printed, { ...work, paper: 'a4' })
  await printPicture(deps, printed, work)
  expect(given).toMatchObject([
    { on: 'a4', manifest: { help: slow } },
    { on: 'picture', manifest: { help: slow } },
  ])
  for (const input of given) expect(JSON.stringify(input)).not.toContain('"tag"')
})
