import type { Mark } from './mark.ts'

/** Waves of the cosine transform along each axis. */
const BAND = 7
const RATIO_WEIGHT = 0.5
const RATIO_MAX = 2
/** Deviation of a shape below which its waves count for less: what is nearly flat must not be told by its noise. */
const FAINT_SHAPE = 0.02
/** What two copies of one mark may differ by in a number that settles how it is laid. */
const UNSETTLED = 0.06

/** Power of the tone's waves below which a mark has one tone. */
const FAINT_TONES = 0.02

const WAVES = BAND * BAND
const TONE = WAVES
const RATIO = 2 * WAVES
/** Where the waves of tone begin in a key, behind those of the shape, and where its length stands, behind these. */
export const [KEY_TONE, KEY_RATIO] = [TONE, RATIO]
/** Numbers of one key. */
export const KEY_LENGTH = 2 * WAVES + 1

const at = (u: number, v: number) => v * BAND + u

/**
 * A point for each mark such that marks that look alike lie close: the lowest waves of its shape and of its tone, and how
 * long it is, with the mark laid in a way of its own choice (`settle`), so that mirrored, turned and inverted ones meet.
 */
export function keyOf(mark: Mark): Float32Array {
  return settle(waveKeyOf(mark))
}

function waveKeyOf(mark: Mark): Float32Array {
  const key = new Float32Array(KEY_LENGTH)
  // What all waves of a layer of deviation 1 come to, by Parseval's identity.
  const unit = mark.side ** 2 / 2
  const shape = toWaves(mark.shape, mark.side)
  const power = shape.reduce((sum, wave) => sum + wave ** 2, 0)
  const norm = Math.sqrt(power + (FAINT_SHAPE * unit) ** 2)
  for (let i = 1; i < WAVES; i++) key[i] = shape[i] / norm
  if (mark.tone) {
    const tone = toWaves(mark.tone, mark.side)
    for (let i = 1; i < WAVES; i++) key[TONE + i] = tone[i] / unit
  }
  const ratio = Math.log(mark.widthPx / mark.heightPx)
  key[RATIO] = RATIO_WEIGHT * Math.min(RATIO_MAX, Math.max(-RATIO_MAX, ratio))
  return key
}

/** The four choices that lay a mark: each a number that one change makes its opposite. The first is settled first. */
const CHOICES: readonly { value: (key: Float32Array) => number; change: (key: Float32Array) => Float32Array }[] = [
  { value: (key) => sumOf(key, layerToInvert(key), at(2, 0), at(0, 2)), change: invert },
  { value: (key) => key[at(1, 0)] + key[TONE + at(1, 0)], change: (key) => mirror(key, ACROSS) },
  { value: (key) => key[at(0, 1)] + key[TONE + at(0, 1)], change: (key) => mirror(key, DOWN) },
  {
    value: (key) => Math.abs(key[at(1, 0)] + key[TONE + at(1, 0)]) - Math.abs(key[at(0, 1)] + key[TONE + at(0, 1)]),
    change: transpose,
  },
]

/** Lays a mark so that none of the choices is below none. */
function settle(key: Float32Array): Float32Array {
  return CHOICES.reduce((laid, { value, change }) => (value(laid) < 0 ? change(laid) : laid), key)
}

/** The ways in which a copy of the mark may have been laid: more than one where a choice is a near thing. */
export function waysToLay(key: Float32Array): Float32Array[] {
  return CHOICES.reduce(
    (ways, { value, change }) => ways.flatMap((way) => (Math.abs(value(way)) < UNSETTLED ? [way, change(way)] : [way])),
    [key],
  )
}

/** All sixteen ways in which a mark can be laid: turned by quarters, mirrored, inverted. */
export const everyWay = (key: Float32Array): Float32Array[] =>
  CHOICES.reduce((ways, { change }) => ways.flatMap((way) => [way, change(way)]), [key])

const sumOf = (key: Float32Array, layer: number, ...waves: number[]) =>
  waves.reduce((sum, wave) => sum + key[layer + wave], 0)

/** A mask is inverted in its shape; what has tones keeps its shape and is inverted in them. */
function layerToInvert(key: Float32Array): number {
  let power = 0
  for (let i = TONE; i < RATIO; i++) power += key[i] ** 2
  return power > FAINT_TONES ? TONE : 0
}

function invert(key: Float32Array): Float32Array {
  const layer = layerToInvert(key)
  return key.map((value, i) => (i >= layer && i < layer + WAVES ? -value : value))
}

const signsWhere = (isHit: (u: number, v: number) => boolean): Float32Array =>
  Float32Array.from({ length: KEY_LENGTH }, (_, i) => {
    const wave = i % WAVES
    return i < RATIO && isHit(wave % BAND, Math.floor(wave / BAND)) ? -1 : 1
  })
/** What mirroring a mark left to right, and top to bottom, does to each number. */
const [ACROSS, DOWN] = [signsWhere((u) => u % 2 === 1), signsWhere((_u, v) => v % 2 === 1)]
/** Which number each one becomes when a mark is laid with its axes exchanged. */
const EXCHANGED = Uint16Array.from({ length: KEY_LENGTH }, (_, i) => {
  const wave = i % WAVES
  return i === RATIO ? i : i - wave + at(Math.floor(wave / BAND), wave % BAND)
})

function mirror(key: Float32Array, signs: Float32Array): Float32Array {
  const mirrored = new Float32Array(KEY_LENGTH)
  for (let i = 0; i < KEY_LENGTH; i++) mirrored[i] = key[i] * signs[i]
  return mirrored
}

function transpose(key: Float32Array): Float32Array {
  const laid = new Float32Array(KEY_LENGTH)
  for (let i = 0; i < KEY_LENGTH; i++) laid[i] = key[EXCHANGED[i]]
  laid[RATIO] = -key[RATIO]
  return laid
}

const tables = new Map<number, Float32Array>()

/** The lowest BAND x BAND coefficients of the two-dimensional DCT-II, orthogonal but for a common factor; no mean. */
function toWaves(layer: Float32Array, side: number): Float32Array {
  const table = tables.get(side) ?? makeTable(side)
  tables.set(side, table)
  const rows = new Float32Array(side * BAND)
  for (let y = 0; y < side; y++) {
    for (let u = 0; u < BAND; u++) {
      let sum = 0
      for (let x = 0; x < side; x++) sum += table[u * side + x] * layer[y * side + x]
      rows[y * BAND + u] = sum
    }
  }
  const waves = new Float32Array(WAVES)
  for (let v = 0; v < BAND; v++) {
    for (let u = v === 0 ? 1 : 0; u < BAND; u++) {
      let sum = 0
      for (let y = 0; y < side; y++) sum += table[v * side + y] * rows[y * BAND + u]
      waves[at(u, v)] = sum
    }
  }
  return waves
}

const makeTable = (side: number) =>
  Float32Array.from({ length: BAND * side }, (_, i) => {
    const u = Math.floor(i / side)
    return (u === 0 ? Math.SQRT1_2 : 1) * Math.cos((Math.PI * u * ((i % side) + 0.5)) / side)
  })
