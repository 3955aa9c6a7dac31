import { createDraws } from './draws.ts'
import { MIXED, mixWaves } from './mix-waves.ts'

/** A pair of keys that lie close: the indices of both, the second one larger. */
export type NearPair = [first: number, second: number]

export type NearSearch = {
  /** Numbers of each key, at most MIXED. */
  length: number
  radius: number
  /** For each key only so many, the closest. */
  most: number
  /** All points at which a key is to be searched for. */
  waysOf: (key: Float32Array) => readonly Float32Array[]
  /** Keys of a smaller index are not searched for, only found. */
  from?: number
}

/** Up to so many keys all are compared with all: nothing is missed, and it takes no longer. */
const ALL_UP_TO = 3000

/**
 * Signs of so many mixed numbers make one bucket, and each key lies in as many buckets as there are tables. Of two keys
 * an angle of t apart each sign differs with a chance of t / pi, so they share no bucket with a chance of
 * (1 - (1 - t / pi)^16)^16: 1 in 8,000 at 0.15 rad, 1 in 36 at 0.3.
 * @see M. S. Charikar, "Similarity estimation techniques from rounding algorithms", 2002 (signs of random projections).
 */
const SIGNS = 16
const TABLES = 16
const SEED = 20_261
const HEAD = 16
const ROUNDS = Math.ceil((SIGNS * TABLES) / MIXED)

type Index = {
  add(key: Float32Array, index: number): void
  /** Adds all within the radius of a point, with the squares of their distances. */
  find(point: Float32Array, near: Map<number, number>): void
}

/**
 * Finds for each key those of smaller index that lie within a radius; among more than ALL_UP_TO a few may be missed.
 *
 * @param keys One after another.
 */
export function findNearPairs(keys: Float32Array, { length, radius, most, waysOf, from = 0 }: NearSearch): NearPair[] {
  const count = keys.length / length
  const index: Index = count <= ALL_UP_TO ? new WholeIndex(keys, length, radius) : new SignIndex(keys, length, radius)
  const pairs: NearPair[] = []
  for (let i = 0; i < count; i++) {
    const key = keys.subarray(i * length, (i + 1) * length)
    if (i >= from) {
      const near = new Map<number, number>()
      for (const way of waysOf(key)) index.find(way, near)
      const closest = [...near].sort(([a, one], [b, two]) => one - two || a - b)
      for (const [first] of closest.slice(0, most)) pairs.push([first, i])
    }
    index.add(key, i)
  }
  return pairs
}

/** Compares with every key that was added so far. */
class WholeIndex implements Index {
  readonly #distances: Distances
  #count = 0

  constructor(keys: Float32Array, length: number, radius: number) {
    this.#distances = new Distances(keys, length, radius)
  }

  add(): void {
    this.#count++
  }

  find(point: Float32Array, near: Map<number, number>): void {
    this.#distances.from(point)
    for (let member = 0; member < this.#count; member++) this.#distances.note(member, near)
  }
}

/** Buckets of the keys that were added so far: in each table a chain for every pattern of signs. */
class SignIndex implements Index {
  readonly #distances: Distances
  readonly #middle: Float32Array
  readonly #flips = Float32Array.from(createDraws(SEED, (1 + ROUNDS) * MIXED), (draw) => (draw < 0.5 ? -1 : 1))
  /** The last key of each bucket, and before each key the one that was added to its bucket before; -1 is none. */
  readonly #last = new Int32Array(TABLES << SIGNS).fill(-1)
  readonly #before: Int32Array
  readonly #once = new Float32Array(MIXED)
  readonly #mixed = new Float32Array(ROUNDS * MIXED)
  readonly #rounds = Array.from({ length: ROUNDS }, (_, round) =>
    this.#mixed.subarray(round * MIXED, (round + 1) * MIXED),
  )
  /** Which query last looked at each key: none is measured twice. */
  readonly #lookedAt: Uint32Array
  #query = 0

  constructor(keys: Float32Array, length: number, radius: number) {
    const count = keys.length / length
    this.#distances = new Distances(keys, length, radius)
    // Half way to the middle of all: unlike marks part well there, and like ones, which may lie around the middle, do not.
    this.#middle = spreadOf(keys, length).middle.map((value) => value / 2)
    this.#lookedAt = new Uint32Array(count)
    this.#before = new Int32Array(TABLES * count)
  }

  add(key: Float32Array, index: number): void {
    this.#mix(key)
    for (let t = 0; t < TABLES; t++) {
      const bucket = this.#bucketOf(t)
      this.#before[index * TABLES + t] = this.#last[bucket]
      this.#last[bucket] = index
    }
  }

  find(point: Float32Array, near: Map<number, number>): void {
    this.#mix(point)
    this.#query++
    this.#distances.from(point)
    for (let t = 0; t < TABLES; t++) {
      for (let member = this.#last[this.#bucketOf(t)]; member >= 0; member = this.#before[member * TABLES + t]) {
        if (this.#lookedAt[member] === this.#query) continue
        this.#lookedAt[member] = this.#query
        this.#distances.note(member, near)
      }
    }
  }

  /** Mixes twice: a key of few large numbers would else give few patterns of signs. */
  #mix(point: Float32Array): void {
    const once = this.#once.fill(0)
    const flips = this.#flips
    const middle = this.#middle
    for (let i = 0; i < middle.length; i++) once[i] = (point[i] - middle[i]) * flips[i]
    mixWaves(once)
    for (let round = 0; round < ROUNDS; round++) {
      const part = this.#rounds[round]
      for (let i = 0, f = (1 + round) * MIXED; i < MIXED; i++, f++) part[i] = once[i] * flips[f]
      mixWaves(part)
    }
  }

  #bucketOf(table: number): number {
    let bucket = table
    for (let i = table * SIGNS; i < (table + 1) * SIGNS; i++) bucket = (bucket << 1) | (this.#mixed[i] < 0 ? 0 : 1)
    return bucket
  }
}

/** Distances from one point to many keys, as far as they lie within the radius. */
class Distances {
  readonly #keys: Float32Array
  readonly #length: number
  readonly #limit: number
  readonly #order: Uint16Array
  /** Of each key the axes that spread most, which tell most keys apart, close together in memory. */
  readonly #heads: Float32Array
  readonly #head = new Float32Array(HEAD)
  #point = new Float32Array()

  constructor(keys: Float32Array, length: number, radius: number) {
    const count = keys.length / length
    this.#keys = keys
    this.#length = length
    this.#limit = radius ** 2
    this.#order = spreadOf(keys, length).order
    this.#heads = new Float32Array(count * HEAD)
    for (let k = 0; k < count; k++)
      for (let i = 0; i < Math.min(HEAD, length); i++) this.#heads[k * HEAD + i] = keys[k * length + this.#order[i]]
  }

  from(point: Float32Array): void {
    this.#point = point as Float32Array<ArrayBuffer>
    for (let i = 0; i < Math.min(HEAD, this.#length); i++) this.#head[i] = point[this.#order[i]]
  }

  /** Notes the square of the distance to a key, where it lies within the radius. */
  note(member: number, near: Map<number, number>): void {
    if (!this.#isHeadNear(member)) return
    let squared = 0
    for (let i = 0, k = member * this.#length; i < this.#length; i++, k++)
      squared += (this.#point[i] - this.#keys[k]) ** 2
    if (squared <= this.#limit) near.set(member, Math.min(squared, near.get(member) ?? squared))
  }

  #isHeadNear(member: number): boolean {
    const head = this.#head
    const heads = this.#heads
    const limit = this.#limit
    let squared = 0
    for (let i = 0, k = member * HEAD; i < HEAD; i++, k++) {
      const off = head[i] - heads[k]
      squared += off * off
      if (squared > limit) return false
    }
    return true
  }
}

/** The mean of all keys, and the axes in the order of their variance. */
function spreadOf(keys: Float32Array, length: number): { middle: Float32Array; order: Uint16Array } {
  const count = Math.max(1, keys.length / length)
  const sums = new Float64Array(length)
  const squares = new Float64Array(length)
  for (let from = 0; from < keys.length; from += length) {
    for (let i = 0; i < length; i++) {
      const value = keys[from + i]
      sums[i] += value
      squares[i] += value * value
    }
  }
  const middle = Float32Array.from(sums, (sum) => sum / count)
  const variance = squares.map((square, axis) => square / count - (middle[axis] as number) ** 2)
  const order = Uint16Array.from({ length }, (_, axis) => axis).sort((a, b) => variance[b] - variance[a])
  return { middle, order }
}
