import { SaxesParser, type SaxesTagPlain } from 'saxes'
import { FormatError, LimitError } from '../../errors.ts'
import { ANIMATION_PIXELS_MAX, checkPictureSize } from '../../limits.ts'
import type { Layer, LayerNode } from '../../raster/compose-layers.ts'
import type { PngReading } from '../png/read.ts'
import { fromUtf8OrLatin1 } from '../text.ts'
import { toByteSource, type ZipEntry } from '../zip/layout.ts'
import { listZip, readZipEntry, type ZipCodecs } from '../zip/read.ts'
import { LAYERS_MAX, NESTING_MAX, OPENRASTER, STACK_MAX_BYTES, toLayerOp } from './layout.ts'

/** A drawing of layers: topmost first, groups as they were. */
export type OpenRaster = { width: number; height: number; layers: LayerNode[]; warnings: string[] }

type Decode = (png: Uint8Array) => PngReading | Promise<PngReading>
/** A layer or a group as the list has it, before its picture is read. */
type Listed =
  | { kind: 'layer'; src: string; left: number; top: number; about: Omit<Layer, 'pixels' | 'left' | 'top' | 'kind'> }
  | { kind: 'group'; children: Listed[]; about: Omit<Layer, 'pixels' | 'left' | 'top' | 'kind'> }

/**
 * Reads an OpenRaster file: its layers with groups, offsets, opacity, visibility and operators.
 * @throws {FormatError} If the archive, the list of layers or a picture is malformed or missing.
 * @throws {LimitError} If it is larger than is taken, in whatever way.
 */
export async function readOpenRaster(
  bytes: Uint8Array,
  { decode, codecs }: { decode: Decode; codecs?: ZipCodecs },
): Promise<OpenRaster> {
  const source = toByteSource(bytes)
  const entries = await listZip(source)
  const entryOf = (path: string) => entries.find((entry) => entry.path === path)
  const stack = entryOf('stack.xml')
  if (!stack) throw new FormatError(OPENRASTER, undefined, 'a list of layers (stack.xml)')
  if (stack.sizeBytes > STACK_MAX_BYTES)
    throw new LimitError('the list of layers in bytes', stack.sizeBytes, STACK_MAX_BYTES)
  const read = (entry: ZipEntry) => readZipEntry(source, entry, codecs)
  const { width, height, children, warnings } = parseStack(fromUtf8OrLatin1(await read(stack)))
  checkPictureSize(width, height)
  const budget = { pixels: 0 }
  const load = async (listed: Listed): Promise<LayerNode> => {
    if (listed.kind === 'group')
      return { kind: 'group', ...listed.about, children: await inTurn(listed.children, load) }
    const entry = entryOf(listed.src)
    if (!entry) throw new FormatError(OPENRASTER, undefined, `the file of layer "${listed.about.name}" (${listed.src})`)
    const [frame] = (await decode(await read(entry))).frames
    if (!frame) throw new FormatError(OPENRASTER, undefined, `a picture in ${listed.src}`)
    budget.pixels += frame.pixels.width * frame.pixels.height
    if (budget.pixels > ANIMATION_PIXELS_MAX)
      throw new LimitError('the pixel count of all layers', budget.pixels, ANIMATION_PIXELS_MAX)
    return { kind: 'layer', ...listed.about, pixels: frame.pixels, left: listed.left, top: listed.top }
  }
  return { width, height, layers: await inTurn(children, load), warnings }
}

async function inTurn<From, To>(all: readonly From[], work: (each: From) => Promise<To>): Promise<To[]> {
  const out: To[] = []
  for (const each of all) out.push(await work(each))
  return out
}

type Stack = { width: number; height: number; children: Listed[]; warnings: string[] }

/** The list of layers. It may declare no types or entities of its own: a file of another's words is not trusted with them. */
function parseStack(xml: string): Stack {
  const parser = new SaxesParser()
  const stack: Stack = { width: 0, height: 0, children: [], warnings: [] }
  const open: Listed[][] = []
  let [seen, hasImage] = [0, false]
  const bad = (expected: string) => new FormatError(OPENRASTER, parser.position, expected)
  parser.on('doctype', () => {
    throw bad('a list of layers without types of its own')
  })
  parser.on('error', (error) => {
    throw new FormatError(OPENRASTER, parser.position, 'well-formed XML in its list of layers', { cause: error })
  })
  parser.on('opentag', (tag: SaxesTagPlain) => {
    const { name, attributes } = tag as { name: string; attributes: Record<string, string> }
    if (name === 'image') {
      hasImage = true
      stack.width = whole(attributes.w)
      stack.height = whole(attributes.h)
      if (!(stack.width > 0 && stack.height > 0)) throw bad('a width and a height of the picture')
      return
    }
    if (name !== 'stack' && name !== 'layer') return
    if (++seen > LAYERS_MAX) throw new LimitError('the number of layers', seen, LAYERS_MAX)
    // the outermost stack is the picture itself
    if (name === 'stack' && open.length === 0) {
      open.push(stack.children)
      return
    }
    const parent = open.at(-1)
    if (!parent || !hasImage) throw bad('layers inside a stack of an image')
    const about = aboutOf(attributes, stack.warnings)
    if (name === 'layer')
      parent.push({
        kind: 'layer',
        about,
        src: attributes.src ?? '',
        left: whole(attributes.x),
        top: whole(attributes.y),
      })
    else {
      if (open.length > NESTING_MAX) throw new LimitError('groups within groups', open.length, NESTING_MAX)
      const children: Listed[] = []
      parent.push({ kind: 'group', about, children })
      open.push(children)
    }
  })
  parser.on('closetag', ({ name }) => {
    if (name === 'stack') open.pop()
  })
  parser.write(xml).close()
  if (!hasImage) throw bad('an image')
  return stack
}

/** The largest offset that is believed, px. */
const OFFSET_MAX_PX = 1_000_000

const whole = (text: string | undefined): number => {
  const value = Math.round(Number(text ?? 0))
  return Math.abs(value) <= OFFSET_MAX_PX ? value : 0
}

function aboutOf(
  { name = '', opacity, visibility, 'composite-op': op = 'svg:src-over' }: Record<string, string>,
  warnings: string[],
) {
  const known = toLayerOp(op)
  if (!known) warnings.push(`Layer "${name}" is laid over the others: "${op}" is not known.`)
  const share = Number(opacity ?? 1)
  return {
    name,
    op: known ?? ('normal' as const),
    isHidden: visibility === 'hidden',
    opacity: Number.isFinite(share) ? Math.min(1, Math.max(0, share)) : 1,
  }
}
