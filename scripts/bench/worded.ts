import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { defaultRecipe } from '../../core/src/brush/recipe.ts'
import type { Db } from '../../server/src/db/database.ts'
import { insertBrushes } from '../../server/src/db/save-brush.ts'

const BATCH = 5000
const WORDS = ['kelp', 'down', 'rope', 'sand', 'ink', 'foam', 'reed', 'shell', 'moss', 'rain']

type Frame = { blobSha: FileSha; pixelSha: PixelSha; width: number; height: number }

/** A picture that nobody stored: for what never asks for one. */
const NO_PICTURE: Frame = {
  blobSha: 'b'.repeat(64) as FileSha,
  pixelSha: 'a'.repeat(64) as PixelSha,
  width: 256,
  height: 256,
}

/** Puts brushes into a library whose names are of two words and a number, by forty makers. */
export async function insertWorded(
  db: Db,
  workspaceId: string,
  { from, to, frame = NO_PICTURE }: { from: number; to: number; frame?: Frame },
): Promise<void> {
  for (let start = from; start < to; start += BATCH)
    await insertBrushes(
      db,
      workspaceId,
      Array.from({ length: Math.min(BATCH, to - start) }, (_, i) => {
        const n = start + i
        return {
          name: `${WORDS[n % 10]} ${WORDS[(n * 7) % 9]} ${n}`,
          maker: `Maker ${n % 40}`,
          licence: '',
          tags: [WORDS[(n * 3) % 10] ?? ''],
          recipe: defaultRecipe({ sizePx: 8 + (n % 200) }),
          frames: [frame],
          pixelKey: String(n),
          alikeKey: null,
          alikeMark: null,
        }
      }),
    )
}

/** As one types: two words, a whole name, a maker, a word that a tenth of the library has, two letters. */
export const TYPED: readonly string[] = WORDS.flatMap((word, n) => [
  `${word} ${WORDS[(n * 7) % 9]}`,
  `${word} ${WORDS[(n * 7) % 9]} ${n + 4230}`,
  `maker ${n + 10} ${word}`,
  word,
  word.slice(0, 2),
])
