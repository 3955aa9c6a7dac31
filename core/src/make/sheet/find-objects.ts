import * as v from 'valibot'
import { labelAreas } from '../../raster/areas.ts'
import { GROUND_FROM, toSourcePoint, toWorkPoint, type Work } from '../work.ts'
import { silhouette } from './silhouette.ts'
import { splitTouching } from './split-touching.ts'

const Place = v.pipe(v.number(), v.minValue(-100_000), v.maxValue(100_000))
const Point = v.strictObject({ x: Place, y: Place })

/** How the objects of a sheet are told apart. Positions are px of the source, so that they mean the same at any size. */
export const Objects = v.strictObject({
  /** Marks whose gap is not wider than this belong together, px of the source. */
  gapPx: v.pipe(v.number(), v.minValue(0), v.maxValue(1000)),
  /** Objects below this share of the usual one are left out. */
  leastShare: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  /** How wide a neck may be to be cut, as a share of the thinner side; 0 cuts nothing. */
  neck: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  order: v.picklist(['rows', 'size']),
  /** Whether each object becomes a tip of its own, or a frame of one. */
  become: v.picklist(['tips', 'frames']),
  /** Joined by hand: the objects under the two points. */
  joined: v.pipe(v.array(v.strictObject({ from: Point, to: Point })), v.maxLength(500)),
  /** Cut by hand along a line. */
  cuts: v.pipe(v.array(v.strictObject({ from: Point, to: Point })), v.maxLength(500)),
  /** Left out by hand: the objects under these points. */
  leftOut: v.pipe(v.array(Point), v.maxLength(5000)),
})
export type Objects = v.InferOutput<typeof Objects>

export const USUAL_OBJECTS: Objects = {
  gapPx: 0, leastShare: 0.02, neck: 0.62, order: 'rows', become: 'tips', joined: [], cuts: [], leftOut: [],
} // biome-ignore format: one sheet

/** An object of a sheet: the box around it in the work, its painted area there, and whether it was left out by hand. */
export type SheetObject = {
  label: number
  left: number
  top: number
  right: number
  bottom: number
  area: number
  isLeftOut: boolean
}

/** The objects in their order, and which one each pixel belongs to: 0 for none. */
export type FoundObjects = { objects: SheetObject[]; labels: Int32Array }

/** From this grey down a pixel makes an object; fainter ones only go along with it. */
const MAKES_FROM = 170
/** Gaps that are closed before necks are looked for, as a share of the longer side. */
const CLOSE_SHARE = 0.004
/** Objects stand in one row while their middles are no further apart than this share of their height. */
const ROW_SHARE = 0.5

/** Finds the objects on a sheet whose ground is white. */
export function findObjects(work: Work, settings: Objects): FoundObjects {
  const { width, height, grey } = work
  const isSet = new Uint8Array(width * height)
  for (let i = 0; i < isSet.length; i++) if (grey[i] < MAKES_FROM) isSet[i] = 1
  const labels = labelThings(isSet, work, settings)
  const groups = new Groups(labels)
  joinNear(groups, labels, work, { isSet, gapPx: settings.gapPx * work.place.scale })
  for (const { from, to } of settings.joined) {
    const [a, b] = [from, to].map((point) => labelUnder(labels, work, point))
    if (a && b) groups.join(a, b)
  }
  groups.apply(labels)
  const objects = boxesOf(labels, work)
  const kept = dropSmall(objects, settings.leastShare)
  const leftOut = new Set(settings.leftOut.map((point) => labelUnder(labels, work, point)))
  const wanted = kept.map((object) => ({ ...object, isLeftOut: leftOut.has(object.label) }))
  spreadToFaint(labels, work, new Set(kept.map(({ label }) => label)))
  return { objects: inOrder(boxesWithFaint(wanted, labels, work), settings.order), labels }
}

/** Outlines are told apart at no more than this, px of the longer side; what they hold keeps every px. */
const OUTLINE_SIDE_PX = 1024

/**
 * Labels what hangs together; where necks are to be cut, by the outlines of things and not by what is drawn in them. Cuts by
 * hand count in any case.
 */
function labelThings(isSet: Uint8Array, work: Work, { neck, cuts }: Objects): Int32Array {
  const { width, height } = work
  const factor = neck === 0 ? 1 : Math.ceil(Math.max(width, height) / OUTLINE_SIDE_PX)
  const small = reduceMask(isSet, width, height, factor)
  const radius = Math.max(1, Math.round(CLOSE_SHARE * Math.max(small.width, small.height)))
  const outlines = neck === 0 ? small.isSet.slice() : silhouette(small.isSet, small.width, small.height, radius)
  const place = ({ x, y }: { x: number; y: number }) => {
    const at = toWorkPoint(work, x, y)
    return { x: at.x / factor, y: at.y / factor }
  }
  for (const { from, to } of cuts) cutLine(outlines, small, place(from), place(to))
  const coarse =
    neck === 0 ? labelAreas(outlines, width, height).labels : splitTouching(outlines, small.width, small.height, neck)
  const labels = new Int32Array(isSet.length)
  for (let y = 0, i = 0; y < height; y++) {
    // a cell of the smaller mask after another
    let cell = Math.floor(y / factor) * small.width
    for (let x = 0; x < width; cell++)
      for (const end = Math.min(width, x + factor); x < end; x++, i++) if (isSet[i] !== 0) labels[i] = coarse[cell]
  }
  return labels
}

type Mask = { isSet: Uint8Array; width: number; height: number }

/** A smaller mask, set wherever the larger one has something. */
function reduceMask(isSet: Uint8Array, width: number, height: number, factor: number): Mask {
  if (factor === 1) return { isSet, width, height }
  const small: Mask = { width: Math.ceil(width / factor), height: Math.ceil(height / factor), isSet: new Uint8Array(0) }
  small.isSet = new Uint8Array(small.width * small.height)
  for (let y = 0, i = 0; y < height; y++) {
    let cell = Math.floor(y / factor) * small.width
    for (let x = 0; x < width; cell++)
      for (const end = Math.min(width, x + factor); x < end; x++, i++) if (isSet[i] !== 0) small.isSet[cell] = 1
  }
  return small
}

/** Which labels belong together. */
class Groups {
  readonly #parents: Int32Array

  constructor(labels: Int32Array) {
    let most = 0
    for (let i = 0; i < labels.length; i++) if (labels[i] > most) most = labels[i]
    this.#parents = Int32Array.from({ length: most + 1 }, (_, label) => label)
  }

  rootOf(label: number): number {
    let root = label
    while (this.#parents[root] !== root) root = this.#parents[root]
    return root
  }

  join(a: number, b: number): void {
    const [rootA, rootB] = [this.rootOf(a), this.rootOf(b)]
    this.#parents[Math.max(rootA, rootB)] = Math.min(rootA, rootB)
  }

  apply(labels: Int32Array): void {
    const roots = this.#parents.map((_, label) => this.rootOf(label))
    for (let i = 0; i < labels.length; i++) if (labels[i] !== 0) labels[i] = roots[labels[i]]
  }
}

/**
 * Joins marks that do not touch and lie within a gap: they grow by half of it, a px a round, and where two meet that were
 * apart, what they belong to is one. What touched and was cut stays cut.
 */
function joinNear(
  groups: Groups,
  labels: Int32Array,
  { width, height }: Work,
  { isSet, gapPx }: { isSet: Uint8Array; gapPx: number },
): void {
  if (gapPx < 1) return
  const apart = labelAreas(isSet, width, height).labels
  /** The pixel that each grew from; -1 for none. */
  const from = Int32Array.from(apart, (area, i) => (area === 0 ? -1 : i))
  let rim = [...from.keys()].filter((i) => from[i] >= 0)
  const meet = (a: number, b: number) => {
    if (apart[a] !== apart[b] && labels[a] !== 0 && labels[b] !== 0) groups.join(labels[a], labels[b])
  }
  const rounds = Math.floor(gapPx / 2)
  for (let round = 0; round <= rounds; round++) {
    const next: number[] = []
    for (const i of rim)
      for (const other of neighboursOf(i, width, height)) {
        if (from[other] >= 0) meet(from[i], from[other])
        else if (round < rounds) {
          from[other] = from[i]
          next.push(other)
        }
      }
    rim = next
  }
}

function neighboursOf(i: number, width: number, height: number): number[] {
  const x = i % width
  const out: number[] = []
  if (x > 0) out.push(i - 1)
  if (x < width - 1) out.push(i + 1)
  if (i >= width) out.push(i - width)
  if (i < width * (height - 1)) out.push(i + width)
  return out
}

function labelUnder(labels: Int32Array, work: Work, { x, y }: { x: number; y: number }): number {
  const at = toWorkPoint(work, x, y)
  const [px, py] = [Math.floor(at.x), Math.floor(at.y)]
  return px < 0 || py < 0 || px >= work.width || py >= work.height ? 0 : labels[py * work.width + px]
}

/** Takes the pixels of a line, a bit wider than one, out of the mask. */
function cutLine(
  isSet: Uint8Array,
  { width, height }: { width: number; height: number },
  a: { x: number; y: number },
  b: { x: number; y: number },
): void {
  const steps = Math.max(1, Math.ceil(2 * Math.hypot(b.x - a.x, b.y - a.y)))
  for (let k = 0; k <= steps; k++) {
    const x = Math.floor(a.x + ((b.x - a.x) * k) / steps)
    const y = Math.floor(a.y + ((b.y - a.y) * k) / steps)
    for (const [px, py] of [
      [x, y],
      [x + 1, y],
    ])
      if (px >= 0 && py >= 0 && px < width && py < height) isSet[py * width + px] = 0
  }
}

function boxesOf(labels: Int32Array, { width, height }: Work): Omit<SheetObject, 'isLeftOut'>[] {
  const boxes: (Omit<SheetObject, 'isLeftOut'> | undefined)[] = []
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const label = labels[i]
      if (label === 0) continue
      // a run of one object at a time
      const left = x
      while (x + 1 < width && labels[i + 1] === label) {
        x++
        i++
      }
      const box = boxes[label]
      if (!box) boxes[label] = { label, left, top: y, right: x + 1, bottom: y + 1, area: x + 1 - left }
      else {
        box.area += x + 1 - left
        box.bottom = y + 1
        if (left < box.left) box.left = left
        if (x >= box.right) box.right = x + 1
      }
    }
  return boxes.filter((box) => box !== undefined)
}

/** The usual object is the one that half of the painted area belongs to, or to larger ones: dirt is many, but little. */
function dropSmall(objects: Omit<SheetObject, 'isLeftOut'>[], leastShare: number) {
  const areas = objects.map(({ area }) => area).sort((a, b) => b - a)
  const all = areas.reduce((a, b) => a + b, 0)
  let sum = 0
  const usual = areas.find((area) => {
    sum += area
    return sum >= all / 2
  })
  return objects.filter(({ area }) => area >= leastShare * (usual ?? 0))
}

/** Faint pixels around an object go along with it; those of what was dropped belong to none. */
function spreadToFaint(labels: Int32Array, { width, height, grey }: Work, kept: ReadonlySet<number>): void {
  let faint: number[] = []
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i]
    if (label !== 0) {
      if (!kept.has(label)) labels[i] = 0
    } else if (grey[i] < GROUND_FROM && grey[i] >= MAKES_FROM) faint.push(i)
  }
  for (let before = -1; before !== faint.length && faint.length > 0; ) {
    before = faint.length
    const taken: [place: number, label: number][] = []
    faint = faint.filter((i) => {
      const x = i % width
      const label =
        (x > 0 && labels[i - 1]) ||
        (x < width - 1 && labels[i + 1]) ||
        (i >= width && labels[i - width]) ||
        (i < width * (height - 1) && labels[i + width])
      if (label) taken.push([i, label])
      return !label
    })
    // only after all were asked: a round goes one px
    for (const [i, label] of taken) labels[i] = label
  }
}

function boxesWithFaint(objects: readonly SheetObject[], labels: Int32Array, work: Work): SheetObject[] {
  const boxes = new Map(boxesOf(labels, work).map((box) => [box.label, box]))
  return objects.map((object) => ({ ...object, ...boxes.get(object.label), area: object.area }))
}

function inOrder(objects: SheetObject[], order: Objects['order']): SheetObject[] {
  if (order === 'size') return objects.sort((a, b) => b.area - a.area)
  const rows: SheetObject[][] = []
  const middle = ({ top, bottom }: SheetObject) => (top + bottom) / 2
  for (const object of [...objects].sort((a, b) => middle(a) - middle(b))) {
    const row = rows.at(-1)
    const first = row?.[0]
    if (
      row &&
      first &&
      middle(object) - middle(first) <= ROW_SHARE * Math.max(first.bottom - first.top, object.bottom - object.top)
    )
      row.push(object)
    else rows.push([object])
  }
  return rows.flatMap((row) => row.sort((a, b) => a.left - b.left))
}

/** One object cut out on its own: what belongs to others is ground. */
export function cutObject(
  work: Work,
  { labels }: FoundObjects,
  { label, left, top, right, bottom }: SheetObject,
): Work {
  const width = right - left
  const height = bottom - top
  const colour = new Uint8Array(width * height * 4)
  const grey = new Uint8Array(width * height).fill(255)
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0, i = (top + y) * work.width + left; x < width; x++, i++, o++) {
      if (labels[i] !== label) continue
      grey[o] = work.grey[i]
      colour.set(work.colour.subarray(4 * i, 4 * i + 4), 4 * o)
    }
  const { place } = work
  const at = { left: place.left + left / place.scale, top: place.top + top / place.scale }
  return { ...work, width, height, grey, colour, place: { ...place, ...at } }
}

/**
 * A place well inside an object, px of the source: joining and leaving out by hand are kept by it. It is the middle of the
 * longest run in the row nearest to the object's own middle, since the middle of a ring does not belong to it.
 */
export function middleOf(work: Work, { labels }: FoundObjects, object: SheetObject): { x: number; y: number } {
  const cy = Math.floor((object.top + object.bottom) / 2)
  const isIn = (x: number, y: number) =>
    labels[y * work.width + x] === object.label && work.grey[y * work.width + x] < MAKES_FROM
  for (let away = 0; away <= object.bottom - object.top; away++)
    for (const y of [cy - away, cy + away]) {
      if (y < object.top || y >= object.bottom) continue
      let longest = { from: 0, to: 0 }
      for (let x = object.left; x < object.right; x++) {
        if (!isIn(x, y)) continue
        const from = x
        while (x < object.right && isIn(x, y)) x++
        if (x - from > longest.to - longest.from) longest = { from, to: x }
      }
      if (longest.to > longest.from) return toSourcePoint(work, (longest.from + longest.to) / 2, y + 0.5)
    }
  return toSourcePoint(work, object.left, object.top)
}
