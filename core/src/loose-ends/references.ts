import * as v from 'valibot'
import type { Destination } from '../destinations/destination.ts'
import { parseJson } from '../formats/json.ts'
import { toUtf8 } from '../formats/text.ts'
import { type FileSha, FileShaText } from '../hashes.ts'

/** What a brush's settings name by its path, one row a kind: the keys under which they do, and what a person calls it. */
export const REFERENCE_KINDS = {
  tip: { key: 'pictures', shaKey: 'picturesSha256', word: 'picture of the tip' },
  grain: { key: 'grain', shaKey: 'grainSha256', word: 'grain' },
} as const
export type ReferenceKind = keyof typeof REFERENCE_KINDS
const KINDS = Object.keys(REFERENCE_KINDS) as ReferenceKind[]

/** Where paths in settings begin: at the folder that the app looks into, or at the settings themselves. */
export type PathOrigin = 'root' | 'beside'

/** Where the paths in the settings for a destination begin. */
export const originOf = ({ grain }: Pick<Destination, 'grain'>): PathOrigin => (grain === 'path' ? 'root' : 'beside')

/** What the settings of one brush refer to. Paths have slashes. */
export type Reference = {
  /** The settings' own path. */
  file: string
  brush: string
  kind: ReferenceKind
  /** The path as it is written in the settings. */
  target: string
  /** The bytes that are meant, where the settings say so. */
  sha256: FileSha | undefined
}

const Sha = v.fallback(v.optional(FileShaText), undefined)
const Settings = v.looseObject({
  name: v.string(),
  pictures: v.string(),
  picturesSha256: Sha,
  grain: v.optional(v.string()),
  grainSha256: Sha,
})

/** What can be read of a brush's settings: its name, what it refers to, and what it says of the recipe. */
export type BrushSettings = { name: string; references: Reference[]; said: Record<string, unknown> }

/** @returns Undefined where these are no settings of a brush. */
export function readBrushSettings(path: string, bytes: Uint8Array): BrushSettings | undefined {
  const data = parse(bytes)?.settings
  if (!data) return undefined
  const said = v.safeParse(v.record(v.string(), v.unknown()), data.settings)
  const references = KINDS.flatMap((kind): Reference[] => {
    const { key, shaKey } = REFERENCE_KINDS[kind]
    const target = data[key]
    return target === undefined ? [] : [{ file: path, brush: data.name, kind, target, sha256: data[shaKey] }]
  })
  return { name: data.name, references, said: said.success ? said.output : {} }
}

/** What a reference is to name from now on. */
export type NewTarget = { kind: ReferenceKind; target: string; sha256: FileSha }

/**
 * The same settings with other targets; whatever else they say stays as it is, in its order.
 * @throws {RangeError} If these are no settings of a brush.
 */
export function rewriteBrushSettings(bytes: Uint8Array, targets: readonly NewTarget[]): Uint8Array {
  const data = parse(bytes)?.raw
  if (!data) throw new RangeError('these are no settings of a brush')
  for (const { kind, target, sha256 } of targets) {
    const { key, shaKey } = REFERENCE_KINDS[kind]
    data[key] = target
    data[shaKey] = sha256
  }
  return toUtf8(`${JSON.stringify(data, null, 2)}\n`)
}

/** Read settings, beside them as they came: whoever writes them again keeps their order. */
type Parsed = { raw: Record<string, unknown>; settings: v.InferOutput<typeof Settings> }

function parse(bytes: Uint8Array): Parsed | undefined {
  try {
    const raw = parseJson(new TextDecoder('utf-8', { fatal: true }).decode(bytes), 'settings') as Record<
      string,
      unknown
    >
    const result = v.safeParse(Settings, raw)
    return result.success ? { raw, settings: result.output } : undefined
  } catch {
    return undefined
  }
}

/** Where a reference leads, from the root down; undefined where it leads out of the folder. */
export function resolveTarget({ file, target }: Pick<Reference, 'file' | 'target'>, origin: PathOrigin) {
  const parts = origin === 'root' ? [] : file.split('/').slice(0, -1)
  for (const part of target.split('/')) {
    if (part === '..') {
      if (parts.pop() === undefined) return undefined
    } else if (part !== '.' && part !== '') parts.push(part)
  }
  return parts.join('/')
}

/** How settings at `file` name what lies at `path`; the inverse of `resolveTarget`. */
export function toTarget(file: string, path: string, origin: PathOrigin): string {
  if (origin === 'root') return path
  const from = file.split('/').slice(0, -1)
  const to = path.split('/')
  let shared = 0
  while (shared < from.length && shared < to.length - 1 && from[shared] === to[shared]) shared++
  return [...from.slice(shared).map(() => '..'), ...to.slice(shared)].join('/')
}
