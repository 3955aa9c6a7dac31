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
/** Steps of a rounded number from 0 to 1. */
const STEPS = 127
const ROUNDS = Math.ceil((SIGNS * TABLES) / MIXED)

type Index = {
  /** Adds all keys before one that lie within the radius of a point, with the squares of their distances. */
  find(point: Float32Array, before: number, near: Map<number, number>): void
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
  for (let i = from; i < count; i++) {
    const near = new Map<number, number>()
    for (const way of waysOf(keys.subarray(i * length, (i + 1) * length))) index.find(way, i, near)
    const closest = [...near].sort(([a, one], [b, two]) => one - two || a - b)
    for (const [first] of closest.slice(0, most)) pairs.push([first, i])
  }
  return pairs
}

/** Compares with every key. */
class WholeIndex implements Index {
  readonly #distances: Distances

  constructor(keys: Float32Array, length: number, radius: number) {
    this.#distances = new Distances(keys, length, radius)
  }

  find(point: Float32Array, before: number, near: Map<number, number>): void {
    this.#distances.from(point)
    for (let member = 0; member < before; member++) this.#distances.note(member, near)
  }
}

/** For each table its buckets, one for every pattern of signs, one after another with their keys in order. */
class SignIndex implements Index {
  readonly #distances: Distances
  readonly #mixer: SignMixer
  /** Where each bucket of a table begins, and the last of them ends. */
  readonly #starts: Uint32Array[] = []
  readonly #members: Uint32Array[] = []
  /** Which query last looked at each key: none is measured twice. */
  readonly #lookedAt: Uint32Array
  #query = 0

  constructor(keys: Float32Array, length: number, radius: number) {
    const count = keys.length / length
    this.#distances = new Distances(keys, length, radius)
    // Half way to the middle of all: unlike marks part well there, and like ones, which may lie around the middle, do not.
    this.#mixer = new SignMixer(spreadOf(keys, length).middle.map((value) => value / 2))
    this.#lookedAt = new Uint32Array(count)
    const buckets = new Uint16Array(TABLES * count)
    for (let k = 0; k < count; k++)
      buckets.set(this.#mixer.bucketsOf(keys.subarray(k * length, (k + 1) * length)), k * TABLES)
    for (let t = 0; t < TABLES; t++) this.#lay(buckets, t)
  }

  /** Lays the keys of a table by their buckets: a counting sort, which keeps them in order within each. */
  #lay(buckets: Uint16Array, table: number): void {
    const starts = new Uint32Array((1 << SIGNS) + 1)
    const members = new Uint32Array(buckets.length / TABLES)
    for (let at = table; at < buckets.length; at += TABLES) starts[buckets[at] + 1]++
    for (let bucket = 0; bucket < 1 << SIGNS; bucket++) starts[bucket + 1] += starts[bucket]
    const next = starts.slice()
    for (let at = table, k = 0; at < buckets.length; at += TABLES, k++) members[next[buckets[at]]++] = k
    this.#starts.push(starts)
    this.#members.push(members)
  }

  find(point: Float32Array, before: number, near: Map<number, number>): void {
    const buckets = this.#mixer.bucketsOf(point)
    const lookedAt = this.#lookedAt
    const query = ++this.#query
    this.#distances.from(point)
    for (let t = 0; t < TABLES; t++) {
      const members = this.#members[t]
      const end = this.#starts[t][buckets[t] + 1]
      for (let at = this.#starts[t][buckets[t]]; at < end; at++) {
        const member = members[at]
        if (member >= before) break
        if (lookedAt[member] === query) continue
        lookedAt[member] = query
        this.#distances.note(member, near)
      }
    }
  }
}

/** Tells in which buckets a point lies, by the signs of its mixed numbers. */
class SignMixer {
  readonly #middle: Float32Array
  readonly #flips = Float32Array.from(createDraws(SEED, (1 + ROUNDS) * MIXED), (draw) => (draw < 0.5 ? -1 : 1))
  readonly #once = new Float32Array(MIXED)
  readonly #mixed = new Float32Array(ROUNDS * MIXED)
  readonly #rounds = Array.from({ length: ROUNDS }, (_, round) =>
    this.#mixed.subarray(round * MIXED, (round + 1) * MIXED),
  )
  readonly #buckets = new Uint16Array(TABLES)

  constructor(middle: Float32Array) {
    this.#middle = middle
  }

  /** One number for each table, good until the next call. Mixes twice: few large numbers would else give few patterns. */
  bucketsOf(point: Float32Array): Uint16Array {
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
    for (let t = 0, i = 0; t < TABLES; t++) {
      let bucket = 0
      for (let sign = 0; sign < SIGNS; sign++, i++) bucket = (bucket << 1) | (this.#mixed[i] < 0 ? 0 : 1)
      this.#buckets[t] = bucket
    }
    return this.#buckets
  }
}

/** Distances from one point to many keys, as far as they lie within the radius. */
class Distances {
  /** The keys with the axes that spread most first: these tell most keys apart. */
  readonly #keys: Float32Array
  readonly #length: number
  readonly #limit: number
  readonly #order: Uint16Array
  /** The first axes of each key rounded to bytes: so many lie close together in memory, and most are told by them. */
  readonly #heads: Int8Array
  readonly #head = new Int8Array(HEAD)
  readonly #headLimit: number
  readonly #point: Float32Array

  constructor(keys: Float32Array, length: number, radius: number) {
    const count = keys.length / length
    this.#length = length
    this.#limit = radius ** 2
    // rounding moves each of two numbers by half a step at most
    this.#headLimit = (radius * STEPS + Math.sqrt(HEAD)) ** 2
    this.#order = spreadOf(keys, length).order
    this.#keys = new Float32Array(keys.length)
    this.#point = new Float32Array(length)
    this.#heads = new Int8Array(count * HEAD)
    for (let k = 0; k < count; k++) {
      this.from(keys.subarray(k * length, (k + 1) * length))
      this.#keys.set(this.#point, k * length)
      this.#heads.set(this.#head, k * HEAD)
    }
  }

  /** Sets the point that distances are measured from. */
  from(point: Float32Array): void {
    for (let i = 0; i < this.#length; i++) this.#point[i] = point[this.#order[i]]
    for (let i = 0; i < Math.min(HEAD, this.#length); i++)
      this.#head[i] = Math.round(STEPS * Math.min(1, Math.max(-1, this.#point[i])))
  }

  /** Notes the square of the distance to a key, where it lies within the radius. */
  note(member: number, near: Map<number, number>): void {
    if (!this.#isHeadNear(member)) return
    const point = this.#point
    const keys = this.#keys
    const length = this.#length
    const limit = this.#limit
    let squared = 0
    for (let i = 0, k = member * length; i < length && squared <= limit; i++, k++) {
      const off = point[i] - keys[k]
      squared += off * off
    }
    if (squared <= limit) near.set(member, Math.min(squared, near.get(member) ?? squared))
  }

  #isHeadNear(member: number): boolean {
    const head = this.#head
    const heads = this.#heads
    const limit = this.#headLimit
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
