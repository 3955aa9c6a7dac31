import { type PartName, usedParts } from '../brush/parts.ts'
import { defaultRecipe } from '../brush/recipe.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { createSurface, toStraightRgba } from '../raster/surface.ts'
import { paintedReach, scaleRecipe } from '../render/gauge.ts'
import { INK, paintStroke } from '../render/render.ts'
import type { Samples } from '../stroke/path/samples.ts'
import { prepareBrush } from '../stroke/prepare-brush.ts'
import type { Fitting } from './fit-state.ts'

/** A strip of a stamped stroke: how many sizes long, and no higher than this, px. */
const STRIP_SIZES = 8
const STRIP_HIGH_MOST_PX = 256
const SEED = 4111
/** What a recipe says beyond the strip that its stroke becomes. */
const OUTLASTS: readonly PartName[] = [
  'mark.sizePx',
  'path.taper',
  'hand.pressure',
  'hand.tilt',
  'hand.speed',
  'colour.blend',
  'colour.behaviour',
]

/** A ribbon becomes stamps where none is known, and stamps a ribbon where only ribbons are. */
export function fitRibbon(fitting: Fitting): void {
  const { ribbon } = fitting.recipe.path
  const stamps = fitting.knows('path.spacingPct')
  if (ribbon) {
    if (fitting.knows('path.ribbon', ribbon.lay)) return
    const others = fitting.knows('path.ribbon')
    const way = fitting.choose('ribbon', [
      ...(others ? [{ value: 'otherLay', label: 'laid in another way' } as const] : []),
      ...(stamps || !others ? [{ value: 'stamps', label: 'stamped, following the path' } as const] : []),
    ] as [{ value: 'otherLay' | 'stamps'; label: string }])
    if (way === 'stamps') toStamps(fitting)
    return
  }
  if (!stamps && fitting.knows('path.ribbon')) toStrip(fitting)
}

/** The repeated part of a strip as a stamp that follows the path, one touching the next. */
function toStamps(fitting: Fitting): void {
  const { ribbon } = fitting.recipe.path
  const [strip] = fitting.frames
  if (!ribbon) return
  // bounds that leave nothing between them are no bounds
  const [leadIn, leadOut] = ribbon.lay === 'repeated' ? [ribbon.leadInPx, ribbon.leadOutPx].map(Math.round) : [0, 0]
  const isWhole = leadIn + leadOut >= strip.width
  const body = isWhole ? strip : columns(strip, leadIn, strip.width - leadOut)
  fitting.frames = [body]
  fitting.approximate('path.ribbon', 'the ribbon', 'its repeated part is stamped, following the path')
  fitting.change((recipe) => {
    const { ribbon: _, ...path } = recipe.path
    const sizePx = (recipe.mark.sizePx * Math.max(body.width, body.height)) / body.height
    const nextFrame = [{ rule: 'inOrder' as const, frames: 1 }]
    return {
      ...recipe,
      mark: { ...recipe.mark, sizePx, angle: { mode: 'following', deg: 0 } },
      path: { ...path, spacingPct: 100, nextFrame },
    }
  })
}

function columns({ width, height, channels, data }: Pixels, from: number, to: number): Pixels {
  const out = createPixels(to - from, height, channels)
  for (let y = 0; y < height; y++)
    out.data.set(data.subarray((y * width + from) * channels, (y * width + to) * channels), y * (to - from) * channels)
  return out
}

/** A straight stroke of the brush, painted as a strip whose middle is repeated. */
function toStrip(fitting: Fitting): void {
  const { recipe, brush } = fitting
  const reach = paintedReach(recipe)
  const scale = Math.min(1, STRIP_HIGH_MOST_PX / (recipe.mark.sizePx * reach))
  const small = scaleRecipe({ ...recipe, hand: { pressure: {}, tilt: {}, speed: {} } }, scale)
  const plain = { ...small, colour: { ...small.colour, behaviour: 'paint' as const, blend: 'normal' as const } }
  const size = small.mark.sizePx
  const high = Math.max(2, Math.ceil(size * reach))
  const lead = Math.ceil(size)
  const long = Math.ceil(2 * lead + STRIP_SIZES * Math.max(size, high))
  const surface = createSurface(long, high)
  const prepared = prepareBrush({ frames: fitting.frames, grain: brush.grain?.pixels }, plain, INK)
  const { startPx: _, ...taper } = plain.path.taper
  const flat = { ...plain, path: { ...plain.path, taper: { ...taper, startPx: 0, endPx: 0 } } }
  paintStroke(surface, level(long, high, size), { brush: prepared, recipe: flat, seed: SEED, colour: INK })
  const own = recipe.colour.reading === 'own' || recipe.colour.reading === 'tone'
  fitting.frames = [toStraightRgba(surface)]
  fitting.grain = undefined
  for (const { name, called } of usedParts(recipe))
    if (!OUTLASTS.includes(name)) fitting.approximate(name, called, 'as a straight stroke shows it, which is the strip')
  const sizePx = high / scale
  const bare = defaultRecipe({ sizePx, reading: own ? 'own' : 'alpha' })
  fitting.change(({ path, hand, colour }) => ({
    ...bare,
    path: { ...bare.path, taper: path.taper, ribbon: { lay: 'repeated', leadInPx: lead, leadOutPx: lead } },
    hand,
    colour: { ...bare.colour, behaviour: colour.behaviour, blend: colour.blend },
  }))
}

/** From one end to the other, pressed fully. */
function level(width: number, height: number, size: number): Samples {
  const [left, right] = [size / 2, width - size / 2]
  const count = Math.ceil((right - left) / 2)
  const samples = new Float64Array(6 * (count + 1))
  for (let i = 0; i <= count; i++) samples.set([left + ((right - left) * i) / count, height / 2, 1, 0, 0, 4 * i], 6 * i)
  return samples
}
