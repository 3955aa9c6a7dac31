import * as v from 'valibot'
import { numberIn, picklistOf, type Rows, shareRow, usualOf } from '../../number-row.ts'
import { labelAreas } from '../../raster/areas.ts'
import { BECOME_WORDS } from '../become.ts'
import { GROUND_FROM, toSourcePoint, type Work } from '../work.ts'
import { type Coarse, labelOutlines, labelUnder, MAKES_FROM } from './label-outlines.ts'

const Coordinate = v.pipe(v.number(), v.minValue(-100_000), v.maxValue(100_000))
const Point = v.strictObject({ x: Coordinate, y: Coordinate })

export const OBJECT_NUMBERS = {
  gapPx: { label: 'Together over a gap of', unit: 'px', from: 0, to: 200, most: 1000, usual: 0, eased: true },
  neck: shareRow('Cut necks up to', { usual: 0.62 }),
  leastShare: shareRow('Leave out below', { usual: 0.02, eased: true }),
} satisfies Rows
export const ORDER_WORDS = { rows: 'of rows', size: 'of size' } as const

/** How the objects of a sheet are told apart. Positions are px of the source, so that they mean the same at any size. */
export const Objects = v.strictObject({
  /** Marks whose gap is not wider than this belong together, px of the source. */
  gapPx: numberIn(OBJECT_NUMBERS.gapPx),
  /** Objects below this share of the usual one are left out. */
  leastShare: numberIn(OBJECT_NUMBERS.leastShare),
  /** How wide a neck may be to be cut, as a share of the thinner side; 0 cuts nothing. */
  neck: numberIn(OBJECT_NUMBERS.neck),
  order: picklistOf(ORDER_WORDS),
  /** Whether each object becomes a tip of its own, or a frame of one. */
  become: picklistOf(BECOME_WORDS),
  /** Joined by hand: the objects under the two points. */
  joined: v.pipe(v.array(v.strictObject({ from: Point, to: Point })), v.maxLength(500)),
  /** Cut by hand along a line. */
  cuts: v.pipe(v.array(v.strictObject({ from: Point, to: Point })), v.maxLength(500)),
  /** Left out by hand: the objects under these points. */
  leftOut: v.pipe(v.array(Point), v.maxLength(5000)),
})
export type Objects = v.InferOutput<typeof Objects>

export const USUAL_OBJECTS: Objects = {
  ...usualOf(OBJECT_NUMBERS),
  order: 'rows',
  become: 'tips',
  joined: [],
  cuts: [],
  leftOut: [],
}

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

/** Objects stand in one row while their middles are no further apart than this share of their height. */
const ROW_SHARE = 0.5

/** Finds the objects on a sheet whose ground is white. */
export function findObjects(work: Work, settings: Objects): FoundObjects {
  const { coarse, factor } = labelOutlines(work, settings)
  const groups = new Groups(coarse)
  const gapPx = settings.gapPx * work.place.scale
  if (gapPx >= 1) {
    const labels = new Int32Array(work.grey.length)
    labelPixels(work, labels, coarse, { factor, roots: undefined })
    joinNear(groups, labels, work, gapPx)
  }
  // points lie in things by their outlines' own labels
  const labelAt = (point: { x: number; y: number }) => labelUnder(coarse, factor, work, point)
  for (const { from, to } of settings.joined) {
    const [a, b] = [labelAt(from), labelAt(to)]
    if (a && b) groups.join(a, b)
  }
  const labels = new Int32Array(work.grey.length)
  const { boxes, faint } = labelPixels(work, labels, coarse, { factor, roots: groups.roots() })
  const kept = dropSmall(boxes, settings.leastShare)
  const leftOut = new Set(settings.leftOut.map((point) => groups.rootOf(labelAt(point))))
  const objects = kept.map((object) => ({ ...object, isLeftOut: leftOut.has(object.label) }))
  clearDropped(labels, work, boxes, new Set(objects.map(({ label }) => label)))
  spreadToFaint(labels, work, faint, objects)
  return { objects: inOrder(objects, settings.order), labels }
}

type Box = Omit<SheetObject, 'isLeftOut'>

/**
 * Gives each pixel that makes an object its label.
 * @param by.roots The label that stands for each; itself where none are given.
 * @returns The boxes around them, and the faint pixels, which may go along with one.
 */
function labelPixels(
  { grey, width, height }: Work,
  labels: Int32Array,
  coarse: Coarse,
  { factor, roots }: { factor: number; roots: Int32Array | undefined },
): { boxes: Box[]; faint: number[] } {
  const boxes: (Box | undefined)[] = []
  const faint: number[] = []
  for (let y = 0; y < height; y++) {
    const row = y * width
    const cells = Math.floor(y / factor) * coarse.width
    for (let x = 0; x < width; x++) {
      const level = grey[row + x]
      if (level >= MAKES_FROM) {
        if (level < GROUND_FROM) faint.push(row + x)
        continue
      }
      // a run of one object at a time
      const own = coarse.labels[cells + Math.floor(x / factor)]
      const left = x
      let end = x + 1
      let cell = Math.floor(x / factor) + 1
      for (; end < width && grey[row + end] < MAKES_FROM; end++) {
        if (end !== cell * factor) continue
        if (coarse.labels[cells + cell] !== own) break
        cell++
      }
      x = end - 1
      if (own === 0) continue
      const label = roots ? roots[own] : own
      labels.fill(label, row + left, row + end)
      const box = boxes[label]
      if (!box) boxes[label] = { label, left, top: y, right: end, bottom: y + 1, area: end - left }
      else {
        box.area += end - left
        box.bottom = y + 1
        if (left < box.left) box.left = left
        if (end > box.right) box.right = end
      }
    }
  }
  return { boxes: boxes.filter((box) => box !== undefined), faint }
}

/** Which labels belong together. */
class Groups {
  readonly #parents: Int32Array

  constructor({ labels }: Coarse) {
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

  /** What stands for each label. */
  roots(): Int32Array {
    return this.#parents.map((_, label) => this.rootOf(label))
  }
}

/**
 * Joins marks that do not touch and lie within a gap: they grow by half of it, a px a round, and where two meet that were
 * apart, what they belong to is one. What touched and was cut stays cut.
 */
function joinNear(groups: Groups, labels: Int32Array, { grey, width, height }: Work, gapPx: number): void {
  const isSet = grey.map((level) => (level < MAKES_FROM ? 1 : 0))
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

/** The usual object is the one that half of the painted area belongs to, or to larger ones: dirt is many, but little. */
function dropSmall(objects: readonly Box[], leastShare: number): Box[] {
  const areas = objects.map(({ area }) => area).sort((a, b) => b - a)
  const all = areas.reduce((a, b) => a + b, 0)
  let sum = 0
  const usual = areas.find((area) => {
    sum += area
    return sum >= all / 2
  })
  return objects.filter(({ area }) => area >= leastShare * (usual ?? 0))
}

/** What was dropped as too small belongs to none. */
function clearDropped(labels: Int32Array, { width }: Work, boxes: readonly Box[], kept: ReadonlySet<number>): void {
  for (const { label, left, top, right, bottom } of boxes) {
    if (kept.has(label)) continue
    for (let y = top; y < bottom; y++)
      for (let i = y * width + left, end = y * width + right; i < end; i++) if (labels[i] === label) labels[i] = 0
  }
}

/** Faint pixels around an object go along with it, and its box with them. */
function spreadToFaint(labels: Int32Array, { width, height }: Work, all: number[], objects: readonly Box[]): void {
  const boxes = new Map(objects.map((object) => [object.label, object]))
  let faint = all
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
    for (const [i, label] of taken) {
      labels[i] = label
      const box = boxes.get(label)
      if (box) growBox(box, i % width, Math.floor(i / width))
    }
  }
}

function growBox(box: Box, x: number, y: number): void {
  box.left = Math.min(box.left, x)
  box.right = Math.max(box.right, x + 1)
  box.top = Math.min(box.top, y)
  box.bottom = Math.max(box.bottom, y + 1)
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
