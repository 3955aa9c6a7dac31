import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FormatError, LimitError } from '../../errors.ts'
import { composeLayers, flatLayers, layerAlone } from '../../raster/compose-layers.ts'
import type { Pixels } from '../../raster/pixels.ts'
import { readPng } from '../png/read.ts'
import { writePng } from '../png/write.ts'
import { toUtf8 } from '../text.ts'
import { ZipWriter } from '../zip/write.ts'
import { looksLikeOpenRaster } from './layout.ts'
import { readOpenRaster } from './read.ts'
import { writeOpenRaster } from './write.ts'

const blob = (width: number, height: number, [r, g, b]: readonly number[], seed: number): Pixels => {
  const data = new Uint8Array(width * height * 4)
  for (let i = 0; i < width * height; i++) data.set([r, (g + i * 3) % 256, b, (i * seed) % 256], 4 * i)
  return { width, height, channels: 4, data }
}
const red = blob(40, 30, [220, 10, 20], 7)
const blue = blob(25, 33, [10, 90, 200], 11)

function zip(stack: string, pictures: Record<string, Uint8Array> = {}): Uint8Array {
  const parts: Uint8Array[] = []
  const writer = new ZipWriter()
  const files: [string, Uint8Array][] = [
    ['mimetype', toUtf8('image/openraster')],
    ['stack.xml', toUtf8(stack)],
    ...Object.entries(pictures),
  ]
  for (const [path, bytes] of files) parts.push(...writer.add(path, bytes, 'store'))
  parts.push(...writer.finish())
  return Uint8Array.from(parts.flatMap((part) => [...part]))
}
const read = (bytes: Uint8Array) => readOpenRaster(bytes, { decode: readPng })

const STACK = `<?xml version="1.0" encoding="UTF-8"?>
<image version="0.0.3" w="50" h="44" xres="72" yres="72"><stack>
  <layer name="Notes" src="data/red.png" x="3" y="4" visibility="hidden"/>
  <stack name="Wing" opacity="0.5"><layer name="Blue" src="data/blue.png" x="-5" y="6" opacity="0.8"/></stack>
  <layer name="Red" src="data/red.png" x="8" y="12"/>
</stack></image>`
const FILES = { 'data/red.png': writePng(red), 'data/blue.png': writePng(blue) }

describe('OpenRaster', () => {
  it('has its layers with groups, offsets, opacity and what is hidden, topmost first', async () => {
    const bytes = zip(STACK, FILES)
    expect(looksLikeOpenRaster(bytes)).toBe(true)
    const { width, height, layers, warnings } = await read(bytes)
    expect([width, height, warnings]).toEqual([50, 44, []])
    const flat = flatLayers(layers)
    expect(flat.map(({ layer, within, isHidden }) => [layer.name, within, isHidden])).toEqual([
      ['Notes', [], true],
      ['Blue', ['Wing'], false],
      ['Red', [], false],
    ])
    expect(flat[1].layer).toMatchObject({ left: -5, top: 6, opacity: 0.8, op: 'normal' })
  })

  it('is composed as python3-pil composes it, within one level', async () => {
    const { layers, width, height } = await read(zip(STACK, FILES))
    const ours = composeLayers(layers, width, height)
    const folder = mkdtempSync(join(tmpdir(), 'ora-'))
    for (const [name, bytes] of Object.entries(FILES)) writeFileSync(join(folder, name.slice(5)), bytes)
    // a group is composed by itself, then laid on with its own opacity
    const script = `
from PIL import Image
import sys
def faded(im, share):
    r, g, b, a = im.split()
    return Image.merge('RGBA', (r, g, b, a.point(lambda v: round(v * share))))
def placed(name, x, y):
    out = Image.new('RGBA', (50, 44))
    out.paste(Image.open(sys.argv[1] + '/' + name).convert('RGBA'), (x, y))
    return out
out = placed('red.png', 8, 12)
out = Image.alpha_composite(out, faded(faded(placed('blue.png', -5, 6), 0.8), 0.5))
sys.stdout.write(out.tobytes().hex())
`
    const hex = execFileSync('/usr/bin/python3', ['-c', script, folder], { encoding: 'utf8' }).trim()
    rmSync(folder, { recursive: true })
    let worst = 0
    for (let i = 0; i < ours.data.length; i++) {
      const alpha = ours.data[i | 3]
      // colours of what is hardly there mean nothing: they count by their alpha
      const theirs = Number.parseInt(hex.slice(2 * i, 2 * i + 2), 16)
      const weight = (i & 3) === 3 ? 1 : alpha / 255
      worst = Math.max(worst, Math.abs(theirs - ours.data[i]) * weight)
    }
    expect(worst).toBeLessThanOrEqual(1)
  })

  it.each([
    // one channel of both colours, both opaque: worked formulas of W3C Compositing and Blending Level 1
    ['svg:multiply', 100, 200, Math.round((100 * 200) / 255)],
    ['svg:screen', 100, 200, Math.round(100 + 200 - (100 * 200) / 255)],
    ['svg:difference', 100, 200, 100],
    ['svg:plus', 100, 200, 255],
    ['svg:src-over', 100, 200, 200],
  ])('lays a layer on by %s', async (op, below, above, wanted) => {
    const even = (level: number) => writePng({ width: 1, height: 1, channels: 1, data: Uint8Array.of(level) })
    const stack = `<image w="1" h="1"><stack><layer name="a" src="a.png" composite-op="${op}"/><layer name="b" src="b.png"/></stack></image>`
    const { layers } = await read(zip(stack, { 'a.png': even(above), 'b.png': even(below) }))
    expect(composeLayers(layers, 1, 1).data[0]).toBe(wanted)
  })

  it('is written as it is read, whatever its layers are called', () => {
    const text = fc
      .string({ unit: 'grapheme', maxLength: 12 })
      .map((name) => name.replaceAll(/[\p{Cc}\ufffe\uffff]/gu, ''))
    const layer = fc.record({
      name: text,
      op: fc.constantFrom('normal' as const, 'multiply' as const, 'plus' as const),
      opacity: fc.constantFrom(1, 0.5, 0.125),
      isHidden: fc.boolean(),
      left: fc.integer({ min: -50, max: 50 }),
      top: fc.integer({ min: -50, max: 50 }),
    })
    return fc.assert(
      fc.asyncProperty(fc.array(layer, { minLength: 1, maxLength: 4 }), async (abouts) => {
        const layers = abouts.map((about) => ({ kind: 'layer' as const, ...about, pixels: red }))
        const bytes = writeOpenRaster({ width: 50, height: 44, layers }, { encode: writePng })
        const again = await read(bytes)
        expect(again).toEqual({ width: 50, height: 44, layers, warnings: [] })
      }),
      { numRuns: 40 },
    )
  })

  it('has the merged picture that other readers show (python3-pil, unzip)', () => {
    const folder = mkdtempSync(join(tmpdir(), 'ora-'))
    const layers = [
      {
        kind: 'layer' as const,
        name: 'a & <b>',
        op: 'normal' as const,
        opacity: 1,
        isHidden: false,
        left: 5,
        top: 7,
        pixels: blue,
      },
    ]
    writeFileSync(join(folder, 'x.ora'), writeOpenRaster({ width: 50, height: 44, layers }, { encode: writePng }))
    execFileSync('unzip', ['-q', 'x.ora'], { cwd: folder })
    const script = `from PIL import Image
m, t = Image.open('mergedimage.png'), Image.open('Thumbnails/thumbnail.png')
print(m.size, t.size, m.crop((5, 7, 30, 40)).split()[3].tobytes() == Image.open('data/layer1.png').split()[3].tobytes())`
    const said = execFileSync('/usr/bin/python3', ['-c', script], { cwd: folder, encoding: 'utf8' }).trim()
    rmSync(folder, { recursive: true })
    expect(said).toBe('(50, 44) (50, 44) True')
  })

  it('is composed in bands of rows, and none of them is seen', () => {
    const [width, height] = [40, 60_000] // three bands
    const tall: Pixels = {
      width: 7,
      height,
      channels: 1,
      data: Uint8Array.from({ length: 7 * height }, (_, i) => i % 251),
    }
    const one = { kind: 'layer' as const, name: '', op: 'normal' as const, opacity: 1, isHidden: false }
    const group = { ...one, kind: 'group' as const, children: [{ ...one, pixels: tall, left: 3, top: 5 }] }
    const { data } = composeLayers([group], width, height)
    for (let y = 0; y < height; y += 997)
      for (const x of [2, 3, 9, 10]) {
        const isIn = x >= 3 && x < 10 && y >= 5
        const grey = tall.data[(y - 5) * 7 + x - 3]
        expect([...data.subarray(4 * (y * width + x), 4 * (y * width + x) + 4)]).toEqual(
          isIn ? [grey, grey, grey, 255] : [0, 0, 0, 0],
        )
      }
  })

  it('shows a layer alone, even one that is hidden', async () => {
    const { layers } = await read(zip(STACK, FILES))
    const alone = layerAlone(layers[0], 50, 44)
    expect(alone.data[4 * (4 * 50 + 3) + 3]).toBe(red.data[3])
    expect(alone.data[4 * (5 * 50 + 9) + 3]).toBe(red.data[4 * (1 * 40 + 6) + 3])
  })

  it('lays a layer of an unknown kind over the others, and says so', async () => {
    const { warnings } = await read(zip(STACK.replace('name="Red"', 'name="Red" composite-op="own:glow"'), FILES))
    expect(warnings).toEqual(['Layer "Red" is laid over the others: "own:glow" is not known.'])
  })

  it.each([
    ['without a list of layers', '', {}, 'well-formed XML'],
    ['whose layer has no file', STACK, { 'data/red.png': FILES['data/red.png'] }, 'the file of layer "Blue"'],
    ['whose layer is no picture', STACK, { ...FILES, 'data/blue.png': toUtf8('no picture') }, 'PNG'],
    ['with types of its own', `<!DOCTYPE image [<!ENTITY a "b">]>${STACK.slice(39)}`, FILES, 'without types'],
    ['cut off', STACK.slice(0, 200), FILES, 'well-formed XML'],
    ['without a size', '<image><stack/></image>', FILES, 'a width and a height'],
    ['of layers outside of everything', '<layer src="data/red.png"/>', FILES, 'layers inside a stack'],
  ])('%s is refused', async (_what, stack, files, sentence) => {
    await expect(read(zip(stack, files))).rejects.toThrow(sentence)
    await expect(read(zip(stack, files))).rejects.toThrow(FormatError)
  })

  it.each([
    ['a picture larger than any', '<image w="20000" h="20"><stack/></image>'],
    [
      'more layers than any drawing has',
      `<image w="9" h="9"><stack>${'<layer name="a" src="data/red.png"/>'.repeat(1001)}</stack></image>`,
    ],
    ['groups in groups in groups', `<image w="9" h="9">${'<stack>'.repeat(40)}${'</stack>'.repeat(40)}</image>`],
  ])('with %s is refused', async (_what, stack) => {
    await expect(read(zip(stack, FILES))).rejects.toThrow(LimitError)
  })
})
