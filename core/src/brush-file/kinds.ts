import { FormatError, LimitError } from '../errors.ts'
import { hasBytesAt } from '../formats/bytes.ts'
import { looksLikeGbr } from '../formats/gbr/layout.ts'
import { readGbrFile } from '../formats/gbr/read.ts'
import { looksLikeGih } from '../formats/gih/layout.ts'
import { readGih } from '../formats/gih/read.ts'
import { looksLikeObj, readObj } from '../formats/obj/read.ts'
import { looksLikeOpenRaster } from '../formats/openraster/layout.ts'
import { readOpenRaster } from '../formats/openraster/read.ts'
import { SIGNATURE as PNG_SIGNATURE } from '../formats/png/layout.ts'
import type { PngReading } from '../formats/png/read.ts'
import { looksLikeStl, readStl } from '../formats/stl/read.ts'
import { checkSvg, looksLikeSvg, SVG } from '../formats/svg/check.ts'
import { looksLikeZip } from '../formats/zip/layout.ts'
import { checkAnimationSize, FRAMES_MAX } from '../limits.ts'
import { drawDepth, FRONT_VIEW, toDepthGrey } from '../mesh/depth.ts'
import type { Mesh } from '../mesh/mesh.ts'
import { flatLayers, layerAlone } from '../raster/compose-layers.ts'
import type { Pixels } from '../raster/pixels.ts'
import { readRibbonBounds } from '../trace/ribbon-drawing.ts'
import { type BrushFile, bareFile } from './brush-file.ts'

/**
 * What the place at hand decodes pictures with: core's own readers, or faster ones of the platform. Photographs are read
 * only where there is a decoder for them.
 */
export type Decoders = {
  png(bytes: Uint8Array): PngReading | Promise<PngReading>
  photo?: ((bytes: Uint8Array, kind: string) => Promise<Pixels>) | undefined
  /** Draws an SVG that was checked before. */
  drawing?: ((svg: Uint8Array) => Promise<Pixels>) | undefined
}

/** One kind of file that holds a brush or a picture. */
export type KindRow = {
  /** What the interface calls it. */
  word: string
  /** Tells it by its first bytes; 4 KiB of them where there are as many. */
  sniff(head: Uint8Array): boolean
  /** Whether it holds a brush, and not only a picture that may become one. */
  isBrush: boolean
  /** @throws {FormatError | LimitError} If the file is malformed or too large. */
  read(bytes: Uint8Array, decoders: Decoders): Promise<BrushFile>
}

/** A photograph's kind: whatever the platform's decoder knows. */
const photo = (word: string, sniff: KindRow['sniff']): KindRow => ({
  word,
  sniff,
  isBrush: false,
  async read(bytes, { photo: decode }) {
    if (!decode) throw new FormatError(word, 0, 'a PNG, GBR or GIH; here photographs are not read, Gather reads them')
    return bareFile([{ pixels: await decode(bytes, `${word} picture`), name: '', delayMs: undefined }])
  },
})

/** Side at which a model's depth stands for it, px. */
const MODEL_SIDE_PX = 1024

/** A model: its frame is its depth from the front. */
const model = (word: string, sniff: KindRow['sniff'], readMesh: (bytes: Uint8Array) => Mesh): KindRow => ({
  word,
  sniff,
  isBrush: false,
  async read(bytes) {
    const mesh = readMesh(bytes)
    const drawing = drawDepth(mesh, FRONT_VIEW, MODEL_SIDE_PX)
    let next = drawing.next()
    while (!next.done) next = drawing.next()
    const data = toDepthGrey(next.value, 8) as Uint8Array
    const pixels: Pixels = { width: MODEL_SIDE_PX, height: MODEL_SIDE_PX, channels: 1, data }
    return { ...bareFile([{ pixels, name: '', delayMs: undefined }]), mesh }
  },
})

const TIFF_LITTLE = [0x49, 0x49, 42, 0]
const TIFF_BIG = [0x4d, 0x4d, 0, 42]
const RIFF = [0x52, 0x49, 0x46, 0x46]
const WEBP = [0x57, 0x45, 0x42, 0x50]

/** Every kind of file that is taken, one row each; the first whose signs fit counts. */
export const FILE_KINDS = {
  png: {
    word: 'PNG',
    sniff: (head) => hasBytesAt(head, 0, PNG_SIGNATURE),
    isBrush: false,
    async read(bytes, decoders) {
      const { frames, text, animated, pixelsPerMetre, warnings } = await decoders.png(bytes)
      const { Title, Author, Copyright, ...texts } = text
      return {
        ...bareFile(
          frames.map(({ pixels, delayMs }) => ({ pixels, name: '', delayMs: animated ? delayMs : undefined })),
        ),
        name: Title,
        maker: Author,
        licence: Copyright,
        texts,
        pixelsPerMetre,
        warnings,
      }
    },
  },
  jpeg: photo('JPEG', (head) => hasBytesAt(head, 0, [0xff, 0xd8, 0xff])),
  tiff: photo('TIFF', (head) => hasBytesAt(head, 0, TIFF_LITTLE) || hasBytesAt(head, 0, TIFF_BIG)),
  webp: photo('WebP', (head) => hasBytesAt(head, 0, RIFF) && hasBytesAt(head, 8, WEBP)),
  gbr: {
    word: 'open brush',
    sniff: (head) => looksLikeGbr(head, 0),
    isBrush: true,
    async read(bytes) {
      const { brush, warnings } = readGbrFile(bytes)
      const { name, spacingPct, width, height, channels, data } = brush
      const pixels = { width, height, channels, data }
      return { ...bareFile([{ pixels, name, delayMs: undefined }]), name, spacingPct, warnings }
    },
  },
  gih: {
    word: 'open animated brush',
    sniff: looksLikeGih,
    isBrush: true,
    async read(bytes) {
      const { brush, warnings } = readGih(bytes)
      const { name, spacingPct, dimensions, extra } = brush
      const frames = brush.frames.map(({ name, width, height, channels, data }) => ({
        pixels: { width, height, channels, data },
        name,
        delayMs: undefined,
      }))
      return { ...bareFile(frames), name, spacingPct, dimensions, keys: extra, warnings }
    },
  },
  svg: {
    word: SVG,
    sniff: looksLikeSvg,
    isBrush: false,
    async read(bytes, { drawing }) {
      const root = checkSvg(bytes)
      if (!drawing)
        throw new FormatError(
          SVG,
          undefined,
          'a picture of pixels; here drawings of lines are not drawn, Gather draws them',
        )
      const pixels = await drawing(bytes)
      const ribbon = readRibbonBounds(root, pixels.width)
      return { ...bareFile([{ pixels, name: '', delayMs: undefined }]), ...(ribbon ? { ribbon } : {}) }
    },
  },
  openraster: {
    word: 'OpenRaster',
    sniff: looksLikeOpenRaster,
    isBrush: false,
    async read(bytes, { png }) {
      const { width, height, layers, warnings } = await readOpenRaster(bytes, { decode: png })
      const flat = flatLayers(layers)
      const [seen, hidden] = [flat.filter(({ isHidden }) => !isHidden), flat.filter(({ isHidden }) => isHidden)]
      if (seen.length === 0) throw new FormatError('OpenRaster', undefined, 'a layer that is not hidden')
      if (seen.length > FRAMES_MAX) throw new LimitError('the number of layers', seen.length, FRAMES_MAX)
      checkAnimationSize(seen.length, width, height)
      const frames = seen.map(({ layer }) => ({
        pixels: layerAlone(layer, width, height),
        name: layer.name,
        delayMs: undefined,
      }))
      const left = hidden.map(({ layer }) => `"${layer.name}"`).join(', ')
      return {
        ...bareFile(frames),
        drawing: { width, height, layers },
        warnings: hidden.length === 0 ? warnings : [...warnings, `Hidden layers were left out: ${left}.`],
      }
    },
  },
  obj: model('OBJ', looksLikeObj, readObj),
  stl: model('STL', looksLikeStl, readStl),
} as const satisfies Record<string, KindRow>

export type BrushFileKind = keyof typeof FILE_KINDS
/** What a file is by its content. `foreign` is everything this product has no business with. */
export type FileKind = BrushFileKind | 'zip' | 'foreign'

const KINDS: readonly (readonly [BrushFileKind, KindRow])[] = Object.entries(FILE_KINDS) as [BrushFileKind, KindRow][]

/** Bytes from a file's start that tell its kind. */
export const HEAD_BYTES = 8192

/** Tells a file's kind from its first bytes, never from its name. */
export function sniffKind(head: Uint8Array): FileKind {
  const found = KINDS.find(([, { sniff }]) => sniff(head))?.[0]
  // a drawing of layers is an archive, too
  return found ?? (looksLikeZip(head) ? 'zip' : 'foreign')
}

/** What a kind is called in the interface. */
export const kindWord = (kind: string): string =>
  (FILE_KINDS as Record<string, KindRow>)[kind]?.word ?? OTHER_WORDS[kind] ?? kind
const OTHER_WORDS: Record<string, string> = {
  pack: 'Satchel pack',
  zip: 'zip',
  settings: 'brush settings',
  foreign: 'something else',
}

/**
 * Reads a file of any kind that is taken.
 * @throws {FormatError} If it is of none, or malformed. @throws {LimitError} If it is larger than is taken.
 */
export async function readBrushFile(
  bytes: Uint8Array,
  decoders: Decoders,
): Promise<BrushFile & { kind: BrushFileKind }> {
  const kind = sniffKind(bytes.subarray(0, HEAD_BYTES))
  if (kind === 'zip' || kind === 'foreign')
    throw new FormatError('brush file', 0, `${KINDS.map(([, { word }]) => word).join(', ')} or a Satchel pack`)
  const row: KindRow = FILE_KINDS[kind]
  return { kind, ...(await row.read(bytes, decoders)) }
}
