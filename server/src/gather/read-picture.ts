import { toOneLine } from '@satchel/core/formats/text'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import type { BrushSettings } from '@satchel/core/loose-ends/references'
import type { ReadEntry } from '../workers/tasks.ts'
import { addBrushLine, addLine, nameOf } from './lines.ts'
import type { LineHead, Reader } from './reader.ts'

/** Files some systems put beside the real ones; common practice, no source. */
const BESIDE = /(^|\/)(__MACOSX\/|\._|\.DS_Store$|Thumbs\.db$|desktop\.ini$)/

export const isBesideOthers = ({ folder, path }: LineHead): boolean => BESIDE.test(`${folder}/${path}`)

export const skipBeside = (reader: Reader, head: LineHead): Promise<void> =>
  addLine(reader, head, { outcome: 'skip', kind: 'foreign', reason: 'A file the system keeps for itself.' })

/** What came of a file that is no archive becomes one line, whatever it is. */
export async function addReadLine(
  reader: Reader,
  head: LineHead,
  result: Exclude<ReadEntry, { outcome: 'archive' }>,
): Promise<void> {
  if (result.outcome === 'settings') return addSettingsLine(reader, head, result.settings)
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
      fileHash: result.fileHash,
      alikeKey: result.alike?.key ?? null,
      alikeMark: result.alike?.mark ?? null,
      use: result.use,
      seamAcross: result.seam?.across ?? null,
      seamDown: result.seam?.down ?? null,
    },
  )
}

/** What a brush of a library says of itself; its pictures are found once every file is read. */
async function addSettingsLine(
  reader: Reader,
  head: LineHead,
  { name, said, references }: BrushSettings,
): Promise<void> {
  const named = references.map(({ kind, target, sha256 }) => ({ kind, target, sha256: sha256 ?? null }))
  await addLine(reader, head, {
    outcome: 'skip',
    kind: 'settings',
    name: toOneLine(name, NAME_MAX_CHARS) || nameOf(head.path),
    setName: toOneLine(head.setName, NAME_MAX_CHARS),
    settings: { said, references: named, mended: {} },
  })
}
