import type { Thumbnail } from '@satchel/core/brush/thumbnail'
import { toOneLine } from '@satchel/core/formats/text'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import type { Db } from '../db/database.ts'
import { addGatherLines, type GatherFile, type NewGatherLine } from '../db/gathers.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import type { Deps } from '../deps.ts'
import { withFile } from '../pictures/thumbnail-file.ts'
import type { JobContext } from '../queue/queue.ts'
import type { ReadFrame } from '../workers/tasks.ts'

/** Where a line stands in the ledger, and the set it would go to. */
export type Place = { folder: string; path: string; setName: string }
/** One file being read. */
export type Reader = {
  deps: Deps
  file: GatherFile
  context: JobContext
  tally: Tally
  unpackedBytes: number
  ordinal: number
}
/** How far the whole job is. */
export type Tally = { files: number; filesRead: number; entries: number; entriesRead: number }

/** A grain as read from a pack, before its file is stored. */
export type ReadGrain = { frame: ReadFrame; name: string; seamAcross: number; seamDown: number }

/** The pictures of a brush to be: its frames, and what came with it out of a pack. */
export type LinePictures = {
  frames: readonly ReadFrame[]
  grain?: ReadGrain | undefined
  /** What stands for it; with a PNG file where that is a picture of its own. */
  thumbnail?: { of: Thumbnail; png: Uint8Array | undefined } | undefined
}

/** Pictures and line go in together or not at all: a cancelled ledger takes no more lines, and then keeps no pictures. */
export async function addBrushLine(
  reader: Reader,
  place: Place,
  { frames, grain, thumbnail }: LinePictures,
  content: LineContent,
): Promise<void> {
  const { deps, file } = reader
  await deps.db.transaction(async (tx) => {
    const store = async ({ png, pixelSha, width, height }: ReadFrame): Promise<StoredFrame> => {
      const { sha256 } = await deps.blobs.put(tx, file.workspaceId, png, 'image/png')
      return { blobSha: sha256, pixelSha, width, height }
    }
    const stored: StoredFrame[] = []
    for (const frame of frames) stored.push(await store(frame))
    const ground = grain ? { ...(await store(grain.frame)), ...aboutGrain(grain) } : null
    const shown = thumbnail?.png && (await deps.blobs.put(tx, file.workspaceId, thumbnail.png, 'image/png')).sha256
    const brush = content.brush && {
      ...content.brush,
      ...(thumbnail ? { thumbnail: withFile(thumbnail.of, shown) } : {}),
    }
    await insertLine(tx, reader, place, { ...content, ...(brush ? { brush } : {}), frames: stored, grain: ground })
  })
  await tell(reader)
}

const aboutGrain = ({ name, seamAcross, seamDown }: ReadGrain) => ({ name, seamAcross, seamDown })

export type LineContent = Partial<NewGatherLine> & Pick<NewGatherLine, 'outcome' | 'kind'>

export const refused = (kind: string, reason: string): LineContent => ({ outcome: 'refuse', kind, reason })

export async function addLine(reader: Reader, place: Place, content: LineContent): Promise<void> {
  await insertLine(reader.deps.db, reader, place, content)
  await tell(reader)
}

async function insertLine(db: Db, reader: Reader, place: Place, content: LineContent): Promise<void> {
  const { workspaceId, gatherId, id: fileId } = reader.file
  const [first] = content.frames ?? []
  await addGatherLines(db, [
    {
      workspaceId,
      gatherId,
      fileId,
      ordinal: reader.ordinal++,
      folder: place.folder,
      path: place.path,
      name: nameOf(place.path),
      setName: content.outcome === 'take' ? toOneLine(place.setName, NAME_MAX_CHARS) : '',
      ...(first ? { width: first.width, height: first.height } : {}),
      ...content,
    },
  ])
}

const tell = ({ deps, file }: Reader) =>
  deps.events.publish({ workspaceId: file.workspaceId, topic: 'gather', id: file.gatherId })

export function splitPath(path: string): { folder: string; base: string } {
  const slash = path.lastIndexOf('/')
  return slash < 0 ? { folder: '', base: path } : { folder: path.slice(0, slash), base: path.slice(slash + 1) }
}

export const lastPart = (path: string) => splitPath(path).base

/** A file's name as a brush's: without its extension, low lines as spaces. */
export function nameOf(base: string): string {
  const bare = base.replace(/\.satchel\.zip$|\.[A-Za-z0-9]{1,5}$/, '')
  return toOneLine(bare.replaceAll('_', ' '), NAME_MAX_CHARS) || 'Unnamed'
}
