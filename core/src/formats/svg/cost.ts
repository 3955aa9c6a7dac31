import { LimitError } from '../../errors.ts'
import { firstNumber, IDENTITY, type Matrix, multiply, parseNumbers, parseTransform, pathCorners } from './geometry.ts'

/** The longer side at which a drawing of lines is drawn, px. */
export const DRAWING_SIDE_PX = 1024

/**
 * What a drawing may cost, known before anything of it is drawn. On one core at 2.5 GHz each limit is some four to nine
 * seconds of the library that draws. Of 8,121 pieces of clip art the one that needs most draws 19,089 elements, crosses
 * 1.0 million rows, and takes 2.2 thousand million steps of filters.
 */
/** Rows of pixels that all edges cross together. */
export const EDGE_ROWS_MAX = 30_000_000
/** Steps of filters: pixels of the place they fill, times what each of their parts takes for one. */
export const FILTER_STEPS_MAX = 3_000_000_000
/** Elements that are drawn, each as often as it is used. */
export const DRAWN_MAX = 200_000
/** Corners of one path: all that lie in the same row are sorted anew for every row. */
export const CORNERS_MAX = 150_000

/** Rules in styles that refer to something, and how often all elements come under one of them. */
const STYLED_MAX = 20_000
const APPLIED_MAX = 500_000

/** Steps a pixel that a part of a filter takes, measured beside a plain move of the same pixels, which is 3. */
const FILTER_STEPS: Record<string, (attributes: Attributes) => number> = {
  feGaussianBlur: () => 150,
  feDropShadow: () => 160,
  feTurbulence: ({ numOctaves }) => 35 * Math.min(50, Math.max(1, firstNumber(numOctaves, 1))),
  feMorphology: ({ radius }) => 45 * (2 * Math.min(1000, Math.max(0, firstNumber(radius, 0))) + 1),
  feConvolveMatrix: ({ order }) => 9 * Math.min(1000, Math.max(1, firstNumber(order, 3))) ** 2,
  feDiffuseLighting: () => 60,
  feSpecularLighting: () => 60,
  feComponentTransfer: () => 15,
}
const OTHER_FILTER_STEPS = 10
/** A filter fills the place of its element and a tenth around it (SVG Filter Effects, section 8.1), and takes so much besides. */
const FILTER_ROOM = 1.44
const FILTER_FIXED_PX = 40_000

type Attributes = Readonly<Record<string, string>>

/** What is drawn only where something refers to it. */
const ONLY_REFERRED = new Set([
  ...['defs', 'filter', 'pattern', 'mask', 'clipPath', 'marker', 'symbol', 'linearGradient', 'radialGradient'],
])

/** What drawing takes, all uses counted. */
type Cost = { drawn: number; edgeRows: number; filterSteps: number }

/** A place that an element fills, px of the drawing. */
type Box = { left: number; top: number; right: number; bottom: number }

type Node = {
  name: string
  matrix: Matrix
  children: Node[]
  /** What it refers to by its id, and how often that is drawn for it. */
  refers: { id: string; times: number }[]
  own: Cost
  box: Box | undefined
  /** Steps a pixel of a filter's parts. */
  steps: number
  cost: Cost | 'being counted' | undefined
}

const NOTHING: Cost = { drawn: 0, edgeRows: 0, filterSteps: 0 }

/** Counts what a drawing will cost while it is read. */
export class SvgCost {
  readonly #byId = new Map<string, Node>()
  readonly #open: Node[] = []
  /** Of rules in styles: what they refer to, by the name, class or id that they are for. */
  readonly #styled = new Map<string, Set<string>>()
  #rules = 0
  readonly #named: { node: Node; names: string[] }[] = []
  #root: Node | undefined
  #scale = 1

  /** @throws {LimitError} If a path has more corners than are drawn. */
  open(name: string, attributes: Attributes): void {
    const parent = this.#open.at(-1)
    if (!parent) this.#scale = scaleOf(attributes)
    const above = parent?.matrix ?? ([this.#scale, 0, 0, this.#scale, 0, 0] as Matrix)
    const own = attributes.transform === undefined ? IDENTITY : parseTransform(attributes.transform)
    const matrix = multiply(above, own)
    const shape = shapeOf(name, attributes)
    if (shape.length / 2 > CORNERS_MAX)
      throw new LimitError('the number of corners of a path', shape.length / 2, CORNERS_MAX)
    const node: Node = {
      name,
      matrix,
      children: [],
      cost: undefined,
      steps: FILTER_STEPS[name]?.(attributes) ?? OTHER_FILTER_STEPS,
      refers: refersOf(attributes, shape.length / 2),
      ...measure(shape, matrix, attributes),
    }
    const { id, class: classes = '' } = attributes
    if (id !== undefined && !this.#byId.has(id)) this.#byId.set(id, node)
    const names = [name, ...(id === undefined ? [] : [`#${id}`]), ...classes.split(/\s+/).map((each) => `.${each}`)]
    this.#named.push({ node, names })
    parent?.children.push(node)
    this.#root ??= node
    this.#open.push(node)
  }

  close(): void {
    this.#open.pop()
  }

  /** The text of a style: rules that refer to something of the drawing. @throws {LimitError} If there are too many. */
  style(text: string): void {
    for (const rule of text.split('}')) {
      const brace = rule.indexOf('{')
      if (brace < 0) continue
      const ids = idsOf(rule.slice(brace))
      if (ids.length === 0) continue
      for (const [name] of rule.slice(0, brace).matchAll(/[.#]?[\w-]{1,200}|\*/g)) {
        this.#rules += ids.length
        if (this.#rules > STYLED_MAX)
          throw new LimitError('the number of rules in its styles that refer to something', this.#rules, STYLED_MAX)
        const styled = this.#styled.get(name) ?? new Set()
        for (const id of ids) styled.add(id)
        this.#styled.set(name, styled)
      }
    }
  }

  /** @throws {LimitError} Naming what of the drawing would take too long to draw. */
  check(): void {
    this.#applyStyles()
    const { drawn, edgeRows, filterSteps } = this.#root ? this.#costOf(this.#root) : NOTHING
    const check = (what: string, found: number, most: number) => {
      if (!(found <= most)) throw new LimitError(what, Math.min(Math.round(found), Number.MAX_SAFE_INTEGER), most)
    }
    check('the number of elements that are drawn, each as often as it is used,', drawn, DRAWN_MAX)
    check('what its filters take, in steps for each pixel they fill,', filterSteps, FILTER_STEPS_MAX)
    check('the length of its lines, in rows of pixels that they cross,', edgeRows, EDGE_ROWS_MAX)
  }

  #applyStyles(): void {
    if (this.#styled.size === 0) return
    let applied = 0
    for (const { node, names } of this.#named)
      for (const name of [...names, '*'])
        for (const id of this.#styled.get(name) ?? []) {
          if (++applied > APPLIED_MAX)
            throw new LimitError('how often its styles refer to something', applied, APPLIED_MAX)
          node.refers.push({ id, times: 1 })
        }
  }

  #costOf(node: Node): Cost {
    if (node.cost === 'being counted') return NOTHING // it uses itself, which is not drawn
    if (node.cost) return node.cost
    node.cost = 'being counted'
    const sum = { ...node.own, drawn: 1 }
    const add = ({ drawn, edgeRows, filterSteps }: Cost, times: number) => {
      sum.drawn += times * drawn
      sum.edgeRows += times * edgeRows
      sum.filterSteps += times * filterSteps
    }
    for (const child of node.children) if (!ONLY_REFERRED.has(child.name)) add(this.#costOf(child), 1)
    for (const { id, times } of node.refers) {
      const target = this.#byId.get(id)
      if (!target) continue
      if (target.name === 'filter') sum.filterSteps += filterSteps(target, this.#boxOf(node))
      else add(this.#costOf(target), times)
    }
    node.cost = sum
    return sum
  }

  /** The place that an element fills with all that is in it; undefined where that is not known: then all of the drawing. */
  #boxOf({ box, children, refers }: Node): Box | undefined {
    if (refers.some(({ id }) => this.#byId.get(id)?.name !== 'filter')) return undefined
    let all = box
    for (const child of children) {
      const inner = this.#boxOf(child)
      if (!inner) return undefined
      all = all ? join(all, inner) : inner
    }
    return all
  }
}

const join = (a: Box, b: Box): Box => ({
  left: Math.min(a.left, b.left),
  top: Math.min(a.top, b.top),
  right: Math.max(a.right, b.right),
  bottom: Math.max(a.bottom, b.bottom),
})

function filterSteps(filter: Node, box: Box | undefined): number {
  const sidePx = DRAWING_SIDE_PX
  const clip = (value: number) => Math.min(sidePx, Math.max(0, value))
  const area = box ? (clip(box.right) - clip(box.left)) * (clip(box.bottom) - clip(box.top)) : sidePx * sidePx
  const filled = Math.min(sidePx * sidePx, FILTER_ROOM * area) + FILTER_FIXED_PX
  return filled * filter.children.reduce((sum, { steps }) => sum + steps, 0)
}

/** How large a unit of the drawing is drawn, px. */
function scaleOf({ viewBox, width, height }: Attributes): number {
  const [, , boxWidth = 0, boxHeight = 0] = parseNumbers(viewBox ?? '')
  const side = Math.max(boxWidth, boxHeight) || Math.max(firstNumber(width, 0), firstNumber(height, 0))
  return side > 0 ? DRAWING_SIDE_PX / side : 1
}

/** The corners of an element's outline, in its own units. */
const SHAPES: Record<string, (attributes: Attributes) => Float64Array> = {
  path: ({ d = '' }) => pathCorners(d),
  polygon: ({ points = '' }) => Float64Array.from(parseNumbers(points)),
  polyline: ({ points = '' }) => Float64Array.from(parseNumbers(points)),
  line: ({ x1, y1, x2, y2 }) => Float64Array.from([x1, y1, x2, y2].map((each) => firstNumber(each, 0))),
  rect: ({ x, y, width, height }) => {
    const [left, top] = [firstNumber(x, 0), firstNumber(y, 0)]
    return around(left, top, left + firstNumber(width, 0), top + firstNumber(height, 0))
  },
  circle: ({ cx, cy, r }) => ring(firstNumber(cx, 0), firstNumber(cy, 0), firstNumber(r, 0), firstNumber(r, 0)),
  ellipse: ({ cx, cy, rx, ry }) => ring(firstNumber(cx, 0), firstNumber(cy, 0), firstNumber(rx, 0), firstNumber(ry, 0)),
}
const around = (left: number, top: number, right: number, bottom: number) =>
  Float64Array.of(left, top, right, top, right, bottom, left, bottom)
const ring = (x: number, y: number, rx: number, ry: number) => around(x - rx, y - ry, x + rx, y + ry)
const NO_SHAPE = new Float64Array(0)
const shapeOf = (name: string, attributes: Attributes): Float64Array =>
  Object.hasOwn(SHAPES, name) ? SHAPES[name](attributes) : NO_SHAPE

/** A dash shorter than that is not seen; it is drawn all the same. */
const DASH_MIN_PX = 0.001
/** Rows that the two ends and sides of a dash cross, at the least. */
const ROWS_OF_DASH = 4

/** What a shape costs, and the place it fills. */
function measure(shape: Float64Array, [a, b, c, d, e, f]: Matrix, attributes: Attributes): Pick<Node, 'own' | 'box'> {
  if (shape.length < 2) return { own: NOTHING, box: undefined }
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity }
  let [rows, length] = [0, 0]
  let [beforeX, beforeY] = [0, 0]
  for (let i = 0; i + 1 < shape.length; i += 2) {
    const x = a * shape[i] + c * shape[i + 1] + e
    const y = b * shape[i] + d * shape[i + 1] + f
    if (x < box.left) box.left = x
    if (x > box.right) box.right = x
    if (y < box.top) box.top = y
    if (y > box.bottom) box.bottom = y
    if (i > 0) {
      rows += 1 + Math.min(DRAWING_SIDE_PX, Math.abs(y - beforeY))
      length += Math.hypot(x - beforeX, y - beforeY)
    }
    ;[beforeX, beforeY] = [x, y]
  }
  const dash = dashOf(attributes)
  const dashes = dash === undefined ? 0 : length / Math.max(DASH_MIN_PX, dash * Math.hypot(a, b))
  return { own: { drawn: 1, edgeRows: rows + ROWS_OF_DASH * dashes, filterSteps: 0 }, box }
}

/** The mean length of a dash and the gap behind it, in units of the element; undefined where its line is whole. */
function dashOf({ 'stroke-dasharray': dashes, style = '' }: Attributes): number | undefined {
  const said = dashes ?? /stroke-dasharray:([^;]{1,400})/.exec(style)?.[1]
  const lengths = said === undefined ? [] : parseNumbers(said)
  const sum = lengths.reduce((all, each) => all + Math.abs(each), 0)
  return lengths.length === 0 || sum === 0 ? undefined : (2 * sum) / lengths.length
}

/** What an element refers to. A marker is drawn at every corner. */
function refersOf(attributes: Attributes, corners: number): Node['refers'] {
  const refers: Node['refers'] = []
  for (const [name, value] of Object.entries(attributes)) {
    if ((name === 'href' || name.endsWith(':href')) && value.trim().startsWith('#'))
      refers.push({ id: value.trim().slice(1), times: 1 })
    const isMarker = name.startsWith('marker') || (name === 'style' && value.includes('marker'))
    for (const id of idsOf(value)) refers.push({ id, times: isMarker ? Math.max(1, corners) : 1 })
  }
  return refers
}

/** The ids in `url(#…)` of a text. */
function idsOf(text: string): string[] {
  if (!text.includes('url(')) return []
  return [...text.matchAll(/url\(\s{0,9}["']?#([^"')\s]{1,200})/g)].map(([, id]) => id)
}
