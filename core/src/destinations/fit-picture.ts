import { toCoverage } from '../brush/coverage.ts'
import type { Pixels } from '../raster/pixels.ts'
import type { Fitting } from './fit-state.ts'

/** Paint outside the circle below this share passes for none. */
const OUTSIDE_SHARE = 0.001
/** Coverage from which a pixel has to lie inside. */
const PAINTS_FROM = 8

/** Brings pictures to the sizes and shapes that the destination takes; strokes stay as wide and as dense as they can. */
export function fitPicture(fitting: Fitting): void {
  const { pictures, files } = fitting.destination
  if (fitting.recipe.path.ribbon) {
    bound(fitting)
    return
  }
  if (pictures.circle || pictures.square || pictures.powersOfTwo || pictures.canvas) fitting.levelFrames()
  if (files.several === 'apng' || files.several === 'layers') ontoOne(fitting)
  if (pictures.circle) intoCircle(fitting)
  bound(fitting)
  const { width, height } = enclose(fitting.frames)
  const side = Math.max(width, height)
  const [across, down] = pictures.square || pictures.circle ? [side, side] : [width, height]
  if (pictures.canvas) ontoCanvas(fitting, pictures.canvas)
  else if (pictures.powersOfTwo) toPowersOfTwo(fitting, across, down)
  else if (pictures.square || pictures.circle) fitting.reframe(across, down)
}

/** Pictures of one file have one size. */
function ontoOne(fitting: Fitting): void {
  const { width, height } = enclose(fitting.frames)
  if (fitting.frames.every((frame) => frame.width === width && frame.height === height)) return
  fitting.levelFrames()
  const level = enclose(fitting.frames)
  fitting.reframe(level.width, level.height)
}

/** Where a brush paints as large as its picture: the picture is drawn at that size, or left as it is. */
export function fitSize(fitting: Fitting): void {
  if (!fitting.destination.pictures.isOwnSize) return
  const { sizePx } = fitting.recipe.mark
  const [frame] = fitting.frames
  const longer = Math.max(frame.width, frame.height)
  if (longer === Math.round(sizePx)) return
  const way = fitting.choose('size', [
    { value: 'painted', label: `drawn at the ${Math.round(sizePx)} px that it is painted at` },
    { value: 'full', label: `left at its ${longer} px` },
  ])
  if (way === 'full') {
    fitting.leave('mark.sizePx', 'the size it is painted at', `it paints at ${longer} px until another size is set`)
    fitting.change((recipe) => ({ ...recipe, mark: { ...recipe.mark, sizePx: longer } }))
    return
  }
  fitting.levelFrames()
  rescale(fitting, sizePx / longer)
  const [now] = fitting.frames
  fitting.change((recipe) => ({ ...recipe, mark: { ...recipe.mark, sizePx: Math.max(now.width, now.height) } }))
}

/** Scales all frames; size and spacing say the same of them as before. */
function rescale(fitting: Fitting, factor: number): void {
  fitting.scaleFrames(() => factor)
  const { ribbon } = fitting.recipe.path
  if (!ribbon) return
  const leads = { leadInPx: ribbon.leadInPx * factor, leadOutPx: ribbon.leadOutPx * factor }
  fitting.change((recipe) => ({ ...recipe, path: { ...recipe.path, ribbon: { ...ribbon, ...leads } } }))
}

function bound(fitting: Fitting): void {
  const { leastPx, mostPx, isOwnSize } = fitting.destination.pictures
  const { width, height } = enclose(fitting.frames)
  const longer = Math.max(width, height)
  const wanted = Math.min(mostPx, Math.max(leastPx, longer))
  if (wanted === longer) return
  fitting.approximate('picture', `its ${longer} px`, `scaled to ${wanted} px`)
  rescale(fitting, wanted / longer)
  if (isOwnSize) fitting.change((recipe) => ({ ...recipe, mark: { ...recipe.mark, sizePx: wanted } }))
}

function ontoCanvas(fitting: Fitting, { width, height }: { width: number; height: number }): void {
  const now = enclose(fitting.frames)
  const factor = Math.min(1, width / now.width, height / now.height)
  if (factor < 1) {
    fitting.approximate('picture', `its ${now.width} x ${now.height} px`, `scaled to fit ${width} x ${height} px`)
    rescale(fitting, factor)
  }
  fitting.reframe(width, height)
}

function toPowersOfTwo(fitting: Fitting, width: number, height: number): void {
  const { mostPx } = fitting.destination.pictures
  const most = 2 ** Math.floor(Math.log2(mostPx))
  const factor = Math.min(1, most / Math.max(width, height))
  if (factor < 1) {
    fitting.approximate('picture', `its ${Math.max(width, height)} px`, `scaled to ${most} px`)
    rescale(fitting, factor)
  }
  const power = (side: number) => Math.min(most, 2 ** Math.ceil(Math.log2(Math.max(1, Math.round(side * factor)))))
  fitting.reframe(power(width), power(height))
}

/** What is cut to the circle inside: the mark is given room, or loses its corners. */
function intoCircle(fitting: Fitting): void {
  const { width, height } = enclose(fitting.frames)
  const side = Math.max(width, height)
  const reading = fitting.recipe.colour.reading
  const measures = fitting.frames.map((frame) => reachOf(toCoverage(frame, reading), side / 2))
  const outside = Math.max(...measures.map(({ share }) => share))
  if (outside < OUTSIDE_SHARE) return
  const percent = (100 * outside).toFixed(1)
  const way = fitting.choose('circle', [
    { value: 'shrink', label: 'room around it, nothing is cut' },
    { value: 'cut', label: `cut away, ${percent} % of the paint` },
  ])
  if (way === 'cut') {
    fitting.approximate('picture', 'its corners', `${percent} % of the paint lies outside the circle and is cut away`)
    return
  }
  const reach = Math.ceil(2 * Math.max(...measures.map(({ radius }) => radius)))
  fitting.reframe(reach, reach)
}

/** How far paint lies from the middle, and the share of it outside a circle. */
function reachOf({ width, height, channels, data }: Pixels, circle: number): { radius: number; share: number } {
  let [radius, inside, outside] = [0, 0, 0]
  for (let y = 0, i = channels - 1; y < height; y++)
    for (let x = 0; x < width; x++, i += channels) {
      if (data[i] < PAINTS_FROM) continue
      // the far corner of the pixel
      const away = Math.hypot(Math.abs(x + 0.5 - width / 2) + 0.5, Math.abs(y + 0.5 - height / 2) + 0.5)
      if (away > radius) radius = away
      if (Math.hypot(x + 0.5 - width / 2, y + 0.5 - height / 2) > circle) outside += data[i]
      else inside += data[i]
    }
  return { radius, share: outside === 0 ? 0 : outside / (inside + outside) }
}

const enclose = (frames: readonly Pixels[]) => ({
  width: Math.max(...frames.map(({ width }) => width)),
  height: Math.max(...frames.map(({ height }) => height)),
})
