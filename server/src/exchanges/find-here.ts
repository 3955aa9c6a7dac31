import { joinKeys } from '@satchel/core/alike/alike-print'
import type { ExchangeBrush } from '@satchel/core/exchange/protocol'
import type { Db } from '../db/database.ts'
import { findByPixels } from '../db/followed-brushes.ts'
import { listComparedTips, loadMarks } from '../db/gather-duplicates.ts'
import type { Deps } from '../deps.ts'
import { toPixelKey } from '../workers/read-tip.ts'

/** A brush of an exchange that the library has already, or one that looks like it. */
export type Here = { id: string; how: 'exact' | 'alike'; name: string }

const bytesOf = (mark: string) => new Uint8Array(Buffer.from(mark, 'base64url'))

/** Tells which brushes of an exchange are in the library just so: by the names of their pixels, so that no picture is fetched for it. */
export async function findExact(db: Db, workspaceId: string, list: readonly ExchangeBrush[]): Promise<Here[]> {
  const keys = new Map(list.map(({ id, frames }) => [id, toPixelKey(frames.map(({ sha256 }) => sha256))]))
  const found = await findByPixels(db, workspaceId, [...keys.values()])
  const exact = new Map(found.map(({ pixelKey, name }) => [pixelKey, name]))
  return list.flatMap(({ id }): Here[] => {
    const name = exact.get(keys.get(id) ?? '')
    return name === undefined ? [] : [{ id, how: 'exact', name }]
  })
}

/** Tells which of the others look like a brush of the library, by their marks. All of the library is looked through for it. */
export async function findAlikeHere(
  deps: Pick<Deps, 'db' | 'workers'>,
  workspaceId: string,
  list: readonly ExchangeBrush[],
): Promise<Here[]> {
  const exact = new Set((await findExact(deps.db, workspaceId, list)).map(({ id }) => id))
  return findAlike(deps, workspaceId, list.filter(({ id, mark }) => mark !== '' && !exact.has(id))) // biome-ignore format: one step
}

async function findAlike(
  { db, workers }: { db: Db; workers: Deps['workers'] },
  workspaceId: string,
  open: readonly ExchangeBrush[],
): Promise<Here[]> {
  if (open.length === 0) return []
  const tips = (await listComparedTips(db, workspaceId)).filter(({ alikeKey }) => alikeKey && alikeKey.length > 0)
  if (tips.length === 0) return []
  const marks = open.map(({ mark }) => bytesOf(mark))
  const ownKeys = await workers.run('keysOfMarks', { marks })
  const wanted = ownKeys.flatMap((key, i) => (key.length > 0 ? [{ key, at: i }] : []))
  const keys = joinKeys([...tips.flatMap(({ alikeKey }) => alikeKey ?? []), ...wanted.map(({ key }) => key)])
  const near = await workers.run('findCandidates', { keys, from: tips.length })
  const pairs = near.flatMap(([first, second]) => {
    const [tip, own] = [tips[first], wanted[second - tips.length]]
    return tip && own ? [{ tip, at: own.at }] : []
  })
  const kept = await loadMarks(db, workspaceId, [...new Set(pairs.map(({ tip }) => tip))])
  const both = pairs.flatMap(({ tip, at }) => {
    const [mark, original] = [marks[at], kept.get(tip.markId)]
    return mark && original ? [{ tip, at, marks: [mark, original] as [Uint8Array, Uint8Array] }] : []
  })
  const alike = await workers.run('filterAlike', { pairs: both.map((each) => each.marks) })
  const found = new Map<number, Here>()
  for (const [i, { tip, at }] of both.entries()) {
    const brush = open[at]
    if (alike[i] && brush && !found.has(at)) found.set(at, { id: brush.id, how: 'alike', name: tip.name })
  }
  return [...found.values()]
}
