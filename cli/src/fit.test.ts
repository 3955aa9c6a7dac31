import { execFileSync, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { readPng } from '@satchel/core/formats/png/read'
import { beforeAll, describe, expect, it } from 'vitest'

const satchel = fileURLToPath(new URL('../../satchel', import.meta.url))
const run = (...args: string[]) => spawnSync(satchel, args, { encoding: 'utf8' })

let folder = ''
const at = (name: string) => join(folder, name)

/** A picture from python3-pil, so that what we read was not written by us. */
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'cli-fit-'))
  const script = `
import sys
from PIL import Image, ImageDraw
im = Image.new('L', (131, 77), 255); d = ImageDraw.Draw(im)
d.polygon([(4, 40), (60, 3), (127, 30), (70, 74)], fill=20); d.ellipse((50, 25, 75, 50), fill=140)
im.save(sys.argv[1] + '/kite.png')`
  execFileSync('/usr/bin/python3', ['-c', script, folder])
  run('--version') // built and installed before anything is judged by what it says
}, 180_000)

describe('./satchel fit', () => {
  it('writes what a destination takes, says what arrives, and the stand-in finds and paints it', () => {
    const { stdout, stderr, status } = run('fit', at('kite.png'), '--to', 'shearwater', '--out', at('tablet'), '--json')
    expect([stderr, status]).toEqual(['', 0])
    const [row] = JSON.parse(stdout)
    expect(row).toMatchObject({ brush: 'kite', left: [], files: ['Brushes/kite.png', 'Brushes/kite.tune'] })
    expect(row.likeness).toBeGreaterThan(98)
    const picture = readPng(readFileSync(at('tablet/Brushes/kite.png'))).frames[0]?.pixels
    expect([picture?.width, picture?.height, picture?.data[0]]).toEqual([131, 131, 0])
    const found = run('stand-in', 'shearwater', at('tablet'), '--stroke', at('stroke.png'), '--json')
    expect([found.stderr, found.status]).toEqual(['', 0])
    expect(JSON.parse(found.stdout)).toMatchObject({ brushes: [{ name: 'kite', width: 131 }], ignored: [] })
    const stroke = readPng(readFileSync(at('stroke.png'))).frames[0]?.pixels
    expect(stroke?.data.some((value) => value < 128)).toBe(true)
  })

  it('a picture that is gone is said by the stand-in, which finds nothing then', () => {
    run('fit', at('kite.png'), '--to', 'sanderling', '--out', at('studio'), '--library', 'Kites')
    expect(existsSync(at('studio/Sanderling 5/Kites/Brushes/kite.png'))).toBe(true)
    rmSync(at('studio/Sanderling 5/Kites/Brushes/kite.png'))
    const { stdout, status } = run('stand-in', 'sanderling', at('studio'))
    expect(status).toBe(1)
    expect(stdout).toContain('"Sanderling 5/Kites/Brushes/kite.png" is not there')
  })

  it('takes a destination out of a file, and an answer of ones own', () => {
    const { stdout } = run('destinations', 'dunlin', '--json')
    const described = { ...JSON.parse(stdout), name: 'Redshank', standIn: undefined }
    writeFileSync(at('redshank.json'), JSON.stringify(described))
    const fit = run(
      'fit',
      at('kite.png'),
      '--to',
      at('redshank.json'),
      '--out',
      at('red'),
      '--way',
      'size=full',
      '--json',
    )
    expect([fit.stderr, fit.status]).toEqual(['', 0])
    expect(JSON.parse(fit.stdout)[0].files).toEqual(['Brushes/kite.gbr'])
    writeFileSync(at('wrong.json'), JSON.stringify({ ...described, pictures: { ...described.pictures, mostPx: 0 } }))
    const wrong = run('fit', at('kite.png'), '--to', at('wrong.json'), '--out', at('red'))
    expect(wrong.status).toBe(1)
    expect(wrong.stderr).toMatch(/wrong\.json: .*pictures\.mostPx/)
  })

  it('lists destinations, checks one that does not fit together, and prints its schema', () => {
    expect(run('destinations').stdout.split('\n').filter(Boolean)).toHaveLength(5)
    const { stdout } = run('destinations', 'dunlin', '--json')
    writeFileSync(at('odd.json'), JSON.stringify({ ...JSON.parse(stdout), grain: 'beside' }))
    const odd = run('destinations', at('odd.json'))
    expect([odd.status, odd.stderr]).toEqual([1, expect.stringContaining('nothing says to which brush it belongs')])
    expect(JSON.parse(run('destinations', '--schema').stdout)).toMatchObject({
      type: 'object',
      required: expect.arrayContaining(['pictures']),
    })
  })

  it('says what it does not understand', () => {
    for (const [args, sentence] of [
      [['fit', at('kite.png'), '--to', 'heron', '--out', at('x')], 'No destination is called "heron"'],
      [['fit', at('kite.png'), '--to', 'dunlin', '--out', at('x'), '--way', 'colour=red'], '--way takes one of'],
      [['stand-in', 'heron', folder], 'No stand-in is called "heron"'],
    ] as const) {
      const { status, stderr } = run(...args)
      expect([status, stderr]).toEqual([2, expect.stringContaining(sentence)])
    }
  })
})

describe('./satchel trace', () => {
  it('draws a tip as curves, and tells what other tolerances would cost', () => {
    const { stdout, stderr, status } = run('trace', at('kite.png'), '--out', at('kite.svg'), '--json')
    expect([stderr, status]).toEqual(['', 0])
    const told = JSON.parse(stdout)
    expect(told.overlap).toBeGreaterThan(0.96)
    expect(told.anchors).toBeLessThan(40)
    expect(readFileSync(at('kite.svg'), 'utf8')).toHaveLength(told.bytes)
    expect(readFileSync(at('kite.svg'), 'utf8')).toContain('fill="currentColor"')
    expect(told.others.at(-1).anchors).toBeLessThan(told.others[0].anchors)
    const coarse = JSON.parse(
      run('trace', at('kite.png'), '--out', at('coarse.svg'), '--tolerance', '4', '--json').stdout,
    )
    expect(coarse.anchors).toBeLessThan(told.anchors)
  })

  it('says where there is nothing to draw', () => {
    const { status, stderr } = run('trace', at('kite.png'), '--out', at('x.svg'), '--specks', '999999')
    expect([status, stderr]).toEqual([1, expect.stringContaining('nothing in it is large enough')])
  })
})
