import type { ReadResult } from '../workers/tasks.ts'
import { addBrushLine, addLine, nameOf } from './lines.ts'
import type { LineHead, Reader } from './reader.ts'

/** Files some systems put beside the real ones; common practice, no source. */
const BESIDE = /(^|\/)(__MACOSX\/|\._|\.DS_Store$|Thumbs\.db$|desktop\.ini$)/

/** A file that is no archive becomes one line, whatever it is. */
export async function readPicture(reader: Reader, bytes: Uint8Array, head: LineHead): Promise<void> {
  if (BESIDE.test(`${head.folder}/${head.path}`)) {
    return addLine(reader, head, { outcome: 'skip', kind: 'foreign', reason: 'A file the system keeps for itself.' })
  }
  await addReadLine(reader, head, await reader.deps.workers.run('readTip', { bytes }))
}

async function addReadLine(reader: Reader, head: LineHead, result: ReadResult): Promise<void> {
  if (result.outcome !== 'tip') {
    return addLine(reader, head, {
      outcome: result.outcome === 'refused' ? 'refuse' : 'skip',
      kind: result.kind,
      reason: result.reason,
    })
  }
  await addBrushLine(
    reader,
    head,
    { frames: result.frames },
    {
      outcome: 'take',
      kind: result.kind,
      reason: result.warnings.join(' '),
      name: result.name ?? nameOf(head.path),
      brush: {
        maker: result.maker,
        licence: result.licence,
        tags: [],
        recipe: result.recipe,
        inSets: [],
        fileKeys: result.fileKeys,
      },
      pixelKey: result.pixelKey,
      alikeKey: result.alike?.key ?? null,
      alikeMark: result.alike?.mark ?? null,
      use: result.use,
      seamAcross: result.seam?.across ?? null,
      seamDown: result.seam?.down ?? null,
    },
  )
}
