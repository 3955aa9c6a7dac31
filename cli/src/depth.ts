import { writeGrey16Png, writePng } from '@satchel/core/formats/png/write'
import { finish } from '@satchel/core/make/finish'
import { DEPTH_SIDE_MAX_PX, drawDepth, lostToCircle, toDepthGrey, type View } from '@satchel/core/mesh/depth'
import { checkOutput, shownName, writeWhole } from './files.ts'
import { numberOf } from './numbers.ts'
import { readAnyPicture } from './photos.ts'
import { EXIT, FileProblem, UsageError } from './problems.ts'
import { say, sayJson } from './say.ts'

type DepthOptions = Record<'out' | 'yaw' | 'pitch' | 'roll' | 'zoom' | 'near' | 'far' | 'size' | 'bits', string> & {
  json: boolean
  force: boolean
}

/** Draws the depth of a model. @returns The exit code. */
export async function drawDepthFile(file: string, options: DepthOptions): Promise<number> {
  const { out, json, force } = options
  const { view, sidePx, bits } = parse(options)
  checkOutput(out, [file], force)
  const { mesh } = await readAnyPicture(file)
  if (!mesh) throw new FileProblem(shownName(file), 'it is no model; give an OBJ or STL.')
  const depth = finish(drawDepth(mesh, view, sidePx))
  const grey = toDepthGrey(depth, bits)
  const png =
    grey instanceof Uint16Array
      ? writeGrey16Png(sidePx, sidePx, grey)
      : writePng({ width: sidePx, height: sidePx, channels: 1, data: grey })
  await writeWhole(out, png, { inputs: [file], force })
  const circleLoss = lostToCircle(depth)
  if (json) sayJson({ file, triangles: mesh.triangles.length / 3, sidePx, bits, view, circleLoss })
  else {
    say(`${shownName(out)}: ${sidePx} x ${sidePx} px, ${bits} bits, of ${mesh.triangles.length / 3} triangles`)
    if (circleLoss > 0) say(`A circle would cut off ${(circleLoss * 100).toFixed(1)} % of what it paints.`)
  }
  return EXIT.done
}

function parse({ yaw, pitch, roll, zoom, near, far, size, bits }: DepthOptions): {
  view: View
  sidePx: number
  bits: 8 | 16
} {
  const view: View = {
    yawDeg: numberOf('yaw', yaw, -360, 360),
    pitchDeg: numberOf('pitch', pitch, -360, 360),
    rollDeg: numberOf('roll', roll, -360, 360),
    zoom: numberOf('zoom', zoom, 0.1, 20),
    near: numberOf('near', near, 0, 1),
    far: numberOf('far', far, 0, 1),
  }
  if (view.near >= view.far) throw new UsageError('--near has to be smaller than --far.')
  if (bits !== '8' && bits !== '16') throw new UsageError(`--bits takes 8 or 16, not "${bits}".`)
  return { view, sidePx: Math.round(numberOf('size', size, 1, DEPTH_SIDE_MAX_PX)), bits: bits === '8' ? 8 : 16 }
}
