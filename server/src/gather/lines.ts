import type { Thumbnail } from '@satchel/core/brush/thumbnail'
import { toOneLine } from '@satchel/core/formats/text'
import type { FileSha } from '@satchel/core/hashes'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import { addGatherLines } from '../db/gather-lines.ts'
import { holdGatherFile, type NewGatherLine } from '../db/gathers.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import { withFile } from '../pictures/thumbnail-file.ts'
import { JobStopped } from '../queue/queue.ts'
import type { ReadFrame } from '../workers/results.ts'
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

export type LineContent = Partial<NewGatherLine> & Pick<NewGatherLine, 'outcome' | 'kind'>

/** A line to be: where it stands, what it says, and the pictures that come with it. */
export type NewLine = { head: LineHead; content: LineContent; pictures?: LinePictures }

/**
 * Lines that were read together, each with its pictures. All of it goes in, or nothing: a cancelled ledger takes no more lines, and
 * then keeps no pictures.
 */
export async function addLines(reader: Reader, lines: readonly NewLine[]): Promise<void> {
  if (lines.length === 0) return
  const { deps, file } = reader
  await deps.db.transaction(async (tx) => {
    if (!(await holdGatherFile(tx, file))) throw new JobStopped()
    const pngs = lines.flatMap(({ pictures }) => (pictures ? pngsOf(pictures) : []))
    const names = (await deps.blobs.putAll(tx, file.workspaceId, pngs, 'image/png'))[Symbol.iterator]()
    const next = () => {
      const { value } = names.next()
      if (!value) throw new Error('a picture of a line was not stored')
      return value
    }
    await addGatherLines(
      tx,
      lines.map(({ head, content, pictures }) => ({
        ...lineOf(reader, head),
        setName: content.outcome === 'take' ? toOneLine(head.setName, NAME_MAX_CHARS) : '',
        ...content,
        ...(pictures ? withPictures(content, pictures, next) : {}),
      })),
    )
  })
  await tell(reader)
}

/** All files of a line's pictures, in the order in which `withPictures` asks for their names. */
const pngsOf = ({ frames, grain, thumbnail }: LinePictures): Uint8Array[] => [
  ...frames.map(({ png }) => png),
  ...(grain ? [grain.frame.png] : []),
  ...(thumbnail?.png ? [thumbnail.png] : []),
]

function withPictures({ brush }: LineContent, { frames, grain, thumbnail }: LinePictures, next: () => FileSha) {
  const stored = ({ pixelSha, width, height, name }: ReadFrame): StoredFrame => ({
    ...{ blobSha: next(), pixelSha, width, height },
    ...(name ? { name } : {}),
  })
  const kept = frames.map(stored)
  const ground = grain ? { ...stored(grain.frame), ...aboutGrain(grain) } : null
  const shown = thumbnail?.png && next()
  const [first] = kept
  return {
    frames: kept,
    grain: ground,
    ...(brush ? { brush: { ...brush, ...(thumbnail ? { thumbnail: withFile(thumbnail.of, shown) } : {}) } } : {}),
    ...(first ? { width: first.width, height: first.height } : {}),
  }
}

const aboutGrain = ({ name, seamAcross, seamDown }: ReadGrain) => ({ name, seamAcross, seamDown })

export const refused = (kind: string, reason: string): LineContent => ({ outcome: 'refuse', kind, reason })

export const addLine = (reader: Reader, head: LineHead, content: LineContent): Promise<void> =>
  addLines(reader, [{ head, content }])

function lineOf(reader: Reader, head: LineHead) {
  const { workspaceId, gatherId, id: fileId } = reader.file
  return {
    ...{ workspaceId, gatherId, fileId, ordinal: reader.ordinal++ },
    ...{ folder: head.folder, path: head.path, name: nameOf(head.path) },
  }
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
