import type { FrameRule } from '@satchel/core/brush/recipe'
import type { BrushFile } from '@satchel/core/brush-file/brush-file'
import { type BrushFileKind, HEAD_BYTES, readBrushFile, sniffKind } from '@satchel/core/brush-file/kinds'
import { LimitError } from '@satchel/core/errors'
import { readPng } from '@satchel/core/formats/png/read'
import type { ByteSource } from '@satchel/core/formats/zip/layout'
import { listZip } from '@satchel/core/formats/zip/read'
import { ENTRY_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import { isSatchelPack, openPack } from '@satchel/core/pack/read'
import { nodeHashBytes, nodeZipCodecs } from '@satchel/node/hash'
import { shownName, withSource } from './files.ts'
import { EXIT, FileProblem } from './problems.ts'
import { say, sayJson } from './say.ts'

/** What a file is, as `inspect` tells it. */
export type Inspection = {
  kind: string
  name?: string
  maker?: string
  licence?: string
  width?: number
  height?: number
  spacing?: number
  /** Each frame's size and channels, and the SHA-256 of its samples. */
  frames?: { width: number; height: number; channels: number; sha256: string; name?: string; ms?: number }[]
  rules?: FrameRule[]
  ranks?: number[]
  /** What it holds besides, in sentences. */
  facts: string[]
  /** What was odd and put right, in sentences. */
  warnings: string[]
}
type Told = { file: string } & (Inspection | { error: string })

/** Prints what each file is. @returns The exit code: 1 when any could not be read. */
export async function inspect(files: readonly string[], { json }: { json: boolean }): Promise<number> {
  const told: Told[] = []
  for (const file of files) told.push({ file: shownName(file), ...(await tell(file)) })
  if (json) sayJson(told)
  else for (const each of told) for (const line of toLines(each)) say(line)
  return told.some((each) => 'error' in each) ? EXIT.bad : EXIT.done
}

async function tell(file: string): Promise<Inspection | { error: string }> {
  try {
    return await withSource(file, inspectSource)
  } catch (error) {
    if (error instanceof FileProblem) return { error: error.reason }
    throw error
  }
}

async function inspectSource(source: ByteSource): Promise<Inspection> {
  const kind = sniffKind(await source.read(0, Math.min(HEAD_BYTES, source.size)))
  if (kind === 'zip') return inspectArchive(source)
  if (source.size > ENTRY_MEMORY_MAX_BYTES)
    throw new LimitError('its size in bytes', source.size, ENTRY_MEMORY_MAX_BYTES)
  return describe(await readBrushFile(await source.read(0, source.size), { png: readPng }))
}

async function inspectArchive(source: ByteSource): Promise<Inspection> {
  const entries = await listZip(source)
  if (!isSatchelPack(entries)) return { kind: 'zip', facts: [`It holds ${entries.length} files.`], warnings: [] }
  const { manifest } = await openPack(source, nodeZipCodecs, entries)
  const { title, maker, licence, brushes, sets } = manifest
  const facts = [`It holds ${brushes.length} brushes in ${sets.length} sets; ./satchel list names them.`]
  return { kind: 'satchel-pack', name: title, ...stated({ maker, licence }), facts, warnings: [] }
}

function describe(file: BrushFile & { kind: BrushFileKind }): Inspection {
  const { kind, name, maker, licence, frames, spacingPct, dimensions, keys, texts, pixelsPerMetre, warnings } = file
  const plays = frames.some(({ delayMs }) => delayMs !== undefined)
  const facts = [
    ...(keys.length > 0 ? [`It says besides ${keys.map((pair) => pair.join(':')).join(' ')}.`] : []),
    ...Object.entries(texts).map(([keyword, text]) => `${keyword}: ${text}`),
    ...(pixelsPerMetre ? [`It is meant for ${Math.round(pixelsPerMetre * 0.0254)} dpi.`] : []),
  ]
  return {
    kind: plays ? `a${kind}` : kind,
    ...stated({ name, maker, licence }),
    width: Math.max(...frames.map(({ pixels }) => pixels.width)),
    height: Math.max(...frames.map(({ pixels }) => pixels.height)),
    ...(spacingPct === undefined ? {} : { spacing: spacingPct }),
    frames: frames.map(({ pixels: { width, height, channels, data }, name, delayMs }) => ({
      width,
      height,
      channels,
      sha256: nodeHashBytes(data),
      ...stated({ name }),
      ...(delayMs === undefined ? {} : { ms: delayMs }),
    })),
    ...(dimensions ? { rules: dimensions.map(({ rule }) => rule), ranks: dimensions.map(({ rank }) => rank) } : {}),
    facts,
    warnings,
  }
}

/** The texts that say something. */
function stated<Key extends string>(texts: Record<Key, string | undefined>): Partial<Record<Key, string>> {
  return Object.fromEntries(Object.entries(texts).filter(([, text]) => text)) as Partial<Record<Key, string>>
}

function toLines(each: Told): string[] {
  if ('error' in each) return [`${each.file}: ${each.error}`]
  const { kind, name, maker, licence, width, height, spacing, frames = [], rules = [], facts, warnings } = each
  const parts = [
    kind,
    name && `"${name}"`,
    maker && `by ${maker}`,
    licence,
    width && `${width} x ${height} px`,
    frames.length > 1 && `${frames.length} frames`,
    rules.length > 0 && `next frame ${rules.join(', ')}`,
    spacing && `spacing ${spacing} %`,
  ]
  const more = [...facts, ...warnings.map((warning) => `Odd: ${warning}`)]
  return [`${each.file}: ${parts.filter(Boolean).join(', ')}`, ...more.map((line) => `  ${line}`)]
}
