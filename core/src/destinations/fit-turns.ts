import type { PartName } from '../brush/parts.ts'
import { type FrameRule, pointsRange, type Recipe, spreadRange, turnRange } from '../brush/recipe.ts'
import { FRAME_RULE_WORDS } from '../brush/recipe-words.ts'
import { scalePixels } from '../raster/scale.ts'
import { createCurve } from '../stroke/path/curve.ts'
import { createRandom } from '../stroke/path/random.ts'
import { drawVariants, PLAIN_VARIANT, reachOf, together, type Variant } from './draw-variant.ts'
import { isAnimated } from './fit-frames.ts'
import type { Fitting } from './fit-state.ts'

/** A picture for each turn of something that the destination knows nothing of, and the rule by which it picks among them. */
type Axis = {
  rule: FrameRule
  /** How many pictures would be enough. */
  enough: number
  /** What of the recipe the pictures show. */
  parts: { name: PartName; called: string }[]
  /** The marks on the picture of one turn, of so many. */
  marks(turn: number, count: number): Variant[]
}

/** A rule has four dimensions at most, and pictures are drawn at no more than so many times the size they are painted at. */
const DIMENSIONS_MOST = 4
const FINER_THAN_PAINTED = 2
const SEED = 7219

/**
 * What the destination does not know is drawn into pictures: a turn, a squash, an opacity that are always the same into each
 * of them; what follows the path, the pen or chance into several, where the destination picks among pictures by that.
 */
export function fitTurns(fitting: Fitting, isOneEach: boolean): void {
  if (fitting.recipe.path.ribbon) return
  const steady = steadyOf(fitting)
  const axes = isOneEach ? [] : axesOf(fitting)
  if (steady.parts.length === 0 && axes.length === 0) return
  const layout = layOut(fitting, steady.variant, axes)
  if (!layout) return
  const { counts } = layout
  const way = fitting.choose('variation', [
    { value: 'pictures', label: axes.length > 0 ? 'several pictures for each' : 'drawn into the picture' },
    { value: 'leave', label: 'left behind' },
  ])
  if (way === 'leave') return
  for (const { name, called } of steady.parts) fitting.approximate(name, called, 'drawn into the picture')
  for (const [i, { parts, rule }] of axes.entries())
    for (const { name, called } of parts)
      fitting.approximate(name, called, `drawn into ${counts[i]} pictures, picked ${FRAME_RULE_WORDS[rule]}`)
  drawAll(fitting, layout)
  fitting.change((before) => shownByPictures(before, fitting, axes, counts))
}

/** What is the same in every stamp. Opacity that caps the stroke is none of it: stamps lie over one another. */
function steadyOf(fitting: Fitting): { variant: Variant; parts: Axis['parts'] } {
  const { recipe } = fitting
  const { angle, squash } = recipe.mark
  const knows = (part: PartName) => fitting.destination.knows[part] !== false
  const parts: Axis['parts'] = []
  let variant = PLAIN_VARIANT
  if (!knows('mark.angle') && angle.deg !== 0 && angle.mode === 'fixed') {
    parts.push({ name: 'mark.angle', called: 'the angle' })
    variant = { ...variant, turnDeg: angle.deg }
  }
  if (!knows('mark.squash') && squash !== 1) {
    parts.push({ name: 'mark.squash', called: 'the squash' })
    variant = { ...variant, squash }
  }
  if (!knows('colour.flow') && recipe.colour.flow < 1) {
    parts.push({ name: 'colour.flow', called: 'the flow' })
    variant = { ...variant, paint: recipe.colour.flow }
  }
  return { variant, parts }
}

function axesOf(fitting: Fitting): Axis[] {
  const { recipe, destination } = fitting
  if (!isAnimated(destination.files.several)) return []
  const all = [followsPath(fitting), ...FROM_HAND.map((each) => fromHand(fitting, each)), byChance(fitting)]
  const used = recipe.path.nextFrame.filter(({ frames }) => frames > 1).length
  return all
    .filter((axis) => axis !== undefined)
    .filter(({ rule }) => fitting.knows('path.nextFrame', rule))
    .slice(0, DIMENSIONS_MOST - used)
}

function followsPath(fitting: Fitting): Axis | undefined {
  const { mode, deg } = fitting.recipe.mark.angle
  if (mode !== 'following' || fitting.knows('mark.angle', 'following')) return undefined
  return {
    rule: 'direction',
    enough: 16,
    parts: [{ name: 'mark.angle', called: 'the angle' }],
    marks: (turn, count) => [{ ...PLAIN_VARIANT, turnDeg: (360 * turn) / count + deg }],
  }
}

const FROM_HAND = [
  { by: 'pressure', rule: 'pressure' },
  { by: 'speed', rule: 'speed' },
] as const
const MOVED = ['size', 'opacity', 'flow', 'angle'] as const

function fromHand(fitting: Fitting, { by, rule }: (typeof FROM_HAND)[number]): Axis | undefined {
  const curves = fitting.recipe.hand[by]
  const unknown = MOVED.filter((each) => curves[each] && !fitting.knows(`hand.${by}`, each))
  if (unknown.length === 0) return undefined
  const at = (each: (typeof MOVED)[number], share: number) => {
    const curve = curves[each]
    return curve && unknown.includes(each) ? createCurve(curve)(share) : undefined
  }
  return {
    rule,
    enough: 8,
    parts: [{ name: `hand.${by}`, called: `what ${by} does` }],
    marks(turn, count) {
      const share = (turn + 0.5) / count
      return [
        {
          ...PLAIN_VARIANT,
          size: at('size', share) ?? 1,
          paint: (at('opacity', share) ?? 1) * (at('flow', share) ?? 1),
          turnDeg: 360 * (at('angle', share) ?? 0),
        },
      ]
    },
  }
}

type Varied = keyof Recipe['variation']
type Range = { from: number; to: number }
/** What varies by chance: without it, from where to where, and whether only colours show it. */
const CHANCE: { [Each in Varied]: { plain: number; range(variation: Recipe['variation']): Range; isColour: boolean } } =
  {
    size: { plain: 1, range: ({ size }) => spreadRange(size), isColour: false },
    angle: { plain: 0, range: ({ angle }) => turnRange(angle), isColour: false },
    squash: { plain: 1, range: ({ squash }) => spreadRange(squash), isColour: false },
    opacity: { plain: 1, range: ({ opacity }) => spreadRange(opacity), isColour: false },
    flow: { plain: 1, range: ({ flow }) => spreadRange(flow), isColour: false },
    hue: { plain: 0, range: ({ hue }) => turnRange(hue), isColour: true },
    saturation: { plain: 0, range: ({ saturation }) => pointsRange(saturation), isColour: true },
    value: { plain: 0, range: ({ value }) => pointsRange(value), isColour: true },
  }

function byChance(fitting: Fitting): Axis | undefined {
  const { variation, colour } = fitting.recipe
  const varied = (Object.keys(CHANCE) as Varied[]).filter((each) => {
    const { plain, range, isColour } = CHANCE[each]
    const { from, to } = range(variation)
    return (
      (from !== plain || to !== plain) && !fitting.knows(`variation.${each}`) && (!isColour || colour.reading === 'own')
    )
  })
  const thrown = thrownOf(fitting)
  if (varied.length === 0 && thrown.parts.length === 0) return undefined
  const draw = (each: Varied, random: () => number) => {
    const { plain, range } = CHANCE[each]
    const { from, to } = range(variation)
    const drawn = from + (to - from) * random()
    return varied.includes(each) ? drawn : plain
  }
  return {
    rule: 'random',
    enough: 16,
    parts: [
      ...varied.map((each) => ({ name: `variation.${each}` as const, called: `the variation of ${each}` })),
      ...thrown.parts,
    ],
    marks(turn) {
      const random = createRandom(SEED, turn)
      return Array.from({ length: thrown.count }, () => ({
        size: draw('size', random),
        turnDeg: draw('angle', random),
        squash: draw('squash', random),
        paint: draw('opacity', random) * draw('flow', random),
        shift: {
          hueDeg: draw('hue', random),
          saturationPts: draw('saturation', random),
          valuePts: draw('value', random),
        },
        dx: thrown.along * (2 * random() - 1),
        dy: thrown.across * (2 * random() - 1),
      }))
    },
  }
}

/** Farther than this many widths marks are not thrown within one picture: it would be mostly empty. */
const THROWN_MOST = 4

/** Marks that are thrown, or several a step, where the destination knows nothing of it: widths, and how many. */
function thrownOf(fitting: Fitting): { along: number; across: number; count: number; parts: Axis['parts'] } {
  const { scatter, count } = fitting.recipe.path
  const [across, along] = [scatter.acrossPct / 100, scatter.alongPct / 100]
  const parts: Axis['parts'] = []
  const isThrown = across + along > 0 && !fitting.knows('path.scatter') && Math.max(across, along) <= THROWN_MOST
  if (isThrown) parts.push({ name: 'path.scatter', called: 'the scatter' })
  // several marks at one place show nothing that one does not
  const isMany = isThrown && count > 1 && !fitting.knows('path.count')
  if (isMany) parts.push({ name: 'path.count', called: 'several stamps a step' })
  return { across: isThrown ? across : 0, along: isThrown ? along : 0, count: isMany ? count : 1, parts }
}

/** How many pictures each axis gets: enough, and less of the most where that is too many. */
function shareOut(axes: readonly Axis[], most: number): number[] {
  const counts = axes.map(({ enough }) => enough)
  const product = () => counts.reduce((all, count) => all * count, 1)
  while (product() > most) {
    const largest = counts.indexOf(Math.max(...counts))
    if (counts[largest] <= 1) break
    counts[largest] = Math.ceil(counts[largest] / 2)
  }
  return counts
}

/** Pixels of all pictures together. */
const PIXELS_MOST = 24_000_000
/** Pixels that all marks on them cover together, each sampled several times: about a second. */
const DRAWN_MOST = 8_000_000

type Layout = {
  counts: number[]
  /** The marks on each picture. */
  pictures: Variant[][]
  canvas: { width: number; height: number }
  /** px of a new picture per px of the old one, and how far the old one is reduced before it is drawn. */
  wanted: number
  source: number
}

/** How many pictures there are, how large, and what is on each; undefined where they would be too much together. */
function layOut(fitting: Fitting, steady: Variant, axes: readonly Axis[]): Layout | undefined {
  const { frames, destination, recipe } = fitting
  const side = Math.max(...frames.flatMap(({ width, height }) => [width, height]))
  const painted = recipe.mark.sizePx / side
  // pictures far larger than they are painted would only be drawn for nothing
  const wanted = destination.pictures.isOwnSize ? painted : Math.min(1, FINER_THAN_PAINTED * painted)
  const source = Math.min(1, FINER_THAN_PAINTED * wanted)
  const box = { width: side, height: side }
  for (
    let most = Math.max(1, Math.floor(destination.files.mostFrames / frames.length));
    most >= 1;
    most = Math.floor(most / 2)
  ) {
    const counts = shareOut(axes, most)
    const pictures = axes.reduce<Variant[][]>(
      (before, axis, a) =>
        before.flatMap((marks) =>
          Array.from({ length: counts[a] }, (_, turn) =>
            marks.flatMap((outer) => axis.marks(turn, counts[a]).map((inner) => together(outer, inner))),
          ),
        ),
      [[steady]],
    )
    const reach = reachOf(box, pictures.flat(), wanted)
    const area = 4 * reach.width * reach.height * pictures.length * frames.length
    const drawn = pictures.flat().reduce((sum, { size }) => sum + 2 * (size * side * wanted) ** 2, 0) * frames.length
    if (area > PIXELS_MOST || drawn > DRAWN_MOST) continue
    // as they are once they were levelled
    const levelled = frames.map(({ width, height }) => side / Math.max(width, height))
    const own = {
      width: Math.max(...frames.map(({ width }, i) => width * levelled[i])),
      height: Math.max(...frames.map(({ height }, i) => height * levelled[i])),
    }
    const exact = reachOf(own, pictures.flat(), wanted)
    const canvas = { width: Math.ceil(2 * exact.width), height: Math.ceil(2 * exact.height) }
    return { counts, pictures, canvas, wanted, source }
  }
  return undefined
}

function drawAll(fitting: Fitting, { pictures, canvas, wanted, source }: Layout): void {
  fitting.levelFrames()
  const { recipe } = fitting
  const [first] = fitting.frames
  fitting.checkRoom(fitting.frames.flatMap(() => pictures.map(() => canvas)))
  const frames = fitting.frames.map((frame) => (source < 1 ? scalePixels(frame, source) : frame))
  fitting.frames = frames.flatMap((frame) =>
    pictures.map((marks) => drawVariants(frame, marks, canvas, wanted / source, recipe)),
  )
  fitting.refit(first, canvas, wanted)
}

/** The recipe without what the pictures show by now. */
function shownByPictures(recipe: Recipe, fitting: Fitting, axes: readonly Axis[], counts: readonly number[]): Recipe {
  const shown = new Set(axes.flatMap(({ parts }) => parts.map(({ name }) => name)))
  const variation = Object.fromEntries(
    Object.entries(recipe.variation).map(([key, value]) => [key, shown.has(`variation.${key as Varied}`) ? 0 : value]),
  ) as Recipe['variation']
  const hand = Object.fromEntries(
    Object.entries(recipe.hand).map(([key, curves]) => [
      key,
      shown.has(`hand.${key as keyof Recipe['hand']}`)
        ? Object.fromEntries(
            Object.entries(curves).filter(([moved]) => fitting.knows(`hand.${key as keyof Recipe['hand']}`, moved)),
          )
        : curves,
    ]),
  ) as Recipe['hand']
  const knows = (part: PartName) => fitting.destination.knows[part] !== false
  const rules = [
    ...recipe.path.nextFrame.filter(({ frames }) => frames > 1),
    ...axes.flatMap(({ rule }, a) => (counts[a] > 1 ? [{ rule, frames: counts[a] }] : [])),
  ]
  return {
    ...recipe,
    variation,
    hand,
    mark: {
      ...recipe.mark,
      angle: shown.has('mark.angle') || !knows('mark.angle') ? { mode: 'fixed', deg: 0 } : recipe.mark.angle,
      squash: knows('mark.squash') ? recipe.mark.squash : 1,
    },
    path: {
      ...recipe.path,
      scatter: shown.has('path.scatter') ? { acrossPct: 0, alongPct: 0 } : recipe.path.scatter,
      count: shown.has('path.count') ? 1 : recipe.path.count,
      nextFrame: rules.length > 0 ? rules : [{ rule: 'inOrder', frames: 1 }],
    },
    colour: { ...recipe.colour, flow: knows('colour.flow') ? recipe.colour.flow : 1 },
  }
}
