import { printAlike } from '@satchel/core/alike/alike-print'
import { guessReading } from '@satchel/core/brush/coverage'
import { FILE_KINDS, HEAD_BYTES, readBrushFile, sniffKind } from '@satchel/core/brush-file/kinds'
import { measureSeamFigures } from '@satchel/core/grain/seam'
import { finish } from '@satchel/core/make/finish'
import { measureMark, proposeStroke } from '@satchel/core/make/first-stroke'
import { type Made, makeAll } from '@satchel/core/make/make-all'
import { type Opened, toOpened } from '@satchel/core/make/opened'
import { withSettings } from '@satchel/core/make/step-kinds'
import { guessPlan, type Plan, WAYS, whatIsWanted } from '@satchel/core/make/ways'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import { nodeDecoders } from '@satchel/node/decoders'
import { encodePng } from '@satchel/node/png'
import { toReadFrame } from './read-tip.ts'
import { orRefused } from './refused.ts'
import type { MadeSource, OpenedSource } from './results.ts'
import { stackZip } from './stack-pictures.ts'
import type { Tasks } from './tasks.ts'

const FOREIGN = `It is no picture that is taken; give one as ${Object.values(FILE_KINDS)
  .map(({ word }) => word)
  .join(', ')}.`

/** What the file is called inside, and what is in it. */
async function open(bytes: Uint8Array): Promise<{ name: string | undefined; opened: Opened }> {
  const file = await readBrushFile(bytes, nodeDecoders)
  return { name: file.name, opened: toOpened(file) }
}

export const openSource: Tasks['openSource'] = async ({ bytes, way }) => {
  const kind = sniffKind(bytes.subarray(0, HEAD_BYTES))
  if (kind === 'zip' && WAYS[way].stacks)
    return orRefused(async () => {
      const repacked = await stackZip(bytes)
      const opened = await openSource({ bytes: repacked, way })
      return 'refused' in opened ? opened : { ...opened, repacked }
    })
  if (kind === 'zip' || kind === 'foreign') return { refused: FOREIGN }
  return orRefused(async (): Promise<OpenedSource | { refused: string }> => {
    const { name, opened } = await open(bytes)
    const wanted = whatIsWanted(way, opened)
    if (wanted !== undefined) return { refused: `To begin with ${WAYS[way].word} it takes ${wanted}.` }
    const { width, height } = opened.picture
    return { kind, name, width, height, plan: guessPlan(way, opened) }
  })
}

export const previewSource: Tasks['previewSource'] = async ({ bytes, sidePx }) => {
  const { picture } = (await open(bytes)).opened
  const { width, height } = fitSize(picture.width, picture.height, sidePx)
  return encodePng(width === picture.width ? picture : shrinkPixels(picture, width, height))
}

/** Shares are told in so many steps: the page needs no more. */
const TELL_STEPS = 1000

export const makeSource: Tasks['makeSource'] = ({ bytes, plan }, tell) =>
  orRefused<MadeSource>(async () => {
    const { opened } = await open(bytes)
    const making = makeAll(opened, plan)
    let made: Made | undefined
    while (!made) {
      const { done, value } = making.next()
      if (done) made = value
      else tell(Math.round(value * TELL_STEPS))
    }
    const parts = made.parts.map(({ part, name, pixels, reading }) => ({
      part,
      name,
      reading,
      frame: toReadFrame(pixels),
      alike: printAlike(pixels, reading),
      stroke: plan.stroke ?? proposeStroke(measureMark(pixels, reading)),
      seam: made.become === 'strips' ? measureSeamFigures(pixels) : undefined,
    }))
    return { become: made.become, parts }
  })

export const readFrame: Tasks['readFrame'] = ({ bytes, reading }) =>
  orRefused(async () => {
    const kind = sniffKind(bytes.subarray(0, HEAD_BYTES))
    if (kind === 'zip' || kind === 'foreign') return { refused: FOREIGN }
    const { opened } = await open(bytes)
    const wanted = whatIsWanted('picture', opened)
    if (wanted !== undefined) return { refused: `A frame is made of ${wanted}.` }
    // what is read alike already stays as it is; of anything else the first guess makes a tip
    if (guessReading(opened.picture) === reading) return toReadFrame(opened.picture)
    const plan = guessPlan('picture', opened)
    const making = makeAll(opened, { ...plan, steps: withSettings(plan.steps, 'reading', { reading }) } as Plan)
    const [part] = finish(making).parts
    if (!part) throw new Error('a picture gave no tip')
    return toReadFrame(part.pixels)
  })
