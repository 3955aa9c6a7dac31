import { defaultRecipe, type FrameRule } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { type FoundBrush, readEach, Unusable } from './found.ts'

const MOST_PX = 4096
/** Its own words for how the next picture is picked. */
const PICKS: Record<string, FrameRule> = {
  incremental: 'inOrder', random: 'random', angular: 'direction', pressure: 'pressure', velocity: 'speed', xtilt: 'tiltX', ytilt: 'tiltY',
} // biome-ignore format: a table

type Stamp = { name: string; spacing: number; pixels: Pixels; end: number }

/** One picture of an open brush, read from its own header; whatever is odd about it makes the file useless to this app. */
function readStamp(bytes: Uint8Array, start: number): Stamp {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const field = (n: number): number => {
    if (start + 4 * n + 4 > bytes.length) throw new Unusable('it ends within its head')
    return view.getUint32(start + 4 * n)
  }
  const [head, version, width, height, depth] = [0, 1, 2, 3, 4].map(field)
  if (version !== 2 || field(5) !== 0x47494d50) throw new Unusable('it is no open brush of the second kind')
  if (depth !== 1 && depth !== 4) throw new Unusable('it is neither grey nor coloured')
  if (width < 1 || height < 1 || width > MOST_PX || height > MOST_PX)
    throw new Unusable(`its ${width} x ${height} px are not what this app takes`)
  const from = start + head
  const end = from + width * height * depth
  if (head < 29 || end > bytes.length) throw new Unusable('it ends within its picture')
  const name = new TextDecoder().decode(bytes.subarray(start + 28, from - 1))
  return { name, spacing: field(6), pixels: { width, height, channels: depth, data: bytes.slice(from, end) }, end }
}

function single(path: string, bytes: Uint8Array): FoundBrush {
  const { name, spacing, pixels, end } = readStamp(bytes, 0)
  if (end !== bytes.length) throw new Unusable('something follows its picture')
  return toFound(path, { name, spacing, frames: [pixels], rules: [{ rule: 'inOrder', frames: 1 }] })
}

function animated(path: string, bytes: Uint8Array): FoundBrush {
  const newline = (from: number) => {
    const at = bytes.indexOf(10, from)
    if (at < 0 || at > 8192) throw new Unusable('it has no two lines of text')
    return at
  }
  const [first, second] = [newline(0), newline(newline(0) + 1)]
  const text = new TextDecoder()
  const name = text.decode(bytes.subarray(0, first)).trim()
  const [count, ...pairs] = text
    .decode(bytes.subarray(first + 1, second))
    .trim()
    .split(/\s+/)
  const said = new Map(pairs.map((pair) => pair.split(':') as [string, string]))
  const frames: Pixels[] = []
  let at = second + 1
  for (let i = 0; i < Number(count); i++) {
    const stamp = readStamp(bytes, at)
    frames.push(stamp.pixels)
    at = stamp.end
  }
  if (frames.length === 0) throw new Unusable('it holds no picture')
  if (at !== bytes.length) throw new Unusable('it holds more than it counts')
  const rules = Array.from({ length: Number(said.get('dim') ?? 1) }, (_, d) => ({
    rule: PICKS[said.get(`sel${d}`) ?? ''] ?? 'inOrder',
    frames: Number(said.get(`rank${d}`) ?? 1),
  }))
  const fits = rules.reduce((all, { frames: rank }) => all * rank, 1) === frames.length
  return toFound(path, {
    name,
    frames,
    spacing: Number(said.get('step') ?? 20),
    rules: fits ? rules : [{ rule: 'inOrder', frames: frames.length }],
  })
}

type Read = { name: string; spacing: number; frames: Pixels[]; rules: { rule: FrameRule; frames: number }[] }

function toFound(path: string, { name, spacing, frames, rules }: Read): FoundBrush {
  const [{ channels }] = frames
  const sizePx = Math.max(...frames.flatMap(({ width, height }) => [width, height]))
  const recipe = defaultRecipe({ sizePx, reading: channels === 1 ? 'light' : 'own', frames: frames.length })
  recipe.path.spacingPct = Math.min(1000, Math.max(1, spacing))
  recipe.path.nextFrame = rules
  return { path, name, frames, grain: undefined, recipe, files: [path] }
}

/** Dunlin: scans its folder for open brushes, single and animated, and paints them as large as they are. */
export const readDunlin = readEach(['gbr', 'gih'], async (path, bytes) =>
  path.toLowerCase().endsWith('.gih') ? animated(path, bytes) : single(path, bytes),
)
