import { isSeen } from '@satchel/core/alike/differences'
import type { PaintReading } from '@satchel/core/brush/recipe'
import type { FileSha } from '@satchel/core/hashes'
import { addLooks, keyOfEnd, type LooseEnd } from '@satchel/core/loose-ends/find'
import { LRUCache } from 'lru-cache'
import pMap from 'p-map'
import { findLooks } from '../db/mends.ts'
import type { Deps } from '../deps.ts'

/** Pictures that are looked at for those that are missing, and missing ones that are looked for: more takes too long. */
const CANDIDATES_MAX = 600
const WANTED_MAX = 600
/** Kept marks by file and reading. */
const marks = new LRUCache<string, Uint8Array>({ max: 10_000 })
const PNG = /\.a?png$/i

type Seen = { path: string; score: number; isSame: boolean }
/** Where the pictures lie that may be meant. */
export type LooksIn = {
  /** Each with the file that is stored of it. */
  files: readonly { path: string; blobSha: FileSha }[]
  /** Paths that something refers to: what is used is hardly what is missing. */
  used: ReadonlySet<string>
  /** How the brush of each settings file reads its pictures, by the path of the settings. */
  readings: ReadonlyMap<string, PaintReading>
}

/**
 * Proposes pictures that nothing refers to for ends whose file nobody has kept, where the library has a brush of the same
 * name: what it looks like there is what is looked for.
 */
export async function proposeByLook(
  deps: Deps,
  workspaceId: string,
  ends: readonly LooseEnd[],
  { files, used, readings }: LooksIn,
): Promise<LooseEnd[]> {
  const lost = ends.filter(({ proposals }) => proposals[0]?.by !== 'content').slice(0, WANTED_MAX)
  if (lost.length === 0) return [...ends]
  const looks = await findLooks(
    deps.db,
    workspaceId,
    lost.map(({ brush }) => brush.toLowerCase()),
  )
  const wanted = lost.flatMap((end) => {
    const look = looks.get(end.brush.toLowerCase())
    const sha = end.kind === 'tip' ? look?.blobSha : look?.grainSha
    if (!look || !sha) return []
    // a grain is looked at as it lies there
    const own = end.kind === 'tip' ? (look.reading as PaintReading) : 'light'
    return [{ end, sha, own, theirs: end.kind === 'tip' ? (readings.get(end.file) ?? own) : own }]
  })
  if (wanted.length === 0) return [...ends]
  const candidates = files.filter(({ path }) => PNG.test(path) && !used.has(path)).slice(0, CANDIDATES_MAX)
  const markOf = async (sha: FileSha, reading: PaintReading) => {
    const key = `${sha} ${reading}`
    const known = marks.get(key)
    if (known) return known
    const { mark } = await deps.workers
      .run('printAlike', { png: await deps.blobs.read(workspaceId, sha), reading })
      // what is no picture looks like nothing
      .catch(() => ({ mark: new Uint8Array() }))
    marks.set(key, mark)
    return mark
  }
  const atOnce = { concurrency: deps.workers.threads }
  const found = new Map<string, Seen[]>()
  for (const reading of new Set(wanted.map(({ theirs }) => theirs))) {
    const some = wanted.filter(({ theirs }) => theirs === reading)
    const ranked = await deps.workers.run('rankLooks', {
      wanted: await pMap(some, ({ sha, own }) => markOf(sha, own), atOnce),
      candidates: await pMap(candidates, ({ blobSha }) => markOf(blobSha, reading), atOnce),
    })
    await pMap(
      some,
      async ({ end, sha, own }, i) => {
        const seen: Seen[] = []
        for (const { at, score } of ranked[i] ?? []) {
          const { path, blobSha } = candidates[at] ?? {}
          if (!path || !blobSha) continue
          const [tip, original] = await Promise.all([blobSha, sha].map((each) => deps.blobs.read(workspaceId, each)))
          if (!tip || !original) continue
          const differs = await deps.workers.run('judgeAlike', {
            tip: { png: tip, reading },
            original: { png: original, reading: own },
          })
          if (differs) seen.push({ path, score, isSame: !differs.some(isSeen) })
        }
        found.set(keyOfEnd(end), seen)
      },
      atOnce,
    )
  }
  return addLooks(ends, (end) => found.get(keyOfEnd(end)) ?? [])
}
