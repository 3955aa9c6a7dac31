import type { AlikePrint } from '@satchel/core/alike/alike-print'
import type { Difference } from '@satchel/core/alike/differences'
import type { NearPair } from '@satchel/core/alike/near-keys'
import type { PaintReading, Recipe } from '@satchel/core/brush/recipe'
import type { Thumbnail } from '@satchel/core/brush/thumbnail'
import type { Finding } from '@satchel/core/check-list/check-pack'
import type { BrushFigures } from '@satchel/core/check-list/figures'
import type { Subject } from '@satchel/core/check-list/subject'
import type { CoverCrop, CoverPlan } from '@satchel/core/cover/cover'
import type { Destination, StandInName } from '@satchel/core/destinations/destination'
import type { Choices } from '@satchel/core/destinations/fit-state'
import type { FitFile } from '@satchel/core/destinations/write-files'
import type { ListingKind } from '@satchel/core/exchange/protocol'
import type { ZipEntry } from '@satchel/core/formats/zip/layout'
import type { FrameEdit } from '@satchel/core/frames/edit-frame'
import type { EvenOut } from '@satchel/core/frames/even-out'
import type { SeamFigures } from '@satchel/core/grain/seam'
import type { HelpDocument } from '@satchel/core/help/help-document'
import type { HelpNode } from '@satchel/core/help/help-page'
import type { Likeness } from '@satchel/core/looks/like-mark'
import type { StrokeLook } from '@satchel/core/looks/stroke-look'
import type { Look } from '@satchel/core/loose-ends/looks'
import type { DeliveryStatus } from '@satchel/core/mail/delivery-status'
import type { Plan, Way } from '@satchel/core/make/ways'
import type { Difference as ReleaseDifference } from '@satchel/core/releases/difference'
import type { Improvement } from '@satchel/core/round-trip/find-better'
import type { FitPicture } from '../db/schema/fit.ts'
import type { ListedPack } from './list-pack.ts'
import type {
  ComparedFrames,
  FilePart,
  FitInput,
  FitMeasured,
  FolderOfFiles,
  MadeSource,
  OpenedArchive,
  OpenedSource,
  PngTip,
  PrintedKind,
  PrintInput,
  ReadEntry,
  ReadFrame,
  ReadListing,
  ReadResult,
  Side,
  StandInFound,
  StarterIds,
  UnpackedLibrary,
} from './results.ts'

/** Everything the processes of the pool can do; each takes and gives plain data. */
export type Tasks = {
  /** The keys of kept marks that came from elsewhere; empty ones of what is none. */
  keysOfMarks: (input: { marks: Uint8Array[] }) => Promise<Uint8Array[]>
  /** Reads what an exchange answered. */
  readListing: (input: { bytes: Uint8Array; kind: ListingKind }) => Promise<ReadListing>
  /** Reads a pack that somebody publishes at an exchange, and paints its strokes; or the sentence with which it is refused. */
  listPack: (input: { bytes: Uint8Array }) => Promise<ListedPack | { refused: string }>
  /** How a brush arrives at each destination, by the answers that are most alike; or why that cannot be told. */
  measureFits: (input: {
    brush: FitInput
    to: { destination: Destination; choices: Choices }[]
  }) => Promise<(FitMeasured | { refused: string })[]>
  /** What a brush could do without to arrive better. */
  findBetter: (input: {
    brush: FitInput
    destination: Destination
    choices: Choices
  }) => Promise<{ improvements: Improvement[] } | { refused: string }>
  /** Gauge strokes before and after, and where they differ, as PNG: each needs most of what the others do. */
  drawFit: (input: {
    brush: FitInput
    destination: Destination
    choices: Choices
  }) => Promise<Record<FitPicture, Uint8Array>>
  /** The files of brushes for a destination, their names given once. */
  writeFit: (input: {
    brushes: { brush: FitInput; choices: Choices }[]
    destination: Destination
    library: string
    avoid: string[]
    grains: [key: string, path: string][]
  }) => Promise<
    | {
        files: FitFile[][]
        /** The grains' files that each brush needs. */
        shared: string[][]
        grains: [key: string, path: string][]
      }
    | { refused: string }
  >
  /** What a stand-in finds in its folder; brushes at the paths of `tried` are painted with. */
  readStandIn: (input: {
    standIn: StandInName
    folder: FolderOfFiles
    tried: string[]
    /** After so many brushes it looks no further. */
    most?: number
  }) => Promise<StandInFound>
  /** The gauge strokes that a stand-in paints with a brush it has found, as PNG; undefined where there is none. */
  drawStandIn: (input: { standIn: StandInName; folder: FolderOfFiles; path: string }) => Promise<Uint8Array | undefined>
  /** A brush that a stand-in has found, as one paints with it; its pictures as PNG. */
  openStandIn: (input: {
    standIn: StandInName
    folder: FolderOfFiles
    path: string
  }) => Promise<{ recipe: Recipe; frames: Uint8Array[]; grain: Uint8Array | undefined } | undefined>
  /** Opens a source's file; or the sentence with which it is refused. */
  openSource: (input: { bytes: Uint8Array; way: Way }) => Promise<OpenedSource | { refused: string }>
  /** Frames as the layers of one drawing, as OpenRaster; or the sentence with which they are refused. */
  stackFrames: (input: {
    frames: Uint8Array[]
    names: string[]
  }) => Promise<{ drawing: Uint8Array } | { refused: string }>
  /** A source's picture as PNG, as it came or smaller. */
  previewSource: (input: { bytes: Uint8Array; sidePx: number }) => Promise<Uint8Array>
  /** Makes all that a source gives; tells what share is done, from 0 to 1000. */
  makeSource: (
    input: { bytes: Uint8Array; plan: Plan },
    tell: (share: number) => void,
  ) => Promise<MadeSource | { refused: string }>
  readTip: (input: { bytes: Uint8Array; reading?: PaintReading }) => Promise<ReadResult>
  /** What a file that came is, or an entry of an archive; a picture is read. */
  readEntry: (input: { part: FilePart; entry?: ZipEntry | undefined; reading?: PaintReading }) => Promise<ReadEntry>
  /** The same of several small entries, one after another; what one is refused for is its own. */
  readEntries: (input: { part: FilePart; entries: ZipEntry[] }) => Promise<(ReadEntry | { refused: string })[]>
  /** What lies in an archive. */
  openArchive: (input: { part: FilePart }) => Promise<OpenedArchive | { refused: string }>
  /** Unpacks an entry into a new file. */
  unpackEntry: (input: { part: FilePart; entry: ZipEntry; to: string }) => Promise<{ refused?: string }>
  /** Pairs of kept keys, joined, that may look alike, the later one at or after `from`. */
  findCandidates: (input: { keys: Uint8Array; from: number }) => Promise<NearPair[]>
  /** Which pairs of kept marks are alike as far as they tell. */
  filterAlike: (input: { pairs: [mark: Uint8Array, original: Uint8Array][] }) => Promise<boolean[]>
  /** How a tip differs from its original by their pixels; undefined where they are not alike. */
  judgeAlike: (input: { tip: PngTip; original: PngTip }) => Promise<Difference[] | undefined>
  printAlike: (input: PngTip) => Promise<AlikePrint>
  /** Which kept marks look like each of the wanted ones. */
  rankLooks: (input: { wanted: Uint8Array[]; candidates: Uint8Array[] }) => Promise<Look[][]>
  /** How a brush's stroke looks, in figures. */
  measureLook: (input: { frames: Uint8Array[]; grain?: Uint8Array | undefined; recipe: Recipe }) => Promise<StrokeLook>
  /** What a picture is looked for by among marks; or the sentence with which it is refused. */
  printPicture: (input: { bytes: Uint8Array }) => Promise<{ prints: AlikePrint[] } | { refused: string }>
  /** What a picture of a stroke is looked for by, where one is found on it; or the sentence with which it is refused. */
  signPicture: (input: { bytes: Uint8Array }) => Promise<{ signature: Uint8Array | undefined } | { refused: string }>
  /** Which kept keys, joined, lie nearest to one of the wanted ones. */
  nearestMarks: (input: {
    wanted: Uint8Array[]
    keys: Uint8Array
    most: number
  }) => Promise<{ at: number; distance: number }[]>
  /** How like kept marks are to one of the wanted ones, the best first. */
  markLikeness: (input: { wanted: Uint8Array[]; candidates: Uint8Array[] }) => Promise<Likeness[]>
  /** Which strokes are most like a wanted one, by their signatures. */
  strokeLikeness: (input: { wanted: Uint8Array; candidates: Uint8Array[]; most: number }) => Promise<Likeness[]>
  /** How the seam of a stored tile measures by now. */
  measureSeam: (input: { png: Uint8Array }) => Promise<SeamFigures>
  /** How frames stand beside each other, and which have a shadow drawn as grey. */
  compareFrames: (input: { frames: Uint8Array[]; reading: PaintReading }) => Promise<ComparedFrames>
  /** Frames made alike, or their grey shadows black. */
  changeFrames: (input: {
    frames: Uint8Array[]
    reading: PaintReading
    /** Changes of single frames, by their places; they come before all others. */
    edits: { at: number; edit: FrameEdit }[]
    even?: EvenOut | undefined
    blacken: boolean
  }) => Promise<{ frames: ReadFrame[]; alike: AlikePrint | undefined } | { refused: string }>
  /** A picture as a frame that is read like those of a brush; or the sentence with which it is refused. */
  readFrame: (input: { bytes: Uint8Array; reading: PaintReading }) => Promise<ReadFrame | { refused: string }>
  shrink: (input: { png: Uint8Array; sidePx: number }) => Promise<ReadFrame>
  renderStroke: (input: {
    frames: Uint8Array[]
    grain?: Uint8Array | undefined
    recipe: Recipe
    width: number
    height: number
    what: 'list' | 'gauge'
  }) => Promise<Uint8Array>
  /** Checks a library file, and lays its files and rows out in a folder. */
  unpackLibrary: (input: {
    path: string
    folder: string
    starters: StarterIds
  }) => Promise<UnpackedLibrary | { refused: string }>
  /** Texts in Markdown, laid out one by one. */
  layOutTexts: (input: { texts: string[] }) => Promise<HelpNode[][]>
  /** What a pack says to those who get it, as an HTML page that stands by itself. */
  writeHelp: (input: HelpDocument) => Promise<string>
  /** How two releases differ, or one and the pack as it is now. */
  compareReleases: (input: { before: Side; after: Side }) => Promise<ReleaseDifference>
  /** Everything that the check list has to say of a pack. */
  checkPack: (input: Subject) => Promise<Finding[]>
  /** What a check list wants to know of a brush by its pixels. */
  measureBrush: (input: {
    frames: Uint8Array[]
    grain?: Uint8Array | undefined
    recipe: Recipe
    thumbnail: Thumbnail
  }) => Promise<BrushFigures>
  /** A grain whose seams are closed in the way that shows least, and how they measure; or why they cannot be. */
  closeSeam: (input: { png: Uint8Array }) => Promise<{ frame: ReadFrame; seam: SeamFigures } | { refused: string }>
  /** The gauge strokes of a brush as it was and as it is, and where they differ, as PNG. */
  drawChange: (
    input: Record<'before' | 'after', { frames: Uint8Array[]; grain?: Uint8Array | undefined; recipe: Recipe }>,
  ) => Promise<Record<'before' | 'after' | 'difference', Uint8Array>>
  /** A brush's stroke or tip for print, opaque, as PNG. */
  renderPrinted: (input: {
    frames: Uint8Array[]
    grain?: Uint8Array | undefined
    recipe: Recipe
    what: PrintedKind
  }) => Promise<Uint8Array>
  /** A cover that is composed, as PNG; pictures of each stroke's brush in the plan's order. */
  paintCover: (input: {
    plan: CoverPlan
    brushes: { frames: Uint8Array[]; grain?: Uint8Array | undefined; recipe: Recipe }[]
  }) => Promise<Uint8Array>
  /** A part of somebody's picture as a cover. */
  cropCover: (input: { bytes: Uint8Array; crop: CoverCrop }) => Promise<{ png: Uint8Array } | { refused: string }>
  /** Writes a sheet whose pictures lie in files, by the ids of brushes. */
  printSheet: (input: PrintInput) => Promise<void>
  renderThumbnail: (input: {
    frames: Uint8Array[]
    grain?: Uint8Array | undefined
    recipe: Recipe
    frame?: number | undefined
  }) => Promise<Uint8Array>
  /** A thumbnail that someone made, as it will be kept, or what is wrong with it. */
  readThumbnail: (
    input: { png: Uint8Array } | { part: FilePart; entry: ZipEntry },
  ) => Promise<{ png: Uint8Array } | { refused: string }>
  /** What a letter reports of a mail that could not be delivered; nothing where it is no report. */
  readReturned: (input: { letter: Uint8Array }) => Promise<DeliveryStatus | undefined>
  renderTip: (input: { png: Uint8Array; reading: PaintReading; sidePx: number }) => Promise<Uint8Array>
  openFiles: (input: {
    name: string
    maker: string
    licence: string
    recipe: Recipe
    frames: Uint8Array[]
    frameNames: string[]
    keys: [key: string, value: string][]
  }) => Promise<{
    png: Uint8Array
    brush: Uint8Array
    extension: 'gbr' | 'gih'
  }>
}
