import type { AlikePrint } from '@satchel/core/alike/alike-print'
import { isOwnPicture } from '@satchel/core/brush/thumbnail'
import type { ByteSource, ZipEntry } from '@satchel/core/formats/zip/layout'
import type { PackBrush } from '@satchel/core/pack/manifest'
import { type OpenedPack, openPack } from '@satchel/core/pack/read'
import type { InSet, PackPin } from '../db/schema/gather.ts'
import { toPixelKey } from '../workers/read-tip.ts'
import type { ReadFrame } from '../workers/tasks.ts'
import { addBrushLine, addLine, type ReadGrain, refused } from './lines.ts'
import type { LineHead, Reader } from './reader.ts'
import { threadCodecs } from './thread-codecs.ts'

/** A Satchel pack's brushes come with recipe, tags, maker and all their sets. */
export async function readPack(
  reader: Reader,
  source: ByteSource,
  { at, entries }: { at: string; entries: readonly ZipEntry[] },
): Promise<void> {
  const pack = await openPack(source, threadCodecs(reader.deps.workers), entries)
  const { manifest } = pack
  // The archive itself was counted as one.
  reader.progress.expect(manifest.brushes.length - 1)
  for (const [i, brush] of manifest.brushes.entries()) {
    reader.context.signal.throwIfAborted()
    const inSets = manifest.sets.flatMap(({ name, brushes }, order) => {
      const at = brushes.indexOf(brush.id)
      return at < 0 ? [] : [{ name, order, at }]
    })
    const head: LineHead = { folder: at, path: brush.name, setName: inSets[0]?.name ?? '' }
    const pins = manifest.pockets.flatMap(({ name: pocket, entries }) =>
      entries.flatMap(({ brush: id, sizePx, label }, at) => (id === brush.id ? [{ pocket, at, sizePx, label }] : [])),
    )
    await addPackBrush(reader, head, { inSets, pins, order: i, pack })
    reader.progress.finish()
  }
}

async function addPackBrush(
  reader: Reader,
  head: LineHead,
  { inSets, pins, order, pack }: { inSets: InSet[]; pins: PackPin[]; order: number; pack: OpenedPack },
): Promise<void> {
  const brush = pack.manifest.brushes[order] as PackBrush
  const frames: ReadFrame[] = []
  let alike: AlikePrint | undefined
  for (const [i, sha] of brush.frames.entries()) {
    const result = await reader.deps.workers.run('readTip', {
      bytes: await pack.readFrame(brush, sha),
      reading: brush.recipe.colour.reading,
    })
    if (result.outcome !== 'tip') return addLine(reader, head, refused('pack', result.reason))
    const [frame] = result.frames
    if (frame?.pixelSha !== sha)
      return addLine(reader, head, refused('pack', `Its picture is not the one that it names (${sha}).`))
    alike ??= result.alike
    frames.push({ ...frame, name: brush.frameNames[i] ?? '' })
  }
  const grain = await readPackGrain(reader, brush, pack)
  if (grain && 'reason' in grain) return addLine(reader, head, refused('pack', grain.reason))
  const { maker, licence, tags, recipe, thumbnail } = brush
  const shown = await readPackThumbnail(reader, pack, order)
  const isLost = isOwnPicture(thumbnail) && !shown
  await addBrushLine(
    reader,
    head,
    { frames, grain, thumbnail: { of: thumbnail, png: shown } },
    {
      outcome: 'take',
      kind: 'pack',
      name: brush.name,
      ordinal: order,
      reason: isLost ? 'Its thumbnail cannot be read or shows nothing; its stroke is shown instead.' : '',
      brush: { maker, licence, tags, recipe, inSets, pins, fileKeys: brush.keys },
      pixelKey: toPixelKey(frames.map((frame) => frame.pixelSha)),
      alikeKey: alike?.key ?? null,
      alikeMark: alike?.mark ?? null,
    },
  )
}

/** The file of a thumbnail that was made for a pack's brush; undefined where there is none, or it cannot be used. */
async function readPackThumbnail(reader: Reader, pack: OpenedPack, order: number): Promise<Uint8Array | undefined> {
  const brush = pack.manifest.brushes[order]
  if (!brush || !isOwnPicture(brush.thumbnail)) return undefined
  const read = await reader.deps.workers.run('readThumbnail', { png: await pack.readThumbnail(order) })
  return 'png' in read ? read.png : undefined
}

/** The grain of a pack's brush, with the name that the pack gives it; a reason where it cannot be read. */
async function readPackGrain(
  reader: Reader,
  { recipe }: PackBrush,
  pack: OpenedPack,
): Promise<ReadGrain | { reason: string } | undefined> {
  const sha256 = recipe.ground.grain?.sha256
  if (sha256 === undefined) return undefined
  const result = await reader.deps.workers.run('readTip', { bytes: await pack.readGrain(sha256) })
  if (result.outcome !== 'tip') return { reason: result.reason }
  const [frame] = result.frames
  if (frame?.pixelSha !== sha256) return { reason: `Its grain is not the one that it names (${sha256}).` }
  const name = pack.manifest.grains.find((grain) => grain.sha256 === sha256)?.name ?? 'Grain'
  return { frame, name, seamAcross: result.seam?.across ?? 1, seamDown: result.seam?.down ?? 1 }
}
