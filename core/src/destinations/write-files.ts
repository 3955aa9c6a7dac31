import { toCoverage } from '../brush/coverage.ts'
import type { Recipe } from '../brush/recipe.ts'
import { writeBrushFile } from '../brush-file/write.ts'
import { writeOpenRaster } from '../formats/openraster/write.ts'
import { writeApng, writeGrey16Png, writePng } from '../formats/png/write.ts'
import { toUtf8, withoutExtension } from '../formats/text.ts'
import { hashBytes, hashPixels } from '../hashes.ts'
import { toFileName } from '../pack/file-name.ts'
import { PACK_EXTENSION } from '../pack/manifest.ts'
import { toBase64 } from '../raster/base64.ts'
import { toRgba } from '../raster/pixels.ts'
import { toTraceSvg, traceCover, USUAL_TRACE } from '../trace/trace.ts'
import { CARRY_ROWS } from './carry-parts.ts'
import type { Destination } from './destination.ts'
import { FitNames } from './fit-name.ts'
import type { Packers } from './packers.ts'
import type { Arrival } from './plan.ts'
import { writeBrushPack } from './write-pack.ts'

/** A file for a destination's folder; the path's parts are parted by slashes. */
export type FitFile = { path: string; bytes: Uint8Array }

type Writing = { arrival: Arrival; destination: Destination; packers: Packers }
type Kind = { extension: string; write(writing: Writing): Uint8Array }

/** What the names of a destination's brush files end with, of one picture and of several; without the dot. */
export function extensionsOf({ files }: Pick<Destination, 'files'>): string[] {
  const { single, several, extension } = files
  const many = several === 'oneEach' || several === 'first' ? single : several
  return extension === undefined ? [...new Set([KINDS[single].extension, KINDS[many].extension])] : [extension]
}

const pngOptions = ({ arrival, packers }: Writing) => ({ ...packers, text: { Title: arrival.name } })

/** Every kind of file that is written, one row each. */
const KINDS = {
  png: {
    extension: 'png',
    write(writing) {
      const [frame] = writing.arrival.frames
      const isDeep = writing.destination.pictures.depth === 16 && frame.channels === 1
      return isDeep
        ? writeGrey16Png(
            frame.width,
            frame.height,
            Uint16Array.from(frame.data, (grey) => grey * 257),
            pngOptions(writing),
          )
        : writePng(frame, pngOptions(writing))
    },
  },
  apng: {
    extension: 'png',
    write: (writing) => writeApng(writing.arrival.frames, pngOptions(writing)),
  },
  gbr: { extension: 'gbr', write: ({ arrival }) => writeBrushFile('gbr', openBrush(arrival)).bytes },
  gih: { extension: 'gih', write: ({ arrival }) => writeBrushFile('gih', openBrush(arrival)).bytes },
  layers: { extension: 'ora', write: (writing) => toLayers(writing) },
  openraster: { extension: 'ora', write: (writing) => toLayers(writing) },
  satchel: { extension: PACK_EXTENSION.slice(1), write: ({ arrival, packers }) => writeBrushPack(arrival, packers) },
  svg: {
    extension: 'svg',
    write({ arrival: { frames, recipe } }) {
      const { width, height, channels, data } = toCoverage(frames[0], recipe.colour.reading)
      const cover = channels === 1 ? data : data.filter((_, i) => i % 4 === 3)
      const tones = isSoft(cover) ? SOFT_TONES : 1
      return toUtf8(toTraceSvg(traceCover(cover, width, height, { ...USUAL_TRACE, tones })))
    },
  },
} as const satisfies Record<string, Kind>

/** Tones that greys are drawn by, and the share of greys among what paints from which on they are. */
const SOFT_TONES = 4
const SOFT_FROM = 0.12

/** Whether more of a picture is half covered than the rim of a shape is. */
function isSoft(cover: Uint8Array | Uint8ClampedArray): boolean {
  let [painted, grey] = [0, 0]
  for (const value of cover) {
    if (value > 16) painted++
    if (value > 48 && value < 208) grey++
  }
  return grey > SOFT_FROM * painted
}

const openBrush = ({ name, frames, recipe }: Arrival) => ({ name, frames: [...frames], recipe })

function toLayers({ arrival: { frames }, packers }: Writing): Uint8Array {
  const [{ width, height }] = frames
  const layers = frames.map((pixels, i) => ({
    kind: 'layer' as const,
    name: String(i + 1),
    pixels: toRgba(pixels),
    left: 0,
    top: 0,
    opacity: 1,
    isHidden: false,
    op: 'normal' as const,
  }))
  return writeOpenRaster({ width, height, layers }, { ...packers, encode: (pixels) => writePng(pixels, packers) })
}

type WriterOptions = Packers & {
  library: string
  /** Paths that are taken already: names go round them. */
  avoid?: readonly string[]
  /** Grains that have a file already, by their pixels. */
  grains?: readonly (readonly [key: string, path: string])[]
}

/** Where the files of one library go, and under which names; one for all brushes that go there together. */
export class FitWriter {
  readonly #avoid: ReadonlySet<string>
  /** Names of files without folders and extensions, where no two may be alike anywhere. */
  readonly #stems: ReadonlySet<string>
  readonly #names: FitNames
  readonly #grains = new Map<string, string>()
  readonly #grainNames: FitNames
  readonly #destination: Destination
  readonly #library: string
  readonly #packers: Packers

  constructor(destination: Destination, { library, avoid = [], grains = [], ...packers }: WriterOptions) {
    const paths = avoid.map((path) => path.toLowerCase())
    this.#avoid = new Set(paths)
    const isEverywhere = destination.names.unique === 'everywhere'
    this.#stems = new Set(isEverywhere ? paths.map(stemOf) : [])
    for (const [key, path] of grains) this.#grains.set(key, path)
    this.#destination = destination
    this.#library = library
    this.#packers = packers
    this.#names = new FitNames(destination.names)
    this.#grainNames = new FitNames({ ...destination.names, unique: 'folder' })
  }

  /** The files of a brush: its pictures, its settings and its grain where the destination has a place for them. */
  write(arrival: Arrival): FitFile[] {
    const { files, grain: place } = this.#destination
    const folder = this.#folder(files.folder, arrival.set)
    const { single, several } = files
    const many = several === 'oneEach' || several === 'first' ? single : several
    const kind: Kind = KINDS[arrival.frames.length > 1 ? many : single]
    const extension = files.extension ?? kind.extension
    const extensions = [extension, ...(files.settings === undefined ? [] : [files.settings])]
    const isTaken = (tried: string) =>
      this.#stems.has(tried.toLowerCase()) || extensions.some((each) => this.#isThere(join(folder, `${tried}.${each}`)))
    const name = this.#names.take(folder, arrival.name, isTaken)
    const path = join(folder, `${name}.${extension}`)
    const bytes = kind.write({ arrival, destination: this.#destination, packers: this.#packers })
    const out: FitFile[] = [{ path, bytes }]
    const grain = arrival.recipe.ground.grain && place !== 'none' ? arrival.grain : undefined
    const png = grain && writePng(grain.pixels, this.#packers)
    const grainPath = grain && png && place !== 'inside' ? this.#grainPath(grain, out, png) : undefined
    if (files.settings === undefined) return out
    const { hash = hashBytes } = this.#packers
    // by these a reference that leads nowhere finds what it meant
    const shas = { picturesSha256: hash(bytes), ...(grainPath && png ? { grainSha256: hash(png) } : {}) }
    const settings = {
      description: 'brush settings',
      version: 1,
      app: this.#destination.name,
      appVersion: this.#destination.appVersion,
      name,
      pictures: place === 'path' ? path : `${name}.${extension}`,
      ...(grainPath === undefined ? {} : { grain: place === 'path' ? grainPath : upTo(folder) + grainPath }),
      ...(png && place === 'inside' ? { grainPng: toBase64(png) } : {}),
      ...shas,
      settings: knownSettings(arrival.recipe, this.#destination),
    }
    const text = `${JSON.stringify(settings, null, 2)}\n`
    return [...out, { path: join(folder, `${name}.${files.settings}`), bytes: toUtf8(text) }]
  }

  /** Grains that have a file by now, by their pixels. */
  get grains(): [key: string, path: string][] {
    return [...this.#grains]
  }

  /** Where the grain of a brush that was written has a file of its own, that; several brushes may share it. */
  grainPathOf({ recipe, grain }: Arrival): string | undefined {
    return recipe.ground.grain && grain ? this.#grains.get(hashPixels(grain.pixels)) : undefined
  }

  /** A grain that several brushes use has one file. */
  #grainPath(grain: NonNullable<Arrival['grain']>, out: FitFile[], png: Uint8Array): string {
    const key = hashPixels(grain.pixels)
    const known = this.#grains.get(key)
    if (known) return known
    const folder = this.#folder(this.#destination.files.grainFolder, '')
    const isTaken = (tried: string) => this.#isThere(join(folder, `${tried}.png`))
    const path = join(folder, `${this.#grainNames.take(folder, grain.name, isTaken)}.png`)
    this.#grains.set(key, path)
    out.push({ path, bytes: png })
    return path
  }

  /** Names that differ only in their case are one on many disks. */
  #isThere(path: string): boolean {
    return this.#avoid.has(path.toLowerCase())
  }

  #folder(template: string, set: string): string {
    const { name, appVersion } = this.#destination
    const words: Record<string, string> = { app: `${name} ${appVersion}`, library: this.#library, set }
    return template
      .split('/')
      .filter((part) => part !== '')
      .map((part) => toFileName(part.replace(/\{(app|library|set)\}/g, (_, key: string) => words[key] || 'Brushes')))
      .join('/')
  }
}

const stemOf = (path: string) => withoutExtension(path.slice(path.lastIndexOf('/') + 1)).replace(/\.satchel$/, '')
const join = (folder: string, name: string) => (folder === '' ? name : `${folder}/${name}`)
const upTo = (folder: string) => (folder === '' ? '' : '../'.repeat(folder.split('/').length))

/** What the destination knows of a recipe, by the names of the parts. */
function knownSettings(recipe: Recipe, { knows }: Destination): Record<string, unknown> {
  const entries = CARRY_ROWS.filter(({ name }) => knows[name] !== false).flatMap(({ name, group, key }) => {
    const value = (recipe[group] as Record<string, unknown>)[key]
    if (value === undefined) return []
    if (name !== 'ground.grain') return [[name, value]]
    // the grain's file says which it is
    const { sha256: _, ...grain } = value as NonNullable<Recipe['ground']['grain']>
    return [[name, grain]]
  })
  return Object.fromEntries(entries)
}
