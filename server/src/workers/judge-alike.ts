import { judgePictures, type LayTip } from '@satchel/core/alike/find-alike'
import { layMark, type Mark } from '@satchel/core/alike/mark'
import { nodeHashBytes } from '@satchel/node/hash'
import { LRUCache } from 'lru-cache'
import { decodeOne } from './decode-one.ts'
import type { PngTip } from './results.ts'
import type { Tasks } from './tasks.ts'

/** Marks that are kept: of 96 x 96 places some 180 KiB each. */
const MARKS_MAX = 128

/** In a group all copies are compared with one original, whose picture is large and whose mark is not. */
const laid = new LRUCache<string, { mark: Mark | undefined }>({ max: MARKS_MAX })

/** Lays a tip by what is kept of it from before, or by its picture, which is decoded once at most. */
function layKept({ png, reading }: PngTip): LayTip {
  const sha = nodeHashBytes(png)
  let pixels: ReturnType<typeof decodeOne> | undefined
  return async (side) => {
    const key = `${sha} ${reading} ${side}`
    const kept = laid.get(key)
    if (kept) return kept.mark
    pixels ??= decodeOne(png)
    const mark = layMark(await pixels, reading, side)
    laid.set(key, { mark })
    return mark
  }
}

export const judgeAlike: Tasks['judgeAlike'] = ({ tip, original }) => judgePictures(layKept(tip), layKept(original))
