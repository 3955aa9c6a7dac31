import { HEAD_BYTES, readBrushFile, sniffKind } from '@satchel/core/brush-file/kinds'
import { findStroke } from '@satchel/core/looks/find-stroke'
import { printsOfPicture } from '@satchel/core/looks/like-mark'
import { straighten } from '@satchel/core/looks/stroke-plane'
import { signatureOf } from '@satchel/core/looks/stroke-signature'
import type { Pixels } from '@satchel/core/raster/pixels'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import { nodeDecoders } from '@satchel/node/decoders'
import { orRefused } from './refused.ts'
import type { Tasks } from './tasks.ts'

/** A picture by which brushes are looked for is looked at no closer than this, px: what is kept of marks is coarser still. */
const LOOK_PX = 1024

const FOREIGN = 'This is no picture of a kind that is read; choose another one.'

/** Looks at the first picture of whatever file came. */
const lookAt = <Seen extends object>(bytes: Uint8Array, look: (picture: Pixels) => Seen) =>
  orRefused(async () => {
    const kind = sniffKind(bytes.subarray(0, HEAD_BYTES))
    if (kind === 'zip' || kind === 'foreign') return { refused: FOREIGN }
    const [frame] = (await readBrushFile(bytes, nodeDecoders)).frames
    if (!frame) return { refused: FOREIGN }
    const { width, height } = frame.pixels
    const longer = Math.max(width, height)
    const size = fitSize(width, height, Math.min(LOOK_PX, longer))
    return look(shrinkPixels(frame.pixels, size.width, size.height))
  })

export const printPicture: Tasks['printPicture'] = ({ bytes }) =>
  lookAt(bytes, (picture) => ({ prints: printsOfPicture(picture) }))

export const signPicture: Tasks['signPicture'] = ({ bytes }) =>
  lookAt(bytes, (picture) => {
    const plane = findStroke(picture)
    const stroke = plane && straighten(plane)
    return { signature: stroke && signatureOf(stroke) }
  })
