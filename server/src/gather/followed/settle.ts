import { isSeen } from '@satchel/core/alike/differences'
import { dayAt } from '@satchel/core/editions/moments'
import { namePlaces, pairPlaces } from '@satchel/core/followed/parts'
import { type DayCounts, NOTHING_TOLD } from '@satchel/core/followed/told'
import { groupBy } from '@satchel/core/group-by'
import type { Db } from '../../db/database.ts'
import {
  addToDay,
  type FollowedFile,
  type FollowedPart,
  holdFollowed,
  listGoneParts,
  loadFollowedFiles,
  loadParts,
  type NewPart,
  noteParts,
  noteRead,
  takeOverParts,
} from '../../db/followed.ts'
import { findByPixels, loadComparedBrushes } from '../../db/followed-brushes.ts'
import { dropFiles, dropLines, listReadFiles, moveFiles, replaceWaiting } from '../../db/followed-files.ts'
import { listComparedLines } from '../../db/gather-duplicates.ts'
import { loadGatherLines } from '../../db/gather-lines.ts'
import { type GatherFile, type GatherLine, openGather } from '../../db/gathers.ts'
import { deleteOrphanBlobs } from '../../db/orphans.ts'
import type { Deps } from '../../deps.ts'
import { type Copy, groupAlike, judgePixels } from '../group-alike.ts'
import { type Gift, givePixels } from './give-pixels.ts'

export type OfFolder = { workspaceId: string; folderId: string; gatherId: string; signal: AbortSignal }

/** A file that is gone and looks like a new one; whether it is sure that both are the same. */
type Candidate = { fileId: string; isSure: boolean }

/** What reading the files of a folder came to. */
export type Settled = {
  /** Whether brushes have new pixels. */
  isChanged: boolean
  /** The ledger that new ones went to, if any did. */
  ledgerId: string | undefined
}

/**
 * Does what follows from files of a followed folder that were read: brushes that came out of them get their new pixels; files whose
 * pixels a brush of the library has are known to be that one's; what is new goes on to the ledger that everybody sees. In one transaction.
 */
export async function settleFollowed(deps: Deps, of: OfFolder): Promise<Settled> {
  const { workspaceId, folderId, gatherId } = of
  const candidates = await findCandidates(deps, of)
  return deps.db.transaction(async (tx) => {
    const folder = await holdFollowed(tx, workspaceId, folderId)
    if (!folder) return { isChanged: false, ledgerId: undefined }
    const files = await listReadFiles(tx, workspaceId, gatherId)
    const lines = groupBy(await loadGatherLines(tx, workspaceId, gatherId), ({ fileId }) => fileId)
    const known = await loadFollowedFiles(tx, workspaceId, files.flatMap(({ followedId }) => followedId ?? [])) // biome-ignore format: one question
    const knownParts = groupBy(await loadParts(tx, workspaceId, known.map(({ id }) => id)), ({ fileId }) => fileId) // biome-ignore format: one question
    const gone = groupBy(await listGoneParts(tx, workspaceId, folderId), ({ fileId }) => fileId)
    const counts: DayCounts = { ...NOTHING_TOLD }
    const walk: Walk = { tx, workspaceId, candidates, gone, counts, gifts: [], parts: [], onward: [] } // biome-ignore format: a record
    const followedOf = new Map(known.map((file) => [file.id, file]))
    const newest = new Map(files.map(({ id, followedId }) => [followedId, id]))
    for (const file of files) {
      const followed = file.followedId ? followedOf.get(file.followedId) : undefined
      // followed no more since it was read, or sent once more already
      if (followed && newest.get(followed.id) === file.id) await settleFile(walk, { file, followed, lines: lines.get(file.id) ?? [], parts: knownParts.get(followed.id) ?? [] }) // biome-ignore format: one file
    }
    const day = { folderId, day: dayAt(new Date(), folder.zone), name: folder.name }
    counts.changed = await givePixels(tx, workspaceId, walk.gifts, day)
    await noteParts(tx, workspaceId, walk.parts)
    const { ledgerId, dropped } = await handOn(walk)
    await addToDay(tx, workspaceId, day, counts)
    const moved = new Set(walk.onward.map(({ file }) => file.id))
    const rest = files.flatMap(({ id }) => (moved.has(id) ? [] : [id]))
    await deleteOrphanBlobs(tx, workspaceId, [...dropped, ...(await dropFiles(tx, workspaceId, rest)).names])
    return { isChanged: counts.changed > 0, ledgerId }
  })
}

type Walk = {
  tx: Db
  workspaceId: string
  candidates: ReadonlyMap<string, Candidate>
  gone: Map<string, Awaited<ReturnType<typeof listGoneParts>>>
  counts: DayCounts
  gifts: Gift[]
  parts: NewPart[]
  /** Files that go on to the ledger, with what does not. */
  onward: { file: GatherFile; settled: GatherLine[] }[]
}

type ReadFile = { file: GatherFile; followed: FollowedFile; lines: GatherLine[]; parts: FollowedPart[] }

async function settleFile(walk: Walk, { file, followed, lines, parts }: ReadFile): Promise<void> {
  const { tx, workspaceId, counts } = walk
  const brushes = lines.filter((line) => line.frames.length > 0 && line.outcome !== 'refuse')
  const refused = lines.find(({ outcome }) => outcome === 'refuse')
  const read = { readSha: file.blobSha, reason: '', maybeId: null }
  // a pack brings its own ways to be brought up to date
  if (brushes.some(({ kind }) => kind === 'pack')) {
    await noteRead(tx, workspaceId, followed.id, read)
    counts.fresh += brushes.length
    walk.onward.push({ file, settled: [] })
    return
  }
  if (brushes.length === 0) {
    // what is no brush at all lies in many folders and is none of ours; what was one, or says it is, is told
    const reason = refused?.reason ?? (parts.length > 0 ? 'It holds no brush any more.' : '')
    if (reason) counts.refused++
    await noteRead(tx, workspaceId, followed.id, { ...read, reason })
    return
  }
  const places = namePlaces(brushes, file.path)
  const pairs = pairPlaces(places, parts)
  const settled: GatherLine[] = []
  const noteLine = (part: string, line: GatherLine, brushId: string) => {
    walk.parts.push({ fileId: followed.id, part, brushId, pixelKey: line.pixelKey ?? '', reading: readingOf(line) })
    settled.push(line)
  }
  const partOf = new Map([...places].map(([part, line]) => [line, part]))
  for (const [line, part] of pairs) {
    walk.gifts.push({ brushId: part.brushId, line, readingBefore: part.reading })
    noteLine(part.part, line, part.brushId)
  }
  const fresh = brushes.filter((line) => !pairs.has(line))
  let maybeId: string | null = null
  if (parts.length === 0) {
    const candidate = fresh.map(({ id }) => walk.candidates.get(id)).find((each) => each !== undefined)
    const before = candidate && walk.gone.get(candidate.fileId)
    if (candidate?.isSure && before) {
      await takeOverParts(tx, workspaceId, candidate.fileId, followed.id)
      walk.gone.delete(candidate.fileId)
      counts.renamed++
      counts.gone--
      for (const [line, part] of pairPlaces(places, before)) {
        walk.gifts.push({ brushId: part.brushId, line, readingBefore: readingOf(line) })
        noteLine(part.part, line, part.brushId)
      }
    } else if (candidate && before) maybeId = candidate.fileId
  }
  if (maybeId === null) await findInLibrary(walk, fresh.filter((line) => !settled.includes(line)), partOf, noteLine) // biome-ignore format: one step
  const onward = brushes.length - settled.length
  counts.fresh += onward
  if (onward > 0) walk.onward.push({ file, settled })
  await noteRead(tx, workspaceId, followed.id, { ...read, maybeId })
}

const readingOf = ({ brush }: GatherLine) => brush?.recipe.colour.reading ?? 'dark'

/** Of lines whose pixels a brush has already, that brush is what the file is of: the one of its name, or the only one there is. */
async function findInLibrary(
  { tx, workspaceId, counts }: Walk,
  lines: readonly GatherLine[],
  partOf: ReadonlyMap<GatherLine, string>,
  noteLine: (part: string, line: GatherLine, brushId: string) => void,
): Promise<void> {
  if (lines.length === 0) return
  const keys = lines.flatMap(({ pixelKey }) => pixelKey ?? [])
  const found = groupBy(await findByPixels(tx, workspaceId, keys), ({ pixelKey }) => pixelKey)
  for (const line of lines) {
    const some = found.get(line.pixelKey ?? '') ?? []
    const brush = some.find(({ name }) => name === line.name) ?? (some.length === 1 ? some[0] : undefined)
    if (!brush) continue
    counts.found++
    noteLine(partOf.get(line) ?? '', line, brush.id)
  }
}

/** What is new goes to the ledger that everybody sees, in the place of what still waits there of the same files. */
async function handOn({ tx, workspaceId, onward, counts }: Walk) {
  if (onward.length === 0) return { ledgerId: undefined, dropped: [] }
  const { id: ledgerId } = await openGather(tx, workspaceId)
  const files = onward.map(({ file }) => file)
  const settled = onward.flatMap(({ settled }) => settled.map(({ id }) => id))
  const dropped = await dropLines(tx, workspaceId, settled)
  const replaced = await replaceWaiting(tx, workspaceId, ledgerId, files)
  // these were told as new when they came first
  counts.fresh -= replaced.brushes
  await moveFiles(tx, workspaceId, files.map(({ id }) => id), ledgerId) // biome-ignore format: one step
  return { ledgerId, dropped: [...dropped, ...replaced.names] }
}

/** New files that look like some that are gone. It is sure where each looks like the other alone, and a painter sees no difference or the file has its name still. */
async function findCandidates(deps: Deps, { workspaceId, folderId, gatherId, signal }: OfFolder) {
  const found = new Map<string, Candidate>()
  const gone = await listGoneParts(deps.db, workspaceId, folderId)
  if (gone.length === 0) return found
  const lines = (await listComparedLines(deps.db, workspaceId, gatherId)).filter(({ use }) => use === 'tip')
  const brushes = new Map((await loadComparedBrushes(deps.db, workspaceId, gone.map(({ brushId }) => brushId))).map((each) => [each.brushId, each])) // biome-ignore format: one question
  const originals = gone.flatMap((part) => {
    const tip = brushes.get(part.brushId)
    return tip ? [{ ...tip, part }] : []
  })
  const copies = await groupAlike(deps, workspaceId, {
    originals,
    others: lines,
    confirm: (own, original) => judgePixels(deps, workspaceId, own, original),
    signal,
  })
  const pathOf = new Map((await loadGatherLines(deps.db, workspaceId, gatherId)).map(({ id, path }) => [id, path]))
  const alike: Pick<Copy, 'own' | 'original' | 'differs'>[] = copies.filter(({ isNew }) => !isNew)
  // the same pixels need no likeness, and marks that are too small for one have none
  const exact = new Map(originals.map((original) => [original.pixelKey, original]))
  for (const own of lines) {
    const original = exact.get(own.pixelKey)
    if (original && !alike.some((each) => each.own === own)) alike.push({ own, original, differs: [] })
  }
  const timesOf = new Map<object, number>()
  for (const { original } of alike) timesOf.set(original, (timesOf.get(original) ?? 0) + 1)
  for (const { own, original, differs } of alike) {
    const { part } = original as (typeof originals)[number]
    const { id } = own as (typeof lines)[number]
    const hasName = pathOf.get(id) === part.path.split('/').at(-1)
    const isSure = timesOf.get(original) === 1 && (hasName || !differs.some(isSeen))
    found.set(id, { fileId: part.fileId, isSure })
  }
  return found
}
