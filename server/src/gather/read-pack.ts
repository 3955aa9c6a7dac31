import type { AlikePrint } from '@satchel/core/alike/alike-print'
import type { PaintReading } from '@satchel/core/brush/recipe'
import { isOwnPicture } from '@satchel/core/brush/thumbnail'
import type { ZipEntry } from '@satchel/core/formats/zip/layout'
import { originOf, packKey } from '@satchel/core/newer/origin'
import { framePath, grainPath, type PackBrush, type PackManifest, thumbnailPath } from '@satchel/core/pack/manifest'
import type { InSet, PackPin } from '../db/schema/gather.ts'
import { addOfferedCard } from '../db/setup-cards.ts'
import { toPixelKey } from '../workers/read-tip.ts'
import type { FilePart, ReadFrame, ReadResult } from '../workers/results.ts'
import { addLine, addLines, type ReadGrain, refused } from './lines.ts'
import type { LineHead, Reader } from './reader.ts'

/** A pack that is being read: its file, what it says, and where each of its files lies. */
type Pack = { part: FilePart; manifest: PackManifest; entries: ReadonlyMap<string, ZipEntry>; signer: string }

/** A Satchel pack's brushes come with recipe, tags, maker and all their sets. */
export async function readPack(
  reader: Reader,
  part: FilePart,
  {
    at,
    entries,
    manifest,
    signer = '',
  }: { at: string; entries: readonly ZipEntry[]; manifest: PackManifest; signer: string | undefined },
): Promise<void> {
  const pack: Pack = { part, manifest, signer, entries: new Map(entries.map((entry) => [entry.path, entry])) }
  await offerCard(reader, manifest)
  // The archive itself was counted as one.
  reader.progress.expect(manifest.brushes.length - 1)
  const places = placesIn(manifest)
  for (const [i, brush] of manifest.brushes.entries()) {
    reader.context.signal.throwIfAborted()
    const { inSets, pins } = places.get(brush.id) ?? { inSets: [], pins: [] }
    const head: LineHead = { folder: at, path: brush.name, setName: inSets[0]?.name ?? '' }
    await addPackBrush(reader, head, { inSets, pins, order: i, pack })
    reader.progress.finish()
  }
}

type Places = { inSets: InSet[]; pins: PackPin[] }

/** The sets and pockets that each brush of a pack lies in: gone through once, whatever their number. */
function placesIn({ brushes, sets, pockets }: PackManifest): Map<string, Places> {
  const places = new Map(brushes.map(({ id }): [string, Places] => [id, { inSets: [], pins: [] }]))
  // one that stands in a set twice lies where it stands first
  for (const [order, { name, brushes: ids }] of sets.entries())
    for (const [at, id] of ids.entries())
      if (places.get(id)?.inSets.at(-1)?.order !== order) places.get(id)?.inSets.push({ name, order, at })
  for (const { name: pocket, entries } of pockets)
    for (const [at, { brush, sizePx, label }] of entries.entries())
      places.get(brush)?.pins.push({ pocket, at, sizePx, label })
  return places
}

/** A pack's pockets and its setup card are offered, and laid out only where that is chosen. */
async function offerCard({ deps, file }: Reader, manifest: PackManifest): Promise<void> {
  const { title, setup, pockets } = manifest
  if (!setup && pockets.length === 0) return
  const card = {
    key: packKey(manifest),
    title,
    setup: setup ?? null,
    pockets: pockets.map(({ name, entries }) => ({ name, entries: entries.length })),
    isChosen: false,
  }
  await addOfferedCard(deps.db, file, card)
}

async function addPackBrush(
  reader: Reader,
  head: LineHead,
  { inSets, pins, order, pack }: { inSets: InSet[]; pins: PackPin[]; order: number; pack: Pack },
): Promise<void> {
  const brush = pack.manifest.brushes[order] as PackBrush
  const frames: ReadFrame[] = []
  let alike: AlikePrint | undefined
  for (const [i, sha] of brush.frames.entries()) {
    const result = await readPicture(reader, pack, framePath(brush, sha), brush.recipe.colour.reading)
    if ('reason' in result) return addLine(reader, head, refused('pack', result.reason))
    const [frame] = result.frames
    if (frame?.pixelSha !== sha)
      return addLine(reader, head, refused('pack', `Its picture is not the one that it names (${sha}).`))
    alike ??= result.alike
    frames.push({ ...frame, name: brush.frameNames[i] ?? '' })
  }
  const grain = await readPackGrain(reader, brush, pack)
  if (grain && 'reason' in grain) return addLine(reader, head, refused('pack', grain.reason))
  const { maker, licence, tags, recipe, thumbnail } = brush
  const from = reader.file.exchange
  const shown = await readPackThumbnail(reader, pack, order)
  const source = {
    key: packKey(pack.manifest),
    title: pack.manifest.title,
    release: pack.manifest.release,
    signer: pack.signer,
    ...(from ? { exchange: { host: from.host, title: from.title, item: from.item } } : {}),
  }
  const isWanted = !from?.only || from.only.includes(brush.id)
  const isLost = isOwnPicture(thumbnail) && !shown
  const pictures = { frames, grain, thumbnail: { of: thumbnail, png: shown } }
  await addLines(reader, [
    {
      head,
      pictures,
      content: {
        outcome: isWanted ? 'take' : 'skip',
        decided: !isWanted,
        kind: 'pack',
        name: brush.name,
        ordinal: order,
        reason: !isWanted
          ? 'It was not chosen at the exchange.'
          : isLost
            ? 'Its thumbnail cannot be read or shows nothing; its stroke is shown instead.'
            : '',
        brush: { maker, licence, tags, recipe, inSets, pins, fileKeys: brush.keys, source },
        origin: originOf(brush.id) ?? null,
        pixelKey: toPixelKey(frames.map((frame) => frame.pixelSha)),
        alikeKey: alike?.key ?? null,
        alikeMark: alike?.mark ?? null,
      },
    },
  ])
}

/** The file of a thumbnail that was made for a pack's brush; undefined where there is none, or it cannot be used. */
async function readPackThumbnail(reader: Reader, pack: Pack, order: number): Promise<Uint8Array | undefined> {
  const brush = pack.manifest.brushes[order]
  if (!brush || !isOwnPicture(brush.thumbnail)) return undefined
  const entry = pack.entries.get(thumbnailPath(order))
  if (!entry) return undefined
  const read = await reader.deps.workers.run('readThumbnail', { part: pack.part, entry })
  return 'png' in read ? read.png : undefined
}

/** The grain of a pack's brush, with the name that the pack gives it; a reason where it cannot be read. */
async function readPackGrain(
  reader: Reader,
  { recipe }: PackBrush,
  pack: Pack,
): Promise<ReadGrain | { reason: string } | undefined> {
  const sha256 = recipe.ground.grain?.sha256
  if (sha256 === undefined) return undefined
  const result = await readPicture(reader, pack, grainPath(sha256))
  if ('reason' in result) return result
  const [frame] = result.frames
  if (frame?.pixelSha !== sha256) return { reason: `Its grain is not the one that it names (${sha256}).` }
  const name = pack.manifest.grains.find((grain) => grain.sha256 === sha256)?.name ?? 'Grain'
  return { frame, name, seamAcross: result.seam?.across ?? 1, seamDown: result.seam?.down ?? 1 }
}

/** A picture of a pack, or why it cannot be read. */
async function readPicture(
  reader: Reader,
  { part, entries }: Pack,
  path: string,
  reading?: PaintReading,
): Promise<Extract<ReadResult, { outcome: 'tip' }> | { reason: string }> {
  // every picture that the manifest names is there: that was looked at when it was opened
  const entry = entries.get(path)
  if (!entry) return { reason: `The file ${path} is not in it.` }
  const read = await reader.deps.workers.run('readEntry', { part, entry, ...(reading ? { reading } : {}) })
  if (read.outcome === 'tip') return read
  return 'reason' in read ? read : { reason: `The file ${path} is no picture.` }
}
