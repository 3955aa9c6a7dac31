import type { AlikePrint } from '@satchel/core/alike/alike-print'
import type { PaintReading, Recipe } from '@satchel/core/brush/recipe'
import type { FileKind } from '@satchel/core/brush-file/kinds'
import type { FitBrush } from '@satchel/core/destinations/fit-state'
import type { ZipEntry } from '@satchel/core/formats/zip/layout'
import type { FrameStanding } from '@satchel/core/frames/measure-frames'
import type { PictureUse } from '@satchel/core/grain/picture-use'
import type { SeamFigures } from '@satchel/core/grain/seam'
import type { PixelSha } from '@satchel/core/hashes'
import type { BrushSettings } from '@satchel/core/loose-ends/references'
import type { FirstStroke } from '@satchel/core/make/first-stroke'
import type { Made } from '@satchel/core/make/make-all'
import type { Plan } from '@satchel/core/make/ways'
import type { LibraryInfo } from '@satchel/core/pack/library-file'
import type { PackManifest } from '@satchel/core/pack/manifest'
import type { Contents } from '@satchel/core/releases/difference'
import type { Paper } from '@satchel/node/sheet/paper'
import type { FitResult } from '../db/schema/fit.ts'

/** One side of a comparison of releases. Its manifest stays text until it is compared: it may hold 20,000 brushes. */
export type Side = Omit<Contents, 'manifest'> & { manifestText: string }

/** A frame as the worker found it: its PNG file, ready to store, and the name of its pixels. */
export type ReadFrame = { png: Uint8Array; pixelSha: PixelSha; width: number; height: number; name: string }

/** What reading one file gave. */
export type ReadResult =
  | {
      outcome: 'tip'
      kind: FileKind
      name: string | undefined
      maker: string
      licence: string
      recipe: Recipe
      frames: ReadFrame[]
      fileKeys: [key: string, value: string][]
      pixelKey: string
      /** SHA-256 of the file as it came. */
      fileHash: string
      alike: AlikePrint | undefined
      use: PictureUse
      seam: SeamFigures | undefined
      warnings: string[]
    }
  | { outcome: 'refused' | 'foreign'; kind: FileKind; reason: string }

/** A part of a file on this machine's disk: where it lies, from which byte, and how many. */
export type FilePart = { path: string; from: number; sizeBytes: number }

/** What an exchange answered, as it was read, or why it is none of it. */
export type ReadListing = { said: unknown } | { wrong: string }

/** What came of a file, or of an entry of an archive. */
export type ReadEntry =
  | ReadResult
  | { outcome: 'settings'; settings: BrushSettings }
  /** An archive: where it lies, or that it has to be unpacked first. */
  | { outcome: 'archive'; part: FilePart | undefined }

/** An archive's listing, or the manifest of a Satchel pack beside it. */
export type OpenedArchive = {
  entries: ZipEntry[]
  manifest: PackManifest | undefined
  /** Whose key has signed that, where somebody's has. */
  signer?: string
}

/** A source's file as it was opened: what it is, how large its picture, and the first guess of a plan. */
export type OpenedSource = {
  kind: FileKind
  name: string | undefined
  width: number
  height: number
  plan: Plan
  /** The file that is kept in the place of the one that came: several pictures are made into one drawing. */
  repacked?: Uint8Array
}

/** What was made of a source: frames to store, by part. */
export type MadeSource = {
  become: Made['become']
  parts: {
    part: string
    name: string
    reading: PaintReading
    frame: ReadFrame
    alike: AlikePrint | undefined
    /** How it strokes at first, as was chosen or as its mark says. */
    stroke: FirstStroke
    /** How a strip joins itself; of nothing else. */
    seam: SeamFigures | undefined
  }[]
}

export type ComparedFrames = {
  standings: FrameStanding[]
  hues: (number | null)[]
  shadows: boolean[]
  sentences: string[]
  /** Which frames look the same, in words. */
  alike: string[]
}

export type PngTip = { png: Uint8Array; reading: PaintReading }

/** A brush as it goes to a destination, its pictures as PNG. */
export type FitInput = Omit<FitBrush, 'frames' | 'grain'> & {
  frames: Uint8Array[]
  grain: { name: string; png: Uint8Array } | undefined
}
export type FitMeasured = {
  score: number
  result: FitResult
}

export type StandInFound = {
  /** Those that were tried and paint nothing are blank. */
  brushes: { path: string; name: string; frames: number; files: string[]; isBlank: boolean }[]
  ignored: { path: string; why: string }[]
  /** Whether the folder was looked through to its end. */
  isWhole: boolean
}

/** A folder as the files that hold what lies in it: what nobody asks for is not read. */
export type FolderOfFiles = [path: string, file: string][]

/** The ids that brushes and sets which come with the product have in a workspace, by what a library file calls them. */
export type StarterIds = Record<'brush' | 'rackSet', [name: string, id: string][]>

/** A library file that was checked: files lie in the folder by their names, rows in parts, as arrays in JSON. */
export type UnpackedLibrary = {
  info: LibraryInfo
  rows: { table: string; file: string }[]
}

/** What of a brush is printed: on paper, or in a picture of its set. */
export type PrintedKind = 'stroke' | 'tip' | 'pictureStroke'
/** The files of what is printed of each brush. */
export type PrintedFiles = [brushId: string, file: string][]
/**
 * A sheet to be written into a file: all of a pack on paper, or its first set as a picture. What people wrote in it is laid
 * out there: it can be made to be slow.
 */
export type PrintInput = { to: string; manifest: PackManifest; strokes: PrintedFiles } & (
  | { on: Paper; tips: PrintedFiles; cover: Uint8Array | undefined }
  | { on: 'picture' }
)
