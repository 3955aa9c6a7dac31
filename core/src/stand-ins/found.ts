import * as v from 'valibot'
import { Recipe } from '../brush/recipe.ts'
import { byPath } from '../names.ts'
import type { Pixels } from '../raster/pixels.ts'

/** A brush that a stand-in has found in its folder, and paints with. */
export type FoundBrush = {
  path: string
  name: string
  frames: Pixels[]
  grain: Pixels | undefined
  recipe: Recipe
  /** The files that it was read from. */
  files: string[]
}
/** What a stand-in makes of its folder: brushes in the order of their paths, and files that it passes over. */
export type FolderReading = {
  brushes: FoundBrush[]
  ignored: { path: string; why: string }[]
  /** Whether it was looked through to its end. */
  isWhole: boolean
}

/** Its folder: paths with slashes, from the folder down; what is not asked for need not be read. */
export type Folder = Pick<ReadonlyMap<string, Uint8Array>, 'get' | 'keys'>
/** What the place at hand decodes with: a stand-in has no decoder of its own. */
export type StandInDecoders = {
  png(bytes: Uint8Array): Promise<Pixels[]>
  svg?: ((bytes: Uint8Array) => Promise<Pixels>) | undefined
}

/** A stand-in's own sentence on a file that it cannot use. */
export class Unusable extends Error {}

/** @param most After so many brushes it looks no further. */
export type Reader = (folder: Folder, decoders: StandInDecoders, most?: number) => Promise<FolderReading>

/** Reads file after file by its path; one that cannot be used stops no other. */
export function readEach(
  extensions: readonly string[],
  read: (path: string, bytes: Uint8Array, folder: Folder, decoders: StandInDecoders) => Promise<FoundBrush>,
): Reader {
  return async (folder, decoders, most = Number.POSITIVE_INFINITY) => {
    const reading: FolderReading = { brushes: [], ignored: [], isWhole: true }
    const used = new Set<string>()
    for (const path of [...folder.keys()].sort(byPath)) {
      if (!extensions.some((extension) => path.toLowerCase().endsWith(`.${extension}`))) continue
      if (reading.brushes.length >= most) return { ...reading, isWhole: false }
      used.add(path)
      try {
        const brush = await read(path, fileAt(folder, path), folder, decoders)
        for (const file of brush.files) used.add(file)
        reading.brushes.push(brush)
      } catch (error) {
        reading.ignored.push({ path, why: error instanceof Error ? error.message : String(error) })
      }
    }
    for (const path of folder.keys()) if (!used.has(path)) reading.ignored.push({ path, why: 'nothing asks for it' })
    return reading
  }
}

const Settings = v.object({
  name: v.string(),
  pictures: v.string(),
  grain: v.optional(v.string()),
  settings: v.record(v.string(), v.unknown()),
})
export type Settings = v.InferOutput<typeof Settings>

/** Reads what lies beside a picture, as JSON. @throws {Unusable} If it is none, or says no name or no picture. */
export function readSettings(bytes: Uint8Array): Settings {
  let data: unknown
  try {
    data = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes))
  } catch {
    throw new Unusable('its settings are no text that can be read')
  }
  const result = v.safeParse(Settings, data)
  if (!result.success) throw new Unusable('its settings say no name, or no picture')
  return result.output
}

/** What a stand-in takes of each setting; what it does not name it never looks at, and what it does not take is its own usual one. */
export type Takes = Readonly<Record<string, (value: unknown) => boolean>>

export function applySettings(usual: Recipe, settings: Settings['settings'], takes: Takes): Recipe {
  let recipe = usual
  for (const [name, isTaken] of Object.entries(takes)) {
    const value = settings[name]
    if (value === undefined || !isTaken(value)) continue
    const [group = '', key = ''] = name.split('.')
    const whole = name === 'ground.grain' ? { sha256: '0'.repeat(64), ...(value as object) } : value
    const tried = v.safeParse(Recipe, {
      ...recipe,
      [group]: { ...(recipe[group as keyof Recipe] as object), [key]: whole },
    })
    if (tried.success) recipe = tried.output
  }
  return recipe
}

export const within =
  (from: number, to: number) =>
  (value: unknown): boolean =>
    typeof value === 'number' && value >= from && value <= to
export const oneOf =
  (...kinds: readonly string[]) =>
  (value: unknown): boolean =>
    kinds.includes(String(value))
export const anything = (): boolean => true
/** An object whose `key` is one of these. */
export const keyed =
  (key: string, ...kinds: readonly string[]) =>
  (value: unknown): boolean =>
    typeof value === 'object' && value !== null && kinds.includes(String((value as Record<string, unknown>)[key]))
/** An object with no other keys than these. */
export const only =
  (...keys: readonly string[]) =>
  (value: unknown): boolean =>
    typeof value === 'object' && value !== null && Object.keys(value).every((key) => keys.includes(key))

/** The path of what lies beside a file: "../Grains/x.png" from "Set/y.tune" is "Grains/x.png". @throws {Unusable} If it leads out of the folder. */
export function beside(path: string, relative: string): string {
  const parts = path.split('/').slice(0, -1)
  for (const part of relative.split('/')) {
    if (part === '..') {
      if (parts.length === 0) throw new Unusable(`"${relative}" leads out of the folder`)
      parts.pop()
    } else if (part !== '.' && part !== '') parts.push(part)
  }
  return parts.join('/')
}

/** A file of the folder. @throws {Unusable} If it is not there. */
export function fileAt(folder: Folder, path: string): Uint8Array {
  const bytes = folder.get(path)
  if (!bytes) throw new Unusable(`"${path}" is not there`)
  return bytes
}

/** A picture of light that paints: its greys, or the greys of its colours, as one channel. */
export function lightOf({ width, height, channels, data }: Pixels): Pixels {
  if (channels === 1) return { width, height, channels, data }
  const out = new Uint8Array(width * height)
  for (let i = 0; i < out.length; i++)
    out[i] = Math.round(((data[4 * i] + data[4 * i + 1] + data[4 * i + 2]) / 3) * (data[4 * i + 3] / 255))
  return { width, height, channels: 1, data: out }
}
