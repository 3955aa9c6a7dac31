import { joinKeys } from '@satchel/core/alike/alike-print'
import type { Difference } from '@satchel/core/alike/differences'
import type { NearPair } from '@satchel/core/alike/near-keys'
import pMap from 'p-map'
import { type ComparedTip, loadMarks } from '../db/gather-duplicates.ts'
import type { Deps } from '../deps.ts'
import { READ_AHEAD } from './reader.ts'

/** A tip that looks like its original, which is itself like no other. */
export type Copy = { own: ComparedTip; original: ComparedTip; differs: Difference[]; isNew: boolean }

/** Pairs of kept marks that are looked at by one task. */
const PAIRS_AT_ONCE = 100

type Groups = {
  /** Tips of the library: each is an original. */
  originals: readonly ComparedTip[]
  /** The rest, the likeliest original first. */
  others: readonly ComparedTip[]
  /** How a tip differs from its original, by their pixels; undefined where they are not alike. */
  confirm: (own: ComparedTip, original: ComparedTip) => Promise<Difference[] | undefined>
  signal: AbortSignal | undefined
}

/**
 * Groups tips that look alike around their originals: candidates by their keys, then by their kept marks, and what is
 * said is confirmed by their pixels. A copy is compared with originals only, so groups are never chains.
 */
export async function groupAlike(
  deps: Deps,
  workspaceId: string,
  { originals, others, confirm, signal }: Groups,
): Promise<Copy[]> {
  const tips = [...originals, ...others].filter((tip) => tip.alikeKey && tip.alikeKey.length > 0)
  const from = originals.filter((tip) => tip.alikeKey && tip.alikeKey.length > 0).length
  const keys = joinKeys(tips.flatMap((tip) => tip.alikeKey ?? []))
  const candidates = await deps.workers.run('findCandidates', { keys, from })
  signal?.throwIfAborted()
  const pairs = await filterPairs(deps, workspaceId, { tips, candidates, signal })
  const nearOf = new Map<number, number[]>()
  for (const [first, second] of pairs) nearOf.set(second, [...(nearOf.get(second) ?? []), first])
  const places = new Map(tips.map((tip, i) => [tip, i]))
  const placeOf = (tip: ComparedTip) => places.get(tip) ?? 0

  // Each tip waits for those before it that it may be like: they know by then whose copies they are.
  const settled = new Map<number, Promise<Copy | undefined>>()
  const settle = async (second: number): Promise<Copy | undefined> => {
    const own = tips[second]
    const tried = new Set<ComparedTip>()
    for (const first of nearOf.get(second) ?? []) {
      const original = (await settled.get(first))?.original ?? tips[first]
      if (!own || !original || tried.has(original)) continue
      tried.add(original)
      signal?.throwIfAborted()
      const differs = await confirm(own, original)
      if (differs) return { own, original, differs, isNew: placeOf(original) >= from }
    }
    return undefined
  }
  // Most are like none before them, and tens of thousands of these would hold up others if each had a turn.
  const seconds = [...nearOf.keys()].sort((a, b) => a - b)
  const copies = await pMap(
    seconds,
    (second) => {
      const copy = settle(second)
      settled.set(second, copy)
      return copy
    },
    { concurrency: deps.workers.threads * READ_AHEAD },
  )
  return copies.filter((copy) => copy !== undefined)
}

async function filterPairs(
  deps: Deps,
  workspaceId: string,
  { tips, candidates, signal }: { tips: ComparedTip[]; candidates: NearPair[]; signal: AbortSignal | undefined },
): Promise<NearPair[]> {
  const parts: NearPair[][] = []
  for (let at = 0; at < candidates.length; at += PAIRS_AT_ONCE) parts.push(candidates.slice(at, at + PAIRS_AT_ONCE))
  const kept = await pMap(
    parts,
    async (part) => {
      signal?.throwIfAborted()
      const ids = [...new Set(part.flat())].flatMap((index) => tips[index] ?? [])
      const marks = await loadMarks(deps.db, workspaceId, ids)
      const markOf = (index: number) => marks.get(tips[index]?.markId ?? '')
      const pairs = part.flatMap((pair) => {
        const [original, mark] = pair.map(markOf)
        return original && mark ? [{ pair, marks: [mark, original] as [Uint8Array, Uint8Array] }] : []
      })
      const alike = await deps.workers.run('filterAlike', { pairs: pairs.map(({ marks }) => marks) })
      return pairs.flatMap(({ pair }, i) => (alike[i] ? [pair] : []))
    },
    { concurrency: deps.workers.threads * READ_AHEAD },
  )
  return kept.flat()
}

/** How a tip differs from its original by the pixels of their first frames. */
export async function judgePixels(
  { blobs, workers }: Deps,
  workspaceId: string,
  own: ComparedTip,
  original: ComparedTip,
): Promise<Difference[] | undefined> {
  if (!own.blobSha || !original.blobSha) return undefined
  const [tip, first] = await Promise.all([
    blobs.read(workspaceId, own.blobSha),
    blobs.read(workspaceId, original.blobSha),
  ])
  return workers.run('judgeAlike', {
    tip: { png: tip, reading: own.reading },
    original: { png: first, reading: original.reading },
  })
}
