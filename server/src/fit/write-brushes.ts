import type { Destination } from '@satchel/core/destinations/destination'
import type { Choices } from '@satchel/core/destinations/fit-state'
import type { FitFile } from '@satchel/core/destinations/write-files'
import pMap from 'p-map'
import { listCells, type StoredFitBrush } from '../db/fit.ts'
import { listChoices } from '../db/fit-choices.ts'
import type { InstallBrush } from '../db/install-brushes.ts'
import type { Install } from '../db/installs.ts'
import { entryOf } from '../db/many.ts'
import type { Deps } from '../deps.ts'
import { findAnswer } from '../pictures/kept-answers.ts'
import { JobRefused } from '../queue/queue.ts'
import type { FitInput } from '../workers/results.ts'
import { type BrushSource, openBrushes } from './brush-source.ts'
import { findAnyDestination } from './destinations.ts'
import { fitKey, readFitInput } from './fit-input.ts'
import { type MeasuredCell, measureBrush, measureCells } from './measurer.ts'

/** Brushes that are written at once. */
const PART = 8

type BlobSha = Awaited<ReturnType<Deps['blobs']['put']>>['sha256']
export type StoredFitFile = {
  brushId: string
  path: string
  blobSha: BlobSha
  sizeBytes: number
  /** Names all that the files of its brush were made of: while that stays, they need not be written again. */
  madeOf: string
}

/** What of an install is written by now. */
export type WrittenFiles = {
  files: StoredFitFile[]
  refused: Install['refused']
  /** What became of the brushes that have files. */
  carried: InstallBrush[]
  /** Grains that have a file, by their pixels. */
  grains: [key: string, path: string][]
  /** Which brush needs which of those files, whichever brush they were written with. */
  shared: { brushId: string; path: string }[]
}
export const NOTHING_WRITTEN: WrittenFiles = { files: [], refused: [], carried: [], grains: [], shared: [] }

type Writing = {
  /** Paths that are taken: names go round them. */
  avoid: readonly string[]
  /** What was written before and stays: names go round it, and its grains are used. */
  written?: Pick<WrittenFiles, 'files' | 'grains'>
  signal?: AbortSignal
  /** Told after each part what is new, and how many of the brushes are through. */
  onPart?: (part: WrittenFiles, done: number) => Promise<void>
}

/**
 * The files of brushes for an install's destination, stored and in no folder yet. A brush that cannot be written stops no
 * other.
 * @returns Only what is new; its grains are all that are known by then.
 * @throws {JobRefused} If the destination is gone.
 */
export async function writeBrushes(
  deps: Deps,
  install: Install,
  brushIds: readonly string[],
  writing: Writing,
): Promise<WrittenFiles> {
  return writeBrushesTo(deps, await openTo(deps, install), brushIds, writing)
}

/** As `writeBrushes`, for what is no install. */
export async function writeBrushesTo(
  deps: Deps,
  to: To,
  brushIds: readonly string[],
  { avoid, written = NOTHING_WRITTEN, signal, onPart }: Writing,
): Promise<WrittenFiles> {
  const all: WrittenFiles = { files: [], refused: [], carried: [], shared: [], grains: written.grains }
  const taken = [...avoid, ...written.files.map(({ path }) => path)]
  let coming = measurePart(deps, to, brushIds.slice(0, PART))
  for (let at = 0; at < brushIds.length; at += PART) {
    signal?.throwIfAborted()
    const measured = await coming
    // one thread writes these, while the others measure the next
    coming = measurePart(deps, to, brushIds.slice(at + PART, at + 2 * PART))
    // what goes wrong with those is said when it is their turn
    coming.catch(() => undefined)
    const part = await writePart(deps, to, measured, { taken, grains: all.grains })
    taken.push(...part.files.map(({ path }) => path))
    all.files.push(...part.files)
    all.refused.push(...part.refused)
    all.carried.push(...part.carried)
    all.shared.push(...part.shared)
    all.grains = part.grains
    await onPart?.(part, Math.min(brushIds.length, at + PART))
  }
  return all
}

async function destinationOf({ db }: Deps, { workspaceId, destinationId }: Install): Promise<Destination> {
  const destination = await findAnyDestination(db, workspaceId, destinationId)
  if (!destination) throw new JobRefused('Its destination is gone; choose another one.')
  return destination
}

/** Where brushes go, and how. */
export type To = {
  workspaceId: string
  /** What the folder is called that an app's paths may begin with. */
  library: string
  destinationId: string
  destination: Destination
  source: BrushSource
  /** What the curator has answered for brushes. */
  choicesOf: (brushIds: readonly string[]) => Promise<(brushId: string) => Choices>
  /** Keeps a file that was written. */
  keep: (file: FitFile) => Promise<KeptFile>
}

type KeptFile = { path: string; blobSha: BlobSha; sizeBytes: number }

async function openTo(deps: Deps, install: Install): Promise<To> {
  const { workspaceId, name: library, destinationId } = install
  const [destination, source] = await Promise.all([destinationOf(deps, install), openBrushes(deps, install)])
  const choicesOf: To['choicesOf'] = async (ids) => {
    const found = await listChoices(deps.db, workspaceId, [destinationId], ids)
    return (brushId) => found(brushId, destinationId)
  }
  const keep = (file: FitFile) => store(deps, workspaceId, file)
  return { workspaceId, library, destinationId, destination, source, choicesOf, keep }
}

/** A brush that is ready to be written: with its pictures at hand, the answers with which it goes there, and its measure. */
type Measured = {
  brush: StoredFitBrush
  key: string
  input: FitInput
  choices: Choices
  cell: MeasuredCell | undefined
}

async function measurePart(deps: Deps, to: To, ids: readonly string[]): Promise<Measured[]> {
  if (ids.length === 0) return []
  const brushes = await to.source.list(ids)
  const answers = await answersOf(deps, to, brushes)
  return pMap(
    brushes,
    async (brush, i) => {
      const answer = entryOf(answers, i)
      const input = await readFitInput(deps, to.workspaceId, brush)
      return { brush, key: answer.key, input, ...(await likest(deps, to, brush, answer)) }
    },
    { concurrency: deps.workers.threads },
  )
}

async function writePart(
  deps: Deps,
  to: To,
  measured: readonly Measured[],
  { taken, grains }: { taken: readonly string[]; grains: WrittenFiles['grains'] },
): Promise<WrittenFiles> {
  const { library } = to
  const written = await deps.workers.run('writeFit', {
    destination: to.destination,
    library,
    grains,
    avoid: [...taken],
    brushes: measured.map(({ input, choices }) => ({ brush: input, choices })),
  })
  if (!('refused' in written)) {
    const files: StoredFitFile[] = []
    for (const [i, some] of written.files.entries()) {
      const { brush, key } = entryOf(measured, i)
      for (const file of some) files.push({ brushId: brush.id, madeOf: key, ...(await to.keep(file)) })
    }
    const shared = written.shared.flatMap((paths, i) =>
      paths.map((path) => ({ brushId: entryOf(measured, i).brush.id, path })),
    )
    return { files, refused: [], carried: measured.flatMap(toCarried), grains: written.grains, shared }
  }
  const [only] = measured
  if (only && measured.length === 1) {
    const { id, name: called } = only.brush
    return { ...NOTHING_WRITTEN, refused: [{ brushId: id, name: called, why: written.refused }], grains }
  }
  // one of them cannot be written: each is tried by itself
  const each: WrittenFiles = { files: [], refused: [], carried: [], shared: [], grains }
  for (const brush of measured) {
    const now = [...taken, ...each.files.map(({ path }) => path)]
    const one = await writePart(deps, to, [brush], { taken: now, grains: each.grains })
    each.files.push(...one.files)
    each.refused.push(...one.refused)
    each.carried.push(...one.carried)
    each.shared.push(...one.shared)
    each.grains = one.grains
  }
  return each
}

async function store({ db, blobs }: Deps, workspaceId: string, { path, bytes }: FitFile): Promise<KeptFile> {
  const { sha256, sizeBytes } = await blobs.put(db, workspaceId, bytes, 'application/octet-stream')
  return { path, blobSha: sha256, sizeBytes }
}

/** What the curator has answered for a brush, and the name of all that its files follow from. */
type Answered = { choices: Choices; key: string }

async function answersOf(
  deps: Deps,
  { destination, choicesOf }: Pick<To, 'destination' | 'choicesOf'>,
  brushes: readonly StoredFitBrush[],
): Promise<Answered[]> {
  const find = await choicesOf(brushes.map(({ id }) => id))
  return brushes.map((brush) => {
    const choices = find(brush.id)
    return { choices, key: fitKey(deps, brush, destination, choices) }
  })
}

/**
 * The answers with which a brush goes there, the curator's own and else those that are most alike, and what was measured
 * of it.
 */
async function likest(
  deps: Deps,
  { workspaceId, destinationId, destination, source }: To,
  brush: StoredFitBrush,
  { choices, key }: Answered,
): Promise<{ choices: Choices; cell: MeasuredCell | undefined }> {
  const [known] = await listCells(deps.db, workspaceId, [brush.id], [destinationId])
  const wish = { workspaceId, brush, to: [{ destinationId, destination, choices, key }] }
  // of a release that is built again, or of a brush that stayed as it was from one to the next, it is measured once
  const measure = () =>
    source.isLibrary
      ? measureBrush(deps, wish)
      : findAnswer<MeasuredCell[]>(deps.renders, { fitCell: key }, () => measureCells(deps, wish))
  const [cell] = known?.key === key ? [known] : await measure()
  const ways = cell && !('refused' in cell.result) ? cell.result.ways : []
  return { choices: { ...Object.fromEntries(ways.map(({ name, chosen }) => [name, chosen])), ...choices }, cell }
}

/** What the curator is told later of a brush that was written; nothing where it could not be measured. */
function toCarried({ brush: { id, name }, cell }: Measured): InstallBrush[] {
  if (!cell || 'refused' in cell.result) return []
  const { kept, approximated, left } = cell.result
  return [{ brushId: id, name, score: cell.score, kept, approximated, left }]
}

/**
 * The files of an install as its brushes are by now; those of brushes that have not changed stay as they are, and are not
 * written again. What cannot be written any more stays as it was, too.
 * @param before What the install holds. @param avoid What else lies in its folder.
 */
export async function writeAnew(
  deps: Deps,
  install: Install,
  before: Pick<WrittenFiles, 'files' | 'grains'>,
  avoid: readonly string[],
): Promise<WrittenFiles> {
  const stays = await findUnchanged(deps, install, before)
  const kept: Omit<WrittenFiles, 'carried' | 'shared'> = {
    files: before.files.filter(({ brushId }) => stays.has(brushId)),
    refused: install.refused.filter(({ brushId }) => stays.has(brushId)),
    grains: before.grains.filter(([, path]) =>
      before.files.some((file) => file.path === path && stays.has(file.brushId)),
    ),
  }
  const changed = install.brushIds.filter((id) => !stays.has(id))
  const fresh = await writeBrushes(deps, install, changed, { avoid, written: kept })
  const failed = new Set(fresh.refused.map(({ brushId }) => brushId))
  const old = before.files.filter(({ brushId }) => failed.has(brushId))
  return {
    files: [...kept.files, ...fresh.files, ...old],
    refused: [...kept.refused, ...fresh.refused],
    carried: fresh.carried,
    grains: fresh.grains,
    shared: fresh.shared,
  }
}

/**
 * Brushes whose files would come out as they are. Where one that has changed brought a grain's file, all that have a grain
 * count as changed: any of them may refer to that file.
 */
async function findUnchanged(
  deps: Deps,
  install: Install,
  before: Pick<WrittenFiles, 'files' | 'grains'>,
): Promise<Set<string>> {
  const to = await openTo(deps, install)
  const madeOf = new Map(before.files.map(({ brushId, madeOf: key }) => [brushId, key]))
  const wanted = new Set(install.brushIds)
  const brushes = await to.source.list([...madeOf.keys()].filter((id) => wanted.has(id)))
  const answers = await answersOf(deps, to, brushes)
  const same = new Set(brushes.filter(({ id }, i) => madeOf.get(id) === answers[i]?.key).map(({ id }) => id))
  const grainPaths = new Set(before.grains.map(([, path]) => path))
  const isGrainGone = before.files.some(({ path, brushId }) => grainPaths.has(path) && !same.has(brushId))
  if (isGrainGone) for (const { id, grain } of brushes) if (grain) same.delete(id)
  return same
}
