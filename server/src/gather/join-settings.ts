import { createLocate } from '@satchel/core/loose-ends/locate'
import { REFERENCE_KINDS, type Reference, type ReferenceKind } from '@satchel/core/loose-ends/references'
import { recipeOfSettings } from '@satchel/core/loose-ends/settings-recipe'
import {
  grainNameOf,
  type JoinedLine,
  listPictureLines,
  listSettingsLines,
  type PictureLine,
  type SettingsLine,
  setJoinedLine,
  setParts,
} from '../db/gather-settings.ts'
import type { LineGrain } from '../db/schema/gather.ts'
import type { Deps } from '../deps.ts'

/** The whole path of a line, from what was dropped down. */
export const pathOf = ({ folder, path }: { folder: string; path: string }) =>
  folder === '' ? path : `${folder}/${path}`

/** What a ledger holds of a library: its settings as references, and its pictures. */
export type LedgerLibrary = {
  settings: SettingsLine[]
  pictures: PictureLine[]
  references: Reference[]
  /** Where a reference leads, as it is written or as it was mended. */
  locate: (reference: Reference) => string | undefined
}

export async function loadLibrary(
  { db }: Pick<Deps, 'db'>,
  workspaceId: string,
  gatherId: string,
): Promise<LedgerLibrary> {
  const settings = await listSettingsLines(db, workspaceId, gatherId)
  // most ledgers hold no settings: then nothing has to be loaded
  const pictures = settings.length === 0 ? [] : await listPictureLines(db, workspaceId, gatherId)
  const asWritten = createLocate(pictures.map(pathOf))
  const mended = new Map(settings.map((line) => [pathOf(line), line.settings.mended]))
  return {
    settings,
    pictures,
    references: settings.flatMap(referencesOf),
    locate: (reference) => mended.get(reference.file)?.[reference.kind] ?? asWritten(reference),
  }
}

export const referencesOf = (line: SettingsLine): Reference[] =>
  line.settings.references.map(({ kind, target, sha256 }) => ({
    file: pathOf(line),
    brush: line.name,
    kind,
    target,
    sha256: (sha256 ?? undefined) as Reference['sha256'],
  }))

/**
 * Makes brushes of settings and the pictures they refer to; those pictures are no brushes of their own then. What leads
 * nowhere stays out, and says so.
 */
export async function joinSettings(deps: Deps, workspaceId: string, gatherId: string): Promise<void> {
  const { settings, pictures, locate } = await loadLibrary(deps, workspaceId, gatherId)
  if (settings.length === 0) return
  const byPath = new Map(pictures.map((picture) => [pathOf(picture), picture]))
  const parts = new Map<string, string>()
  const joined = settings.map((line): JoinedLine => {
    const found: { [Kind in ReferenceKind]?: PictureLine } = {}
    for (const reference of referencesOf(line)) {
      const picture = byPath.get(locate(reference) ?? '')
      if (!picture) {
        const { word } = REFERENCE_KINDS[reference.kind]
        const reason = `Its ${word} is not among these files: "${reference.target}".`
        return { id: line.id, outcome: 'skip', reason, brush: null }
      }
      found[reference.kind] = picture
    }
    const { tip, grain } = found
    if (!tip) return { id: line.id, outcome: 'skip', reason: 'It refers to no picture.', brush: null }
    for (const picture of [tip, ...(grain ? [grain] : [])]) parts.set(picture.id, line.name)
    const { recipe, ignored } = recipeOfSettings(line.settings.said, {
      frames: tip.frames.length,
      grain: grain && grainNameOf(grain),
    })
    const { pixelKey, alikeKey, alikeMark } = tip
    const reason = ignored.length === 0 ? '' : `Of its settings these were not understood: ${ignored.join(', ')}.`
    return {
      id: line.id,
      outcome: 'take',
      reason,
      frames: tip.frames,
      grain: (grain && toGrain(grain)) ?? null,
      brush: { maker: '', licence: '', tags: [], recipe, inSets: [] },
      picture: { pixelKey, alikeKey, alikeMark },
    }
  })
  await deps.db.transaction(async (tx) => {
    const before = new Map(settings.map((line) => [line.id, line]))
    for (const line of joined) if (!isJoined(before.get(line.id), line)) await setJoinedLine(tx, workspaceId, line)
    const freed = pictures.filter(({ id, isPart }) => isPart && !parts.has(id)).map(({ id }) => id)
    await setParts(tx, workspaceId, freed, { isPart: false, reason: '' })
    for (const [brush, ids] of groupByBrush(parts))
      await setParts(tx, workspaceId, ids, {
        isPart: true,
        reason: `It belongs to "${brush}", which is taken with its settings.`,
      })
  })
}

/** Whether a line is what it is to become: a smaller copy that stands for its pictures stays. */
function isJoined(line: SettingsLine | undefined, joined: JoinedLine): boolean {
  if (!line || joined.brush === null || line.frames.length === 0 || line.reason !== joined.reason) return false
  const own = (line.fullFrames ?? line.frames).map(({ blobSha }) => blobSha)
  const wanted = joined.frames.map(({ blobSha }) => blobSha)
  return own.join() === wanted.join() && line.grain?.blobSha === joined.grain?.blobSha
}

function toGrain({ name, frames, seamAcross, seamDown }: PictureLine): LineGrain | undefined {
  const [first] = frames
  return first && { ...first, name, seamAcross: seamAcross ?? 1, seamDown: seamDown ?? 1 }
}

function groupByBrush(parts: ReadonlyMap<string, string>): Map<string, string[]> {
  const groups = new Map<string, string[]>()
  for (const [id, brush] of parts) groups.set(brush, [...(groups.get(brush) ?? []), id])
  return groups
}
