import { toOneLine } from '@satchel/core/formats/text'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import type { BrushSettings } from '@satchel/core/loose-ends/references'
import type { ReadEntry } from '../workers/results.ts'
import { type NewLine, nameOf } from './lines.ts'
import type { LineHead } from './reader.ts'

/** Files some systems put beside the real ones; common practice, no source. */
const BESIDE = /(^|\/)(__MACOSX\/|\._|\.DS_Store$|Thumbs\.db$|desktop\.ini$)/

export const isBesideOthers = ({ folder, path }: LineHead): boolean => BESIDE.test(`${folder}/${path}`)

export const lineBeside = (head: LineHead): NewLine => ({
  head,
  content: { outcome: 'skip', kind: 'foreign', reason: 'A file the system keeps for itself.' },
})

/** What came of a file that is no archive becomes one line, whatever it is. */
export function lineOfRead(head: LineHead, result: Exclude<ReadEntry, { outcome: 'archive' }>): NewLine {
  if (result.outcome === 'settings') return lineOfSettings(head, result.settings)
  if (result.outcome !== 'tip') {
    const outcome = result.outcome === 'refused' ? 'refuse' : 'skip'
    return { head, content: { outcome, kind: result.kind, reason: result.reason } }
  }
  const { name, maker, licence, recipe, fileKeys, alike, seam } = result
  return {
    head,
    pictures: { frames: result.frames },
    content: {
      outcome: 'take',
      kind: result.kind,
      reason: result.warnings.join(' '),
      name: name ?? nameOf(head.path),
      brush: { maker, licence, tags: [], recipe, inSets: [], fileKeys },
      pixelKey: result.pixelKey,
      fileHash: result.fileHash,
      alikeKey: alike?.key ?? null,
      alikeMark: alike?.mark ?? null,
      use: result.use,
      seamAcross: seam?.across ?? null,
      seamDown: seam?.down ?? null,
    },
  }
}

/** What a brush of a library says of itself; its pictures are found once every file is read. */
function lineOfSettings(head: LineHead, { name, said, references }: BrushSettings): NewLine {
  const named = references.map(({ kind, target, sha256 }) => ({ kind, target, sha256: sha256 ?? null }))
  return {
    head,
    content: {
      outcome: 'skip',
      kind: 'settings',
      name: toOneLine(name, NAME_MAX_CHARS) || nameOf(head.path),
      setName: toOneLine(head.setName, NAME_MAX_CHARS),
      settings: { said, references: named, mended: {} },
    },
  }
}
