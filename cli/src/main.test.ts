import { execFileSync, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { readGbr } from '@satchel/core/formats/gbr/read'
import { readGih } from '@satchel/core/formats/gih/read'
import { readPng } from '@satchel/core/formats/png/read'
import { beforeAll, describe, expect, it } from 'vitest'

const satchel = fileURLToPath(new URL('../../satchel', import.meta.url))
const run = (...args: string[]) => spawnSync(satchel, args, { encoding: 'utf8' })
const sha = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')

let folder = ''
const at = (name: string) => join(folder, name)

/** Pictures from python3-pil, so that what we read was not written by us. */
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'cli-'))
  const script = `
import sys
from PIL import Image
g = Image.new('L', (7, 5)); g.putdata([(x * 7) % 256 for x in range(35)]); g.save(sys.argv[1] + '/grey.png')
c = Image.new('RGBA', (4, 6)); c.putdata([(x * 9, 255 - x, x, x * 10) for x in range(24)]); c.save(sys.argv[1] + '/colour.png')
frames = [Image.new('L', (6, 6), 40 * k) for k in range(3)]
frames[0].save(sys.argv[1] + '/anim.png', save_all=True, append_images=frames[1:], duration=100)`
  execFileSync('/usr/bin/python3', ['-c', script, folder])
}, 60_000)

describe('./satchel', () => {
  it('tells what files are, as JSON with the names of their raw pixels', () => {
    const { stdout, status } = run('inspect', '--json', at('grey.png'))
    const grey = Uint8Array.from({ length: 35 }, (_, x) => (x * 7) % 256)
    expect(status).toBe(0)
    expect(JSON.parse(stdout)).toEqual({
      file: at('grey.png'),
      kind: 'png',
      width: 7,
      height: 5,
      frames: [{ width: 7, height: 5, sha256: sha(grey) }],
      warnings: [],
    })
  })

  it('says why a file is none, and exits 1', () => {
    writeFileSync(at('cut.png'), readFileSync(at('grey.png')).subarray(0, 60))
    writeFileSync(at('note.txt'), 'no brush at all')
    const { stdout, status } = run('inspect', '--json', at('cut.png'), at('note.txt'), at('gone.png'))
    expect(status).toBe(1)
    const [cut, note, gone] = JSON.parse(stdout)
    expect(cut.error).toContain('the file is cut short')
    expect(note.error).toContain('expected PNG, GBR, GIH or ZIP')
    expect(gone.error).toContain('could not be opened')
  })

  it('converts grey PNG to a mask and back without loss: black on paper is full paint', () => {
    expect(run('convert', at('grey.png'), at('grey.gbr'), '--spacing', '33', '--name', 'Reed').status).toBe(0)
    const gbr = readGbr(new Uint8Array(readFileSync(at('grey.gbr'))))
    expect([gbr.name, gbr.spacingPct, gbr.channels]).toEqual(['Reed', 33, 1])
    expect([...gbr.data.slice(0, 3)]).toEqual([255, 248, 241])
    expect(run('convert', at('grey.gbr'), at('again.png')).status).toBe(0)
    const back = readPng(new Uint8Array(readFileSync(at('again.png')))).frames[0]?.pixels
    expect(back).toEqual(readPng(new Uint8Array(readFileSync(at('grey.png')))).frames[0]?.pixels)
  })

  it('keeps colours in a colour brush, and takes the reading that is asked for', () => {
    run('convert', at('colour.png'), at('colour.gbr'))
    const pixels = readPng(new Uint8Array(readFileSync(at('colour.png')))).frames[0]?.pixels
    expect(readGbr(new Uint8Array(readFileSync(at('colour.gbr')))).data).toEqual(pixels?.data)
    run('convert', at('colour.png'), at('alpha.gbr'), '--reading', 'alpha')
    const mask = readGbr(new Uint8Array(readFileSync(at('alpha.gbr'))))
    expect([...mask.data]).toEqual(Array.from({ length: 24 }, (_, x) => x * 10))
  })

  it('carries frames and rule between APNG and GIH, and says what GBR leaves behind', () => {
    expect(run('convert', at('anim.png'), at('anim.gih'), '--rule', 'random').status).toBe(0)
    const { brush } = readGih(new Uint8Array(readFileSync(at('anim.gih'))))
    expect(brush.dimensions).toEqual([{ rank: 3, rule: 'random' }])
    expect(brush.frames.map((frame) => frame.data[0])).toEqual([255, 215, 175])
    run('convert', at('anim.gih'), at('back.apng'))
    expect(readPng(new Uint8Array(readFileSync(at('back.apng')))).frames.map((frame) => frame.pixels.data[0])).toEqual([
      0, 40, 80,
    ])
    const single = run('convert', at('anim.gih'), at('one.gbr'))
    expect(single.stderr).toContain('GBR holds one picture: 2 frames were left behind')
  })

  it('paints a path with a brush file: the same words give the same pixels, every option changes them', () => {
    run('convert', at('grey.png'), at('reed.gbr'), '--spacing', '90')
    writeFileSync(
      at('path.json'),
      JSON.stringify([
        { x: 10, y: 20 },
        { x: 90, y: 20, pressure: 0.5, ms: 80 },
      ]),
    )
    const paint = (out: string, ...more: string[]) => {
      const { status, stderr } = run(
        'stroke',
        at('reed.gbr'),
        '--path',
        at('path.json'),
        '--size',
        '100x40',
        '--out',
        at(out),
        ...more,
      )
      expect(stderr).toBe('')
      expect(status).toBe(0)
      return readPng(new Uint8Array(readFileSync(at(out)))).frames[0]?.pixels
    }
    const first = paint('s1.png', '--colour', '#205080')
    expect([first?.width, first?.height, first?.channels]).toEqual([100, 40, 4])
    expect(paint('s2.png', '--colour', '#205080')).toEqual(first)
    // stamps every 90 % of 7 px from x = 10: the chosen colour where they lie, clear beside them
    const pixel = (x: number, y: number) => [...(first?.data.subarray((y * 100 + x) * 4, (y * 100 + x) * 4 + 4) ?? [])]
    expect(pixel(10, 18).slice(0, 3)).toEqual([0x20, 0x50, 0x80])
    expect(pixel(10, 2)).toEqual([0, 0, 0, 0])
    const onPaper = paint('s3.png', '--colour', '#205080', '--ground', '#ffffff')
    expect(onPaper?.data[3]).toBe(255)
    expect(paint('s4.png', '--colour', '#802050')).not.toEqual(first)
  })

  it.each([
    [['stroke', 'grey.png'], 'stroke needs --out'],
    [['stroke', 'grey.png', '--out', 'x.png', '--colour', 'blue'], '--colour takes a colour like #26415c, not "blue"'],
    [
      ['stroke', 'grey.png', '--out', 'x.png', '--size', '9'],
      '--size takes a width and a height like 1200x800, not "9"',
    ],
    [['stroke', 'grey.png', '--out', 'x.png', '--seed', '-1'], '--seed'],
    [['convert', 'a.png'], 'convert needs two files'],
    [['convert', 'grey.png', 'x.gbr', '--spacing', 'lots'], '--spacing takes a percentage from 1 to 1000, not "lots"'],
    [
      ['convert', 'grey.png', 'x.gbr', '--reading', 'loud'],
      '--reading takes one of dark, light, alpha, own, tone, not "loud"',
    ],
    [['convert', 'grey.png', 'x.bmp'], 'an extension of png, apng, gbr or gih, found ".bmp"'],
    [['dance'], 'There is no command "dance"'],
  ])('answers %j with one sentence', (args, sentence) => {
    const { stderr, status } = run(...args.map((arg) => (arg === 'grey.png' ? at(arg) : arg)))
    expect(stderr).toContain(sentence)
    expect(status).not.toBe(0)
  })
})
