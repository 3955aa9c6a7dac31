import { randomUUID } from 'node:crypto'
import { PAINT_READINGS, type PaintReading } from '@satchel/core/brush/recipe'
import { findLooseEnds, keyOfEnd, type LibraryFile, type LooseEnd } from '@satchel/core/loose-ends/find'
import { chooseTargets, type Mending } from '@satchel/core/loose-ends/mending'
import { holdLineMends, setLineMends, setMended } from '../db/gather-settings.ts'
import type { Deps } from '../deps.ts'
import { notFound, Refusal } from '../errors.ts'
import { proposeByLook } from '../library/find-looks.ts'
import { joinSettings, loadLibrary, pathOf } from './join-settings.ts'

/** Mends of a ledger that can be undone. */
const MENDS_KEPT = 8

/** The loose ends of what is in a ledger, with what may be meant among its files. */
export async function findLedgerEnds(
  deps: Deps,
  workspaceId: string,
  gatherId: string,
): Promise<{ ends: LooseEnd[]; files: LibraryFile[]; brushes: number }> {
  const { references, pictures, settings, locate } = await loadLibrary(deps, workspaceId, gatherId)
  const files = pictures.map((picture) => ({
    path: pathOf(picture),
    sha256: picture.fileHash as LibraryFile['sha256'],
  }))
  const ends = findLooseEnds(references, files, { origin: locate })
  const stored = pictures.flatMap((picture) => {
    const [first] = picture.frames
    return first ? [{ path: pathOf(picture), blobSha: first.blobSha }] : []
  })
  const readings = new Map(
    settings.flatMap((line): [string, PaintReading][] => {
      const reading = PAINT_READINGS.find((each) => each === line.settings.said['colour.reading'])
      return reading ? [[pathOf(line), reading]] : []
    }),
  )
  const used = new Set(references.map((reference) => locate(reference) ?? ''))
  return {
    ends: await proposeByLook(deps, workspaceId, ends, { files: stored, used, readings }),
    files,
    brushes: settings.length,
  }
}

/** Mends loose ends of a ledger in one go, so that their brushes can be taken in. */
export async function mendLedger(
  deps: Deps,
  workspaceId: string,
  gatherId: string,
  mending: Mending,
): Promise<{ id: string; mended: number }> {
  const { ends, files } = await findLedgerEnds(deps, workspaceId, gatherId)
  const targets = chooseTargets(mending, ends, new Set(files.map(({ path }) => path)))
  if (targets.length === 0)
    throw new Refusal('clash', 'None of these can be mended like that any more; look at what is loose now.')
  const id = randomUUID()
  await deps.db.transaction(async (tx) => {
    const mends = await holdLineMends(tx, workspaceId, gatherId)
    if (!mends) throw new Refusal('clash', 'These brushes were already taken in or cancelled; reload the page.')
    const { settings } = await loadLibrary({ db: tx }, workspaceId, gatherId)
    const byFile = new Map(settings.map((line) => [pathOf(line), line]))
    const pathFor = new Map(targets.map(({ end, path }) => [keyOfEnd(end), path]))
    const lines = [...new Set(targets.map(({ end }) => end.file))].flatMap((file) => byFile.get(file) ?? [])
    const before = lines.map(({ id: lineId, settings: { mended } }) => ({ lineId, mended }))
    await setMended(
      tx,
      workspaceId,
      lines.map((line) => {
        const own = line.settings.references.flatMap(({ kind }) => {
          const path = pathFor.get(keyOfEnd({ file: pathOf(line), kind }))
          return path === undefined ? [] : [[kind, path]]
        })
        return { id: line.id, mended: { ...line.settings.mended, ...Object.fromEntries(own) } }
      }),
    )
    const all = [...mends, { id, ends: targets.length, at: new Date().toISOString(), before }]
    await setLineMends(tx, workspaceId, gatherId, all.slice(-MENDS_KEPT))
  })
  await joinSettings(deps, workspaceId, gatherId)
  return { id, mended: targets.length }
}

/** Undoes a mend of a ledger, and those that came after it. */
export async function undoLedgerMend(deps: Deps, workspaceId: string, gatherId: string, id: string): Promise<void> {
  await deps.db.transaction(async (tx) => {
    const mends = (await holdLineMends(tx, workspaceId, gatherId)) ?? []
    const at = mends.findIndex((mend) => mend.id === id)
    if (at < 0) throw notFound('mend')
    for (const { before } of mends.slice(at).reverse())
      await setMended(
        tx,
        workspaceId,
        before.map(({ lineId, mended }) => ({ id: lineId, mended })),
      )
    await setLineMends(tx, workspaceId, gatherId, mends.slice(0, at))
  })
  await joinSettings(deps, workspaceId, gatherId)
}
