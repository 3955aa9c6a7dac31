import type { Destination } from '../destinations/destination.ts'
import type { BrushFigures } from './figures.ts'

/** All that a check list looks at: a pack as it is now. */
export type Subject = {
  title: string
  maker: string
  licence: string
  help: string
  hasCover: boolean
  /** Where it is meant to go. */
  destinations: { id: string; name: string; rules: Destination['names'] }[]
  /** How like itself a brush shall paint at each of them, 0 to 100. */
  leastLikeness: number
  brushes: SubjectBrush[]
  setNames: string[]
  /** What sets and brushes of the library are called that are not in the pack. */
  elsewhere: { sets: string[]; brushes: string[] }
  /** Pairs of brushes, by id, whose tips look alike; undefined where that is not known yet. */
  alike: [one: string, other: string][] | undefined
}

export type SubjectBrush = {
  id: string
  name: string
  maker: string
  licence: string
  version: number
  /** The version that was looked at last; undefined where none was. */
  looked: number | undefined
  /** Names all that it paints by: two with the same are one brush twice. */
  paints: string
  frames: number
  /** What its own thumbnail was made of has changed since. */
  isThumbnailStale: boolean
  /** The grain that its recipe names is not there. */
  isGrainGone: boolean
  /** How its grain joins itself, or its repeated strip; undefined where it has none. See `SEAM_VISIBLE`. */
  seam: { of: 'grain' | 'strip'; figure: number } | undefined
  /** How like itself it paints at each of the pack's destinations, 0 to 100; below 0 where it cannot be written there. */
  likeness: { destinationId: string; score: number | undefined }[]
  /** Why it could not be measured. */
  refused: string | undefined
  /** Undefined where it was not measured yet, or could not be. */
  figures: BrushFigures | undefined
}
