import type { FileSha } from '@satchel/core/hashes'
import { toFileName } from '@satchel/core/pack/file-name'
import { LIBRARY_FILE } from '@satchel/core/pack/library-file'
import { countOpenFiles } from '@satchel/core/pack/write'
import { countLines, SHEET_BRUSHES_MAX } from '@satchel/core/sheet/contents'
import { PAPERS, PICTURE_BRUSHES_MAX } from '@satchel/node/sheet/paper'
import { sql } from 'drizzle-orm'
import { findBrush } from '../db/brushes.ts'
import type { Db } from '../db/database.ts'
import { findFacts } from '../db/members.ts'
import { findKept } from '../db/mends.ts'
import { findPack } from '../db/packs.ts'
import { countFiles, countStored } from '../db/room.ts'
import { setItem } from '../db/schema/all.ts'
import type { Wanted } from '../db/schema/parcels.ts'
import { findNamedSet } from '../db/sets.ts'
import { countLibrary } from '../db/whole-library.ts'
import type { Deps } from '../deps.ts'
import { notFound, Refusal } from '../errors.ts'
import { freeze, freezeContents } from '../hand-out/freeze.ts'
import { printPack, printPicture } from '../hand-out/print-sheet.ts'
import { writeDownload } from '../hand-out/write-download.ts'
import type { JobContext } from '../queue/queue.ts'
import { writeLibrary } from '../whole-library/write-library.ts'

/** What a parcel will hold, told before it is made. */
export type Look = {
  title: string
  brushes: number
  /** How many files the brushes are in it; of what holds none, absent. */
  files: number | null
  /** What its pictures take up in the library, bytes: about what the file will, where it holds them. */
  aboutBytes: number | null
  /** What comes of it, in a sentence. */
  comes: string
}
export type Made = { path: string; fileName: string; mediaType: string }
type Work = Pick<JobContext, 'signal' | 'progress'> & { folder: string }
type Frozen = Awaited<ReturnType<typeof freezeContents>> & { workspaceId: string; coverSha?: FileSha | null }
/** What can be wrapped up. */
type Kind<Of extends Wanted> = {
  /** @throws {Refusal} Where there is nothing to wrap up, or too much for one sheet. */
  look(deps: Deps, workspaceId: string, wanted: Of): Promise<Look>
  /** @throws {Refusal} As `look`: what it holds may have changed since it was asked for. */
  make(deps: Deps, workspaceId: string, wanted: Of, work: Work): Promise<Made>
}

/** Brushes as they are when it is made. */
type OfBrushes<Of extends Wanted> = {
  freeze(deps: Deps, workspaceId: string, wanted: Of): Promise<Frozen>
  look(frozen: Frozen, wanted: Of): Omit<Look, 'brushes' | 'files' | 'aboutBytes'>
  /** Whether the file holds the brushes themselves. */
  holdsBrushes: boolean
  /** How many of them there may be; without one, all. */
  most?: number
  make(deps: Deps, frozen: Frozen, wanted: Of, work: Work): Promise<Made>
}

const nothing = { notes: new Map<string, string>(), help: '', licenceText: '', destinationIds: [], release: '' }

/** @throws {Refusal} Where the set is gone, or empty. */
async function freezeSet({ db }: Deps, workspaceId: string, { setId }: { setId: string }): Promise<Frozen> {
  const set = await findNamedSet(db, workspaceId, setId)
  if (!set) throw notFound('set')
  const ids = sql`(select ${setItem.brushId} from ${setItem} where ${setItem.setId} = ${setId})`
  const facts = { title: set.name, ...(await findFacts(db, workspaceId)) }
  const frozen = await freezeContents(db, {
    ...nothing,
    ...facts,
    workspaceId,
    what: 'set',
    sets: [set],
    single: [],
    ids,
  })
  return { ...frozen, workspaceId }
}

async function freezeBrush({ db }: Deps, workspaceId: string, { brushId }: { brushId: string }): Promise<Frozen> {
  const found = await findBrush(db, workspaceId, brushId)
  if (!found) throw notFound('brush')
  const facts = await findFacts(db, workspaceId)
  const said = { title: found.name, maker: found.maker || facts.maker, licence: found.licence || facts.licence }
  const ids = sql`(select ${brushId}::uuid)`
  const single = [{ id: brushId }]
  const frozen = await freezeContents(db, { ...nothing, ...said, workspaceId, what: 'brush', sets: [], single, ids })
  return { ...frozen, workspaceId }
}

async function freezePack({ db }: Deps, workspaceId: string, { packId }: { packId: string }): Promise<Frozen> {
  const pack = await findPack(db, workspaceId, packId)
  if (!pack) throw notFound('pack')
  return { ...(await freeze(db, pack, '')), workspaceId, coverSha: pack.coverSha }
}

const zipOf = async (deps: Deps, frozen: Frozen, work: Work): Promise<Made> => {
  const { path } = await writeDownload(deps, frozen, work)
  return { path, fileName: `${toFileName(frozen.manifest.title)}.zip`, mediaType: 'application/zip' }
}

/** @throws {Refusal} Where it is more than one sheet takes. */
async function pdfOf(deps: Deps, frozen: Frozen, { paper }: { paper: 'a4' | 'letter' }, work: Work): Promise<Made> {
  const { manifest, workspaceId, coverSha } = frozen
  const cover = coverSha ? await deps.blobs.read(workspaceId, coverSha) : undefined
  const path = await printPack(deps, frozen, {
    cover,
    ...stepping(work, manifest.brushes.length),
    paper,
  })
  return { path, fileName: `${toFileName(manifest.title)} ${PAPERS[paper].name}.pdf`, mediaType: 'application/pdf' }
}

function stepping({ signal, progress, folder }: Work, total: number) {
  let done = 0
  // the last step is that it is put together
  progress(0, total + 1)
  return { signal, folder, step: () => progress(++done, total + 1) }
}

const toSheet = (what: string, paper: 'a4' | 'letter') => `A PDF to print on ${PAPERS[paper].name}: ${what}`

type Of<K extends Wanted['kind']> = Extract<Wanted, { kind: K }>

/** Everything that can be wrapped up, a row each. */
const KINDS: { [K in Wanted['kind']]: Kind<Of<K>> } = {
  brush: ofBrushes<Of<'brush'>>({
    freeze: freezeBrush,
    look: ({ manifest }) => ({
      title: `The brush "${manifest.title}"`,
      comes: 'A zip with this one brush: its open files, and a Satchel pack with all its settings.',
    }),
    holdsBrushes: true,
    make: (deps, frozen, _wanted, work) => zipOf(deps, frozen, work),
  }),
  set: ofBrushes<Of<'set'>>({
    freeze: freezeSet,
    look: ({ manifest }) => ({
      title: `The set "${manifest.title}"`,
      comes: 'A zip with this one set: open files of each brush, and a Satchel pack with all their settings.',
    }),
    holdsBrushes: true,
    make: (deps, frozen, _wanted, work) => zipOf(deps, frozen, work),
  }),
  packSheet: ofBrushes<Of<'packSheet'>>({
    freeze: freezePack,
    look: ({ manifest }, { paper }) => ({
      title: `The sheet of "${manifest.title}"`,
      comes: toSheet('every stroke of the pack as it is now, with names and notes.', paper),
    }),
    holdsBrushes: false,
    most: SHEET_BRUSHES_MAX,
    make: pdfOf,
  }),
  setSheet: ofBrushes<Of<'setSheet'>>({
    freeze: freezeSet,
    look: ({ manifest }, { paper }) => ({
      title: `The sheet of "${manifest.title}"`,
      comes: toSheet('every stroke of the set, with names.', paper),
    }),
    holdsBrushes: false,
    most: SHEET_BRUSHES_MAX,
    make: pdfOf,
  }),
  setPicture: ofBrushes<Of<'setPicture'>>({
    freeze: freezeSet,
    look: ({ manifest }) => ({
      title: `A picture of "${manifest.title}"`,
      comes: 'A PNG, 1600 px wide, with every stroke of the set and its name.',
    }),
    holdsBrushes: false,
    most: PICTURE_BRUSHES_MAX,
    async make(deps, frozen, _wanted, work) {
      const path = await printPicture(deps, frozen, stepping(work, frozen.manifest.brushes.length))
      return { path, fileName: `${toFileName(frozen.manifest.title)}.png`, mediaType: 'image/png' }
    },
  }),
  library: {
    async look({ db }, workspaceId) {
      const { brushes, sets, packs, sources } = await countLibrary(db, workspaceId)
      return {
        title: 'The whole library',
        brushes,
        files: await countFiles(db, workspaceId),
        aboutBytes: await countStored(db, workspaceId),
        comes: `One file with everything: all brushes with their versions, ${sets} sets, ${sources} sources, ${packs} packs with their releases, grains, pockets and destinations. It is no pack to hand out.`,
      }
    },
    async make(deps, workspaceId, _wanted, work) {
      const path = await writeLibrary(deps, workspaceId, work)
      return { path, fileName: LIBRARY_FILE, mediaType: 'application/zip' }
    },
  },
}

const kindOf = (wanted: Wanted) => KINDS[wanted.kind] as Kind<Wanted>

export const lookAt = (deps: Deps, workspaceId: string, wanted: Wanted): Promise<Look> =>
  kindOf(wanted).look(deps, workspaceId, wanted)

export const make = (deps: Deps, workspaceId: string, wanted: Wanted, work: Work): Promise<Made> =>
  kindOf(wanted).make(deps, workspaceId, wanted, work)

function ofBrushes<Of extends Wanted>({ freeze, look, holdsBrushes, most, make }: OfBrushes<Of>): Kind<Of> {
  const open = async (deps: Deps, workspaceId: string, wanted: Of) => {
    const frozen = await freeze(deps, workspaceId, wanted)
    if (most !== undefined) checkSize(frozen, most)
    return frozen
  }
  return {
    async look(deps, workspaceId, wanted) {
      const frozen = await open(deps, workspaceId, wanted)
      const aboutBytes = holdsBrushes ? await measure(deps.db, frozen) : null
      const files = holdsBrushes ? countOpenFiles(frozen.manifest) : null
      return { files, ...look(frozen, wanted), brushes: frozen.manifest.brushes.length, aboutBytes }
    },
    make: async (deps, workspaceId, wanted, work) => make(deps, await open(deps, workspaceId, wanted), wanted, work),
  }
}

function checkSize({ manifest }: Frozen, most: number): void {
  const lines = countLines(manifest)
  if (lines <= most) return
  const instead =
    manifest.sets.length > 1 ? 'Print its sets one by one.' : 'Copy some of it to a set of its own, and print that.'
  throw new Refusal('unfit', `It holds ${lines} brushes, and ${most} go on one sheet. ${instead}`)
}

async function measure(db: Db, { workspaceId, brushes }: Frozen): Promise<number> {
  const files = new Set(brushes.flatMap(({ blobs, grainBlob }) => [...blobs, ...(grainBlob ? [grainBlob] : [])]))
  const sizes = await findKept(db, workspaceId, [...files])
  return [...sizes.values()].reduce((sum, size) => sum + size, 0)
}
