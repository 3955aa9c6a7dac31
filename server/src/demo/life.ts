import { setTimeout as sleep } from 'node:timers/promises'
import { BUILT_IN } from '@satchel/core/destinations/built-in'
import { toUtf8 } from '@satchel/core/formats/text'
import type { FileSha } from '@satchel/core/hashes'
import { keyOfEnd } from '@satchel/core/loose-ends/find'
import { and, desc, eq } from 'drizzle-orm'
import type { AppDeps } from '../app-deps.ts'
import { copyBrush } from '../db/brush-tips.ts'
import { findBrush, findBrushForStroke } from '../db/brushes.ts'
import { dropFromFolder, type InstallFile, listInstallFiles, putIntoFolder } from '../db/installs.ts'
import { insertSearch } from '../db/kept-searches.ts'
import { findKept } from '../db/mends.ts'
import { setSingle } from '../db/pack-brushes.ts'
import { findPack, type Pack, updatePack } from '../db/packs.ts'
import { type Release, recallRelease } from '../db/releases.ts'
import { goToVersion, saveBrush } from '../db/save-brush.ts'
import { job } from '../db/schema/all.ts'
import { listSources } from '../db/sources.ts'
import { putIn } from '../fit/installs.ts'
import { findFolderEnds } from '../fit/loose-ends.ts'
import { mendEnds, moveFolder } from '../fit/mend.ts'
import { orderInstall } from '../fit/order-install.ts'
import { composeCover } from '../hand-out/covers.ts'
import { createRelease } from '../hand-out/create-release.ts'
import { handToClass, MEANT_FOR } from './class.ts'

/** What the demo's library holds by the time its curator has it: brushes by name, sets by name, and the pack. */
export type DemoLibrary = {
  workspaceId: string
  pack: Pack
  /** Its first release. */
  release: Release
  brushId: (name: string) => string
  inSet: (name: string) => string[]
  /** Puts one more set into the pack, where nobody has chosen others meanwhile. */
  addSet: (name: string) => Promise<unknown>
}

/** Sources that the curator has made brushes of. */
const MADE = ['Shells from the tide line', 'Sea star, half an arm']
const JOB_LOOK_MS = 50

/**
 * What the demo's curator has done with the library so far, by the same ways as everybody: tips made of sources, a release
 * installed and another one made since, an install that somebody has changed, an old library with loose ends, half mended.
 * The likeness of everything is asked for, and measured while the demo is looked at already.
 */
export async function seedLife(deps: AppDeps, library: DemoLibrary): Promise<void> {
  // somebody may be there already, and do things of their own: what cannot be done beside that is left out
  for (const part of [keepSearches, gatherTwice, makeTips, installRelease, installAndChange, loosenEnds, prepareNext]) {
    try {
      await part(deps, library)
    } catch (error) {
      deps.stopping.throwIfAborted()
      deps.log.error({ err: error, part: part.name }, 'a part of the demo is left out')
    }
    await deps.events.publish({ workspaceId: library.workspaceId, topic: 'library' })
  }
  const { workspaceId } = library
  const title = 'Likeness of the whole library'
  await deps.jobs.add({ workspaceId, kind: 'fit-all', subjectId: workspaceId, title, payload: {} })
}

/** Searches that the curator looks into again and again. */
async function keepSearches({ db }: AppDeps, { workspaceId }: DemoLibrary): Promise<void> {
  await insertSearch(db, workspaceId, { name: 'Takes paint away', filter: { is: 'erases' }, sort: 'name' })
  await insertSearch(db, workspaceId, {
    name: 'Animated, in no pack',
    filter: { frames: 'many', is: 'unpacked' },
    sort: 'newest',
  })
}

/** Two brushes are in the library a second time, as happens when old folders are gathered. */
async function gatherTwice({ db }: AppDeps, { workspaceId, brushId }: DemoLibrary): Promise<void> {
  for (const name of ['Down soft', 'Kelp edge'])
    await copyBrush(db, workspaceId, brushId(name), { name: `${name}, old folder` })
}

async function makeTips(deps: AppDeps, { workspaceId }: DemoLibrary): Promise<void> {
  const sources = await listSources(deps.db, workspaceId, { bin: false })
  for (const { id, name } of sources.filter((source) => MADE.includes(source.name))) {
    await deps.jobs.add({ workspaceId, kind: 'make-source', subjectId: id, title: `Making "${name}"`, payload: {} })
    await jobEnded(deps, workspaceId, id)
  }
}

/** The brush of which a release went out that hardly paints. */
const FAINT = 'Strand chalk'

/**
 * The first release lies in one app. Of the second one a brush hardly paints, so it was recalled; the third one is right, and
 * what lies in the app can be brought up to it.
 */
async function installRelease(
  deps: AppDeps,
  { workspaceId, pack, release, addSet, brushId, inSet }: DemoLibrary,
): Promise<void> {
  await jobEnded(deps, workspaceId, release.id)
  await install(deps, workspaceId, { name: pack.title, destinationId: 'shearwater', releaseId: release.id })
  await addSet('Wet Sand Grains')
  const chalk = await findBrush(deps.db, workspaceId, brushId(FAINT))
  if (!chalk) throw new Error(`the demo has no ${FAINT}`)
  const { recipe, version } = chalk
  const faint = { ...recipe, colour: { ...recipe.colour, opacity: 0.03 } }
  await saveBrush(deps.db, workspaceId, chalk.id, { to: { recipe: faint }, from: version })
  const asItWas = await findPack(deps.db, workspaceId, pack.id)
  if (!asItWas) return
  const next = async (number: string, notes: string, destinationIds = asItWas.destinationIds) => {
    const { id } = await createRelease(deps, { ...asItWas, destinationIds }, { version: number, notes })
    await jobEnded(deps, workspaceId, id)
    return id
  }
  const second = await next('1.1.0', 'Sand and chalk, which many have asked for.')
  await recallRelease(deps.db, workspaceId, second, `In it "${FAINT}" hardly paints: its opacity was set far too low.`)
  await goToVersion(deps.db, workspaceId, chalk.id, version)
  const third = await next('1.1.1', `"${FAINT}" paints again.`, [...MEANT_FOR])
  const releases = { first: release.id, recalled: second, newest: third }
  await handToClass(deps, { workspaceId, packId: pack.id, inSet, ...releases })
}

/**
 * Since the last release a shell came in that a friend gives away, but not to earn by, and the pack is meant for two apps; so
 * the check list has something to say.
 */
async function prepareNext(deps: AppDeps, { workspaceId, pack, brushId }: DemoLibrary): Promise<void> {
  const { db } = deps
  const shell = await findBrush(db, workspaceId, brushId('Mussel'))
  if (!shell) return
  const own = { maker: 'Odde Brakwater', licence: 'CC-BY-NC-4.0' }
  await saveBrush(db, workspaceId, shell.id, { to: own, from: shell.version })
  await updatePack(db, workspaceId, pack.id, { destinationIds: [...MEANT_FOR] })
  await setSingle(db, workspaceId, pack.id, { brushIds: [shell.id], was: [] })
  await composeCover(deps, pack, {
    ...{ ground: '#e9dfc9', title: pack.title, titleColour: '#1e2d2b', titlePlace: 'above' },
    strokes: [
      { brushId: brushId('Kelp edge'), colour: '#4d6b3c', top: 0.62, height: 0.34 },
      { brushId: brushId('Rope, laid whole'), colour: '#9c4a21', top: 1, height: 0.3 },
    ],
  })
  const title = `Checking ${pack.title}`
  await deps.jobs.add({ workspaceId, kind: 'check-pack', subjectId: pack.id, title, payload: {} })
}

/** One picture was painted over by somebody, another one is gone. */
async function installAndChange(deps: AppDeps, { workspaceId, inSet }: DemoLibrary): Promise<void> {
  const wish = { name: 'Inks for charts', destinationId: 'dunlin', brushIds: inSet('Chart Inks') }
  const files = await install(deps, workspaceId, wish)
  const [painted, gone, other] = files
  if (!painted || !gone || !other) throw new Error('the demo installs three files and more')
  const { path } = painted
  await putIntoFolder(deps.db, workspaceId, 'dunlin', [{ path, blobSha: other.blobSha, sizeBytes: other.sizeBytes }])
  await dropFromFolder(deps.db, workspaceId, 'dunlin', [gone.path])
}

const OLD = `${BUILT_IN.sanderling.name} ${BUILT_IN.sanderling.appVersion}/Old library`

/**
 * A library was given another name, and half of what referred to it is mended; a picture of it is gone, and can be put
 * back. Beside it lies an old one of which nobody knows the bytes: a brush that looks like one of ours, one with a picture
 * of a like name, and one of which there is nothing.
 */
async function loosenEnds(deps: AppDeps, { workspaceId, inSet, brushId }: DemoLibrary): Promise<void> {
  const { db } = deps
  const standIn = 'sanderling'
  const wish = { name: 'Ropes', destinationId: standIn, brushIds: inSet('Ropework').slice(0, 6) }
  const files = await install(deps, workspaceId, wish)
  const pictures = files.filter(({ path }) => path.endsWith('png'))
  const [gone] = pictures
  if (!gone) throw new Error('the demo installs pictures')
  const folder = gone.path.split('/').slice(0, 2).join('/')
  await moveFolder(deps, workspaceId, { standIn, from: folder, to: `${folder} of the harbour` })
  const { ends } = await findFolderEnds(deps, workspaceId, standIn)
  const chosen = ends.slice(0, Math.floor(ends.length / 2)).flatMap((end) => {
    const [first] = end.proposals
    return first ? [{ key: keyOfEnd(end), path: first.path }] : []
  })
  await mendEnds(deps, workspaceId, standIn, { chosen })
  const left = ends[ends.length - 1]?.proposals[0]?.path
  if (left) await dropFromFolder(db, workspaceId, standIn, [left])

  const powder = await findBrushForStroke(db, workspaceId, brushId('Powder down'))
  const mussel = await findBrushForStroke(db, workspaceId, brushId('Mussel'))
  const [look, other] = [powder?.frames[0], mussel?.frames[0]]
  if (!look || !other) throw new Error('the brushes of the demo have pictures')
  await putPictures(deps, workspaceId, [
    { path: `${OLD}/scan 17.png`, blobSha: look.blobSha },
    { path: `${OLD}/marram tuft, dry.png`, blobSha: other.blobSha },
  ])
  for (const [brush, picture] of [
    ['Powder down', 'x17'],
    ['Marram tuft', 'marram tuft'],
    ['Sea campion', 'lychnis 4'],
  ] as const) {
    // as an app wrote it that says no hashes
    const settings = { name: brush, pictures: `${OLD}/${picture}.png`, settings: {} }
    const stored = await deps.blobs.put(db, workspaceId, toUtf8(JSON.stringify(settings)), 'application/octet-stream')
    const file = { path: `${OLD}/${brush}.sand`, blobSha: stored.sha256, sizeBytes: stored.sizeBytes }
    await putIntoFolder(db, workspaceId, standIn, [file])
  }
}

async function putPictures(
  deps: AppDeps,
  workspaceId: string,
  pictures: readonly { path: string; blobSha: FileSha }[],
) {
  const sizes = await findKept(
    deps.db,
    workspaceId,
    pictures.map(({ blobSha }) => blobSha),
  )
  const files = pictures.map((each) => ({ ...each, sizeBytes: sizes.get(each.blobSha) ?? 0 }))
  await putIntoFolder(deps.db, workspaceId, 'sanderling', files)
}

type Wish = Parameters<typeof orderInstall>[2]

/** Has files written for an app, and puts them into its folder. */
async function install(deps: AppDeps, workspaceId: string, wish: Wish): Promise<InstallFile[]> {
  const { id } = await orderInstall(deps, workspaceId, wish)
  await jobEnded(deps, workspaceId, id)
  await putIn(deps, workspaceId, id, 'both')
  return listInstallFiles(deps.db, workspaceId, id)
}

/** Waits until nothing works on something any more. @throws {Error} If that has failed, or was stopped. */
async function jobEnded({ db, stopping }: AppDeps, workspaceId: string, subjectId: string): Promise<void> {
  for (;;) {
    const [latest] = await db
      .select({ state: job.state, title: job.title, error: job.error })
      .from(job)
      .where(and(eq(job.workspaceId, workspaceId), eq(job.subjectId, subjectId)))
      .orderBy(desc(job.createdAt))
      .limit(1)
    if (latest?.state === 'failed' || latest?.state === 'stopped')
      throw new Error(`${latest.title}: ${latest.error ?? latest.state}`)
    if (!latest || latest.state === 'done') return
    stopping.throwIfAborted()
    await sleep(JOB_LOOK_MS)
  }
}
