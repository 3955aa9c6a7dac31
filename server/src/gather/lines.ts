import type { Thumbnail } from '@satchel/core/brush/thumbnail'
import { toOneLine } from '@satchel/core/formats/text'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import type { Db } from '../db/database.ts'
import { addGatherLines } from '../db/gather-lines.ts'
import { holdGatherFile, type NewGatherLine } from '../db/gathers.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import { withFile } from '../pictures/thumbnail-file.ts'
import { JobStopped } from '../queue/queue.ts'
import type { ReadFrame } from '../workers/tasks.ts'
import type { LineHead, Reader } from './reader.ts'

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
  head: LineHead,
  { frames, grain, thumbnail }: LinePictures,
  content: LineContent,
): Promise<void> {
  const { deps, file } = reader
  await deps.db.transaction(async (tx) => {
    const store = async ({ png, pixelSha, width, height, name }: ReadFrame): Promise<StoredFrame> => {
      const { sha256 } = await deps.blobs.put(tx, file.workspaceId, png, 'image/png')
      return { blobSha: sha256, pixelSha, width, height, ...(name ? { name } : {}) }
    }
    const stored: StoredFrame[] = []
    for (const frame of frames) stored.push(await store(frame))
    const ground = grain ? { ...(await store(grain.frame)), ...aboutGrain(grain) } : null
    const shown = thumbnail?.png && (await deps.blobs.put(tx, file.workspaceId, thumbnail.png, 'image/png')).sha256
    const brush = content.brush && {
      ...content.brush,
      ...(thumbnail ? { thumbnail: withFile(thumbnail.of, shown) } : {}),
    }
    await insertLine(tx, reader, head, { ...content, ...(brush ? { brush } : {}), frames: stored, grain: ground })
  })
  await tell(reader)
}

const aboutGrain = ({ name, seamAcross, seamDown }: ReadGrain) => ({ name, seamAcross, seamDown })

export type LineContent = Partial<NewGatherLine> & Pick<NewGatherLine, 'outcome' | 'kind'>

export const refused = (kind: string, reason: string): LineContent => ({ outcome: 'refuse', kind, reason })

export async function addLine(reader: Reader, head: LineHead, content: LineContent): Promise<void> {
  await reader.deps.db.transaction((tx) => insertLine(tx, reader, head, content))
  await tell(reader)
}

async function insertLine(db: Db, reader: Reader, head: LineHead, content: LineContent): Promise<void> {
  const { workspaceId, gatherId, id: fileId } = reader.file
  if (!(await holdGatherFile(db, reader.file))) throw new JobStopped()
  const [first] = content.frames ?? []
  await addGatherLines(db, [
    {
      workspaceId,
      gatherId,
      fileId,
      ordinal: reader.ordinal++,
      folder: head.folder,
      path: head.path,
      name: nameOf(head.path),
      setName: content.outcome === 'take' ? toOneLine(head.setName, NAME_MAX_CHARS) : '',
      ...(first ? { width: first.width, height: first.height } : {}),
      ...content,
    },
  ])
}

/** Tells of new lines, many of them at once; the end of each file is told in any case. */
async function tell({ deps, progress, file: { workspaceId, gatherId } }: Reader): Promise<void> {
  if (progress.isDue(Date.now())) await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
}

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
