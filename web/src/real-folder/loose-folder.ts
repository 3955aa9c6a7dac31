import type { FileSha } from '@satchel/core/hashes'
import { type Follow, followFiles, followPlaces } from '@satchel/core/installs/follow'
import type { PlacedFile } from '@satchel/core/installs/places'
import { findLooseEnds } from '@satchel/core/loose-ends/find'
import { chooseTargets, type Mending } from '@satchel/core/loose-ends/mending'
import {
  type NewTarget,
  type PathOrigin,
  type Reference,
  readBrushSettings,
  rewriteBrushSettings,
  toTarget,
} from '@satchel/core/loose-ends/references'
import { suggestRules } from '@satchel/core/loose-ends/rename-rule'
import type { LooseEnds } from '../data/loose-ends.ts'
import { FolderChanged, openLedger } from './change-folder.ts'
import { type Folder, hashAt, hashOf, listPaths, readAt, writeAt } from './folder-files.ts'
import { browserStore, type FolderLedger, saveLedger } from './ledger.ts'
import { alone } from './locks.ts'
import { addMend, dropMend, findMend, keepMended, listMends, readMended } from './mends.ts'

/** How an app's settings name their files. */
export type SettingsRule = { extension: string; origin: PathOrigin }

/** A folder of this computer that is looked through, and how. */
export type LooseFolder = { folder: Folder; rule: SettingsRule }

const RULES_SHOWN = 5

/** Every file of a folder with its hash, and what the settings among them refer to. */
async function readReferences({ folder, rule }: LooseFolder) {
  const files: { path: string; sha256: FileSha }[] = []
  const references: Reference[] = []
  let brushes = 0
  for (const path of await listPaths(folder)) {
    const bytes = await readAt(folder, path)
    if (!bytes) continue
    files.push({ path, sha256: await hashOf(bytes) })
    if (!path.toLowerCase().endsWith(`.${rule.extension}`)) continue
    brushes++
    references.push(...(readBrushSettings(path, new Uint8Array(bytes))?.references ?? []))
  }
  return { files, references, brushes }
}

async function lookThrough(wanted: LooseFolder, { places }: Pick<FolderLedger, 'places'>) {
  const { files, references, brushes } = await readReferences(wanted)
  const ends = findLooseEnds(references, files, {
    origin: wanted.rule.origin,
    // of settings that do not say it themselves: what an install had put there
    knownSha: (_, path) => places.get(path)?.claims.at(-1)?.sha256 as FileSha | undefined,
  })
  return { files, ends, brushes }
}

/** The loose ends of a folder of this computer, and what was mended there. */
export async function findLoose(wanted: LooseFolder): Promise<LooseEnds> {
  const ledger = await openLedger(wanted.folder)
  const { files, ends, brushes } = await lookThrough(wanted, ledger)
  const paths = files.map(({ path }) => path)
  return {
    ends,
    paths,
    brushes,
    rules: suggestRules(ends, new Set(paths)).slice(0, RULES_SHOWN),
    mends: (await listMends(wanted.folder)).map(({ id, ends: count, createdAt }) => ({ id, ends: count, createdAt })),
  }
}

/**
 * Mends loose ends there: what each settings file was is kept first, and noted, so that it can be undone; what installs have
 * put there is followed.
 * @throws {Error} With a sentence, if none can be mended so. @throws {FolderChanged} If somebody writes there meanwhile.
 */
export function mendLoose(wanted: LooseFolder, mending: Mending): Promise<{ id: string; mended: number }> {
  const { folder, rule } = wanted
  return withLedger(folder, async (ledger) => {
    const { files, ends } = await lookThrough(wanted, ledger)
    const shaAt = new Map(files.map(({ path, sha256 }) => [path, sha256]))
    const targets = chooseTargets(mending, ends, new Set(shaAt.keys()))
    if (targets.length === 0)
      throw new Error('None of these can be mended like that any more; look at what is loose now.')
    const byFile = new Map<string, NewTarget[]>()
    for (const { end, path } of targets) {
      const sha256 = shaAt.get(path)
      if (!sha256) continue
      const news = { kind: end.kind, sha256, target: toTarget(end.file, path, rule.origin) }
      byFile.set(end.file, [...(byFile.get(end.file) ?? []), news])
    }
    const id = crypto.randomUUID()
    const written: { path: string; before: string; after: string; bytes: ArrayBuffer }[] = []
    for (const [path, news] of byFile) {
      const before = await readAt(folder, path)
      if (!before || (await hashOf(before)) !== shaAt.get(path)) throw new FolderChanged(path)
      const bytes = rewriteBrushSettings(new Uint8Array(before), news).slice().buffer as ArrayBuffer
      await keepMended(id, path, before)
      written.push({ path, before: await hashOf(before), after: await hashOf(bytes), bytes })
    }
    const changes = written.map(({ path, before, after }) => ({ path, before, after }))
    await addMend({ id, folder, ends: targets.length, createdAt: new Date().toISOString(), files: changes })
    const mended = new Map(written.map(({ path, after }) => [path, { path, sha256: after }]))
    await following(ledger, followFiles(ledger.places, files, mended), async () => {
      for (const { path, before, bytes } of written) {
        if ((await hashAt(folder, path)) !== before) throw new FolderChanged(path)
        await writeAt(folder, path, bytes)
      }
    })
    return { id, mended: targets.length }
  })
}

/** Undoes a mend. @returns The paths of settings that somebody has changed since: they stay. */
export async function undoLoose(folder: Folder, id: string): Promise<{ stayed: string[] }> {
  return withLedger(folder, async (ledger) => {
    const mend = await findMend(id)
    if (!mend) throw new Error('This mend is remembered no more; look at what is loose now.')
    const stayed: string[] = []
    const back: (PlacedFile & { bytes: ArrayBuffer })[] = []
    for (const { path, before, after } of mend.files) {
      const now = await hashAt(folder, path)
      // broken off in the middle, some were never mended
      if (now === before) continue
      const bytes = now === after ? await readMended(id, path) : undefined
      if (!bytes || (await hashOf(bytes)) !== before) {
        stayed.push(path)
        continue
      }
      back.push({ path, sha256: before, bytes })
    }
    const was = new Map(mend.files.map(({ path, after }) => [path, after]))
    const follows = back.flatMap(({ path, sha256 }): Follow[] => {
      const place = ledger.places.get(path)
      return place && place.claims.at(-1)?.sha256 === was.get(path) ? [{ path, place, to: { path, sha256 } }] : []
    })
    await following(ledger, follows, async () => {
      for (const { path, bytes } of back) await writeAt(folder, path, bytes)
    })
    await dropMend(id)
    return { stayed }
  })
}

/**
 * Writes settings anew that installs hold. What they will be is noted first, beside what they were: whatever breaks off, they
 * are still known as the installs'.
 */
async function following(ledger: FolderLedger, follows: readonly Follow[], write: () => Promise<void>): Promise<void> {
  const after = followPlaces(follows)
  const before = new Map(after)
  for (const { place, to } of follows) {
    const top = place.claims.at(-1)?.sha256
    const next = after.get(to.path)
    if (!next || top === undefined || top === to.sha256) continue
    const claims = next.claims.map((claim) => (claim.sha256 === to.sha256 ? { ...claim, was: [top] } : claim))
    before.set(to.path, { ...next, claims })
  }
  await note(ledger, before)
  await write()
  await note(ledger, after)
}

async function note(ledger: FolderLedger, changes: ReturnType<typeof followPlaces>): Promise<void> {
  if (changes.size === 0) return
  for (const [path, place] of changes)
    if (place) ledger.places.set(path, place)
    else ledger.places.delete(path)
  await saveLedger(browserStore, ledger)
}

/** Works in a folder while no other tab does, with what is remembered of it by then. */
async function withLedger<Answer>(folder: Folder, work: (ledger: FolderLedger) => Promise<Answer>): Promise<Answer> {
  const { id } = await openLedger(folder)
  return alone(id, async () => work(await openLedger(folder)))
}
