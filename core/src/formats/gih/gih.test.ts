import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { sniffKind } from '../../brush-file/kinds.ts'
import { FormatError } from '../../errors.ts'
import { anyPixels, roundTip } from '../../testing.ts'
import { joinBytes } from '../bytes.ts'
import type { Gbr } from '../gbr/layout.ts'
import { writeGbr } from '../gbr/write.ts'
import { fromUtf8, toUtf8 } from '../text.ts'
import { type Gih, type GihRule, LINE_MAX_BYTES } from './layout.ts'
import { readGih } from './read.ts'
import { writeGih } from './write.ts'

const frame = (side: number): Gbr => ({ version: 2, name: `f${side}`, spacingPct: 30, ...roundTip(side) })
const brush: Gih = {
  name: 'Kelp',
  spacingPct: 30,
  dimensions: [
    { rank: 2, rule: 'direction' },
    { rank: 3, rule: 'random' },
  ],
  frames: [5, 6, 7, 5, 6, 7].map(frame),
  extra: [['mood', 'wet']],
}
const headOf = (bytes: Uint8Array) => fromUtf8(bytes.subarray(0, bytes.indexOf(10, bytes.indexOf(10) + 1)), 'test', 0)

describe('GIH', () => {
  it('reads back what it wrote: frames of any size, rules, unknown keys', () => {
    fc.assert(
      fc.property(
        fc.array(anyPixels(6), { minLength: 1, maxLength: 5 }),
        fc.constantFrom<GihRule>('inOrder', 'speed', 'tiltX'),
        (pictures, rule) => {
          const frames = pictures.map((pixels): Gbr => ({ version: 2, name: 'n', spacingPct: 44, ...pixels }))
          const gih: Gih = {
            name: 'n',
            spacingPct: 44,
            dimensions: [{ rank: frames.length, rule }],
            frames,
            extra: [['k', 'v:w']],
          }
          expect(readGih(writeGih(gih))).toEqual({ brush: gih, warnings: [] })
        },
      ),
    )
  })

  it('writes counts that come from the frames themselves', () => {
    expect(headOf(writeGih(brush))).toBe(
      'Kelp\n6 ncells:6 cellwidth:7 cellheight:7 step:30 dim:2 cols:1 rows:1 placement:constant rank0:2 sel0:angular rank1:3 sel1:random mood:wet',
    )
  })

  it('takes CRLF, and puts a wrong ncells and wrong ranks right with a word about it', () => {
    const text = toUtf8('Odd\r\n2 ncells:9 dim:1 rank0:5 sel0:sideways\r\n')
    const { brush: back, warnings } = readGih(joinBytes([text, writeGbr(frame(3)), writeGbr(frame(4))]))
    expect(back.frames.length).toBe(2)
    expect(back.dimensions).toEqual([{ rank: 2, rule: 'inOrder' }])
    expect(warnings).toEqual([
      'The file says ncells:9 but holds 2 frames; the frames count.',
      'The rule "sideways" is not known; the frames come in order.',
      'The ranks make 5 frames but the file holds 2; they are taken as one row.',
    ])
  })

  it.each([
    ['0 ncells:0', 'at least one frame'],
    ['two ncells:2', 'a frame count'],
    ['2x ncells:2', 'a frame count'],
    ['1 ncells', 'key:value pairs, found "ncells"'],
    ['1 :1', 'key:value pairs, found ":1"'],
    [`1 ${'x'.repeat(60)}`, `found "${'x'.repeat(40)}"`],
    ['1 dim:0', 'dim from 1 to 4'],
    ['1 dim:1.5', 'dim from 1 to 4'],
    ['1 dim:5', 'dim from 1 to 4'],
    ['1 dim:x', 'dim from 1 to 4'],
    ['1 rank0:0', 'rank0 from 1 to 256'],
    ['1 rank0:1.5', 'rank0 from 1 to 256'],
    ['1 rank0:257', 'rank0 from 1 to 256'],
    ['1 dim:2 rank0:1 rank1:-1', 'rank1 from 1 to 256'],
  ])('refuses the second line "%s"', (line, sentence) => {
    expect(() => readGih(joinBytes([toUtf8(`x\n${line}\n`), writeGbr(frame(3))]))).toThrow(sentence)
  })

  it('takes as many dimensions, ranks and frames as there may be, and lines as long as they may be', () => {
    const of = (head: string, count: number) =>
      readGih(joinBytes([toUtf8(head), ...Array.from({ length: count }, () => writeGbr(frame(1)))]))
    expect(of('x\n1 dim:4\n', 1).brush.dimensions).toHaveLength(4)
    expect(of('x\n256 rank0:256\n', 256)).toMatchObject({ brush: { dimensions: [{ rank: 256 }] }, warnings: [] })
    expect(of(' Reed \r\n  1 k:v  \r\n', 1).brush).toMatchObject({ name: 'Reed', extra: [['k', 'v']] })
    expect(of('\n1\n', 1).brush.name).toBe('')
    expect(of(`${'n'.repeat(LINE_MAX_BYTES)}\n1\n`, 1).brush.name).toHaveLength(LINE_MAX_BYTES)
    expect(() => of(`${'n'.repeat(LINE_MAX_BYTES + 1)}\n1\n`, 1)).toThrow('a line of text')
    expect(() => of('x\n1\n', 2)).toThrow(/the end after 1 frames, found \d+ more bytes/)
  })

  it('takes the spacing of the first frame where the file states none, and says so where it is nonsense', () => {
    const of = (line: string) => readGih(joinBytes([toUtf8(`x\n1 ${line}\n`), writeGbr(frame(3))]))
    expect(of('step:12.5')).toMatchObject({ brush: { spacingPct: 12.5 }, warnings: [] })
    expect(of('k:v')).toMatchObject({ brush: { spacingPct: 30 }, warnings: [] })
    for (const step of ['0', '-1', '1e30', '10001', 'x'.repeat(60)])
      expect(of(`step:${step}`)).toMatchObject({
        brush: { spacingPct: 30 },
        warnings: [`The spacing "${step.slice(0, 40)}" is none; that of the first frame counts, 30 %.`],
      })
    expect(of(`sel0:${'y'.repeat(60)}`).warnings).toEqual([
      `The rule "${'y'.repeat(40)}" is not known; the frames come in order.`,
    ])
  })

  it.each([
    ['cellwidth:-3', 'The file says cellwidth:-3 but its largest frame has 3 px; the frames count.'],
    ['cellheight:4', 'The file says cellheight:4 but its largest frame has 3 px; the frames count.'],
    ['k:a k:b', 'The file says k twice, "a" and "b"; the first counts.'],
    ['step:30 step:40', 'The file says step twice, "30" and "40"; the first counts.'],
  ])('says what it took instead: %s', (line, sentence) => {
    expect(readGih(joinBytes([toUtf8(`x\n1 ${line}\n`), writeGbr(frame(3))])).warnings).toEqual([sentence])
  })

  it('says that frames of version 1 have no spacing, and what hides behind their names', () => {
    const old = joinBytes([
      Uint8Array.of(0, 0, 0, 26, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1),
      toUtf8('ab\0cd\0'),
      Uint8Array.of(9),
    ])
    const { brush: back, warnings } = readGih(joinBytes([toUtf8('x\n2\n'), writeGbr(frame(1)), old]))
    expect(back.frames.map(({ name }) => name)).toEqual(['f1', 'ab'])
    expect(warnings).toEqual([
      'Frame 2: Its name holds a NUL; what stands before it counts, and 3 bytes were left out.',
      '1 of its 2 frames is of version 1, which has no spacing; the usual 10 % was taken.',
    ])
  })

  it('takes no more pixels than all frames may have together', () => {
    const large = writeGbr({
      version: 2,
      name: '',
      spacingPct: 10,
      width: 8000,
      height: 5001,
      channels: 1,
      data: new Uint8Array(8000 * 5001),
    })
    expect(() => readGih(joinBytes([toUtf8('x\n2\n'), large, large]))).toThrow('the pixel count of all frames')
  })

  it('refuses every truncation, and a count that the frames do not reach', () => {
    const bytes = writeGih(brush)
    for (let length = 0; length < bytes.length; length += 3) {
      expect(() => readGih(bytes.subarray(0, length)), `${length} bytes`).toThrow(FormatError)
    }
    const short = joinBytes([toUtf8('x\n3 ncells:3\n'), writeGbr(frame(3)), writeGbr(frame(3))])
    expect(() => readGih(short)).toThrow('expected 3 frames as line 2 says, found 2')
    expect(() => readGih(toUtf8('x\n999 ncells:999\n'))).toThrow(
      'Too large: the frame count is 999, at most 256 is taken',
    )
    expect(() => writeGih({ ...brush, frames: brush.frames.slice(1) })).toThrow('ranks that make 5 frames, got 6')
  })

  it('holds GBRs that python3-pil reads, cut out by their own header lengths', () => {
    const path = join(mkdtempSync(join(tmpdir(), 'gih-')), 'tip.gih')
    writeFileSync(path, writeGih(brush))
    const script = `
import sys, io, struct
from PIL import Image
data = open(sys.argv[1], 'rb').read()
at = data.index(b'\\n', data.index(b'\\n') + 1) + 1
while at < len(data):
    head, _, w, h, depth = struct.unpack('>5I', data[at:at+20])
    size = head + w * h * depth
    im = Image.open(io.BytesIO(data[at:at+size]))
    print(im.size[0], im.tobytes().hex())
    at += size`
    const lines = execFileSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8' }).trim().split('\n')
    expect(lines).toEqual(brush.frames.map((f) => `${f.width} ${Buffer.from(f.data).toString('hex')}`))
  })

  it('is recognised by its content', () => {
    expect(sniffKind(writeGih(brush))).toBe('gih')
    expect(sniffKind(toUtf8('shopping\n3 apples\n'))).toBe('foreign')
  })
})
