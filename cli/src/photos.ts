import type { BrushFile } from '@satchel/core/brush-file/brush-file'
import { type BrushFileKind, type Decoders, readBrushFile } from '@satchel/core/brush-file/kinds'
import { readPng } from '@satchel/core/formats/png/read'
import { readWhole, shownName } from './files.ts'
import { toFileProblem } from './problems.ts'

/** What decodes photographs and drawings is fetched only when one is met. */
const DECODERS: Decoders = {
  png: readPng,
  photo: async (bytes, kind) => (await import('@satchel/node/photograph')).decodePhoto(bytes, kind),
  drawing: async (svg) => (await import('@satchel/node/photograph')).decodeDrawing(svg),
}

/** Reads a file of any kind that is taken, photographs too. @throws {FileProblem} If it cannot be opened or read. */
export async function readAnyPicture(file: string): Promise<BrushFile & { kind: BrushFileKind }> {
  const bytes = await readWhole(file)
  try {
    return await readBrushFile(bytes, DECODERS)
  } catch (error) {
    throw toFileProblem(shownName(file), error)
  }
}
