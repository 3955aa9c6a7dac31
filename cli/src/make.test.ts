import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { readPng } from '@satchel/core/formats/png/read'
import { sphere, toBinaryStl } from '@satchel/core/mesh/testing'
import sharp from 'sharp'
import { beforeAll, describe, expect, it } from 'vitest'

const satchel = fileURLToPath(new URL('../../satchel', import.meta.url))
const run = (...args: string[]) => spawnSync(satchel, args, { encoding: 'utf8' })

let folder = ''
const at = (name: string) => join(folder, name)
const picture = (name: string) => readPng(readFileSync(at(name))).frames[0]?.pixels

/** Pictures from python3-pil, so that what we read was not written by us. */
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'cli-make-'))
  const script = `
import sys
from PIL import Image, ImageDraw, ImageFilter
def photo(shapes, size=(640, 420), ground=(226, 221, 210)):
    im = Image.new('RGB', size, ground); d = ImageDraw.Draw(im)
    for box in shapes: d.ellipse(box, fill=(52, 46, 44))
    return im.filter(ImageFilter.GaussianBlur(0.6))
photo([(200, 100, 400, 300)]).save(sys.argv[1] + '/one.jpg', quality=88)
photo([(200, 100, 400, 300)]).save(sys.argv[1] + '/one.tif')
photo([(20, 100, 180, 260), (230, 120, 390, 280), (440, 90, 600, 250)]).save(sys.argv[1] + '/three.png')
frames = [photo([(60, 60, 60 + s, 60 + s)], (300, 300), (255, 255, 255)).convert('L') for s in (150, 154, 60, 152)]
frames[0].save(sys.argv[1] + '/anim.png', save_all=True, append_images=frames[1:], duration=100)
tile = Image.new('L', (227, 180))
tile.putdata([60 + 90 * (x % 40 < 20) + 70 * (y % 30 < 9) for y in range(180) for x in range(227)])
tile.save(sys.argv[1] + '/plaid.png')`
  execFileSync('/usr/bin/python3', ['-c', script, folder])
  run('--version') // built and installed before anything is judged by what it says
  writeFileSync(at('ball.stl'), toBinaryStl(sphere(120, 60)))
}, 180_000)

describe('./satchel tip', () => {
  it.each(['one.jpg', 'one.tif'])('makes a tip by the first guess, and tells the steps: %s', (name) => {
    const { stdout, status, stderr } = run('tip', at(name), '--out', at('tip.png'), '--json')
    expect(stderr).toBe('')
    expect(status).toBe(0)
    const told = JSON.parse(stdout)
    expect(told).toMatchObject({ reading: 'dark' })
    expect(told.steps.map(({ kind }: { kind: string }) => kind)).toContain('even')
    expect(Math.abs(told.width - 201)).toBeLessThan(5)
    const tip = picture('tip.png')
    expect(tip?.data[Math.floor(100 * (tip.width + 1))]).toBeLessThan(30)
    expect(tip?.data[0]).toBe(255)
  })

  it('runs the steps it is given', () => {
    run('tip', at('one.jpg'), '--out', at('tip.png'), '--json')
    const told = JSON.parse(run('tip', at('one.jpg'), '--out', at('tip.png'), '--json').stdout)
    const steps = told.steps.map((step: { kind: string }) =>
      step.kind === 'size' ? { ...step, settings: { fit: 'canvas', width: 64, height: 32 } } : step,
    )
    writeFileSync(at('steps.json'), JSON.stringify({ steps }))
    expect(run('tip', at('one.jpg'), '--out', at('small.png'), '--steps', at('steps.json')).status).toBe(0)
    expect(picture('small.png')).toMatchObject({ width: 64, height: 32 })
    writeFileSync(at('steps.json'), '{"steps": []}')
    const bad = run('tip', at('one.jpg'), '--out', at('small.png'), '--steps', at('steps.json'))
    expect(bad.status).toBe(1)
    expect(bad.stderr).toContain('each kind of step is wanted once')
  })

  it('refuses what is no picture, in a sentence', () => {
    const bad = run('tip', at('ball.stl'), '--out', at('no.png'))
    expect(bad.status).toBe(1)
    expect(bad.stderr).toContain('begin with Model')
  })
})

describe('./satchel split', () => {
  it('cuts out every thing, in rows', () => {
    const { stdout, status } = run('split', at('three.png'), '--out', at('split'), '--json')
    expect(status).toBe(0)
    expect(readdirSync(at('split')).sort()).toEqual(['1.png', '2.png', '3.png'])
    const rows = JSON.parse(stdout) as { part: string; width: number }[]
    expect(rows.map(({ part }) => Math.round(Number(part.split(',')[0]) / 10))).toEqual([10, 31, 52])
  })

  it('takes an order it knows', () => {
    expect(run('split', at('three.png'), '--out', at('split'), '--order', 'luck').status).toBe(2)
  })
})

describe('./satchel ornament', () => {
  it('repeats a shape, the same to all sides', () => {
    expect(run('ornament', at('one.jpg'), '--out', at('star.png'), '--count', '4', '--size', '300').status).toBe(0)
    const star = picture('star.png')
    if (!star) throw new Error('no star')
    expect(Math.abs(star.width - star.height)).toBeLessThanOrEqual(2)
    const middle = Math.floor(star.height / 2)
    const across = Array.from({ length: star.width }, (_, x) => (star.data[middle * star.width + x] ?? 0) < 128)
    expect(across.filter((is, x) => is === across[star.width - 1 - x]).length).toBeGreaterThan(star.width - 6)
    expect(run('ornament', at('one.jpg'), '--out', at('star.png'), '--count', '900').status).toBe(2)
    expect(run('ornament', at('one.jpg'), '--out', at('star.svg'), '--count', '4', '--size', '300').status).toBe(0)
    const covered = (png: string) => picture(png)?.data.filter((level) => level < 128).length ?? 0
    expect(run('tip', at('star.svg'), '--out', at('again.png')).status).toBe(0)
    // drawn larger, the outline covers the same share of its box
    const again = picture('again.png')
    if (!again) throw new Error('no outline')
    const shareOf = ({ width, height }: { width: number; height: number }, count: number) => count / (width * height)
    expect(shareOf(again, covered('again.png'))).toBeCloseTo(shareOf(star, covered('star.png')), 1)
  })
})

describe('./satchel depth', () => {
  it('draws a sphere at 16 bits, and tells what a circle would cut off', () => {
    const { stdout, status } = run(
      'depth',
      at('ball.stl'),
      '--out',
      at('ball.png'),
      '--size',
      '201',
      '--bits',
      '16',
      '--yaw',
      '30',
      '--json',
    )
    expect(status).toBe(0)
    expect(JSON.parse(stdout)).toMatchObject({ triangles: 14_400, sidePx: 201, bits: 16, circleLoss: 0 })
    // what python3-pil sees in the middle of it
    const middle = execFileSync(
      '/usr/bin/python3',
      ['-c', 'import sys; from PIL import Image; print(Image.open(sys.argv[1]).getpixel((100, 100)))', at('ball.png')],
      { encoding: 'utf8' },
    )
    expect(Number(middle)).toBeGreaterThan(65_000)
  })

  it('refuses a picture, and words it cannot follow', () => {
    expect(run('depth', at('three.png'), '--out', at('no.png')).stderr).toContain('it is no model')
    expect(run('depth', at('ball.stl'), '--out', at('no.png'), '--bits', '12').status).toBe(2)
    expect(run('depth', at('ball.stl'), '--out', at('no.png'), '--near', '0.6', '--far', '0.5').status).toBe(2)
  })
})

describe('./satchel grain and seam', () => {
  it('offers the pitches that close: 5000 mod 1245 = 20 (common practice, no source)', () => {
    const { stdout, status } = run('grain', 'dots', '--pitch', '1245', '--canvas', '5000', '--json')
    expect(status).toBe(1)
    expect(JSON.parse(stdout)).toMatchObject({
      closes: false,
      leftPx: [20, 20],
      offers: [{ pitchPx: 1250 }, { pitchPx: 1000 }],
    })
    expect(run('grain', 'dots', '--pitch', '1250', '--canvas', '5000').stdout).toContain('It closes')
  })

  it('draws a grain whose seams cannot be seen', () => {
    expect(run('grain', 'weave', '--pitch', '32', '--canvas', '320x256', '--out', at('weave.png')).status).toBe(0)
    const { stdout, status } = run('seam', at('weave.png'), '--json')
    expect(status).toBe(0)
    expect(JSON.parse(stdout)).toMatchObject({
      seamlessAcross: true,
      seamlessDown: true,
      pitch: { down: { px: 64, gapPx: 0 } },
    })
  })

  it('finds a gap that is off, and mends it', () => {
    const { stdout, status } = run('seam', at('plaid.png'), '--json')
    expect(status).toBe(1)
    expect(JSON.parse(stdout)).toMatchObject({
      seamlessAcross: false,
      seamlessDown: true,
      pitch: { across: { px: 40, gapPx: -13 } },
    })
    const mended = run('seam', at('plaid.png'), '--mend', 'cut', '--out', at('mended.png'), '--json')
    expect(mended.status).toBe(0)
    expect(JSON.parse(mended.stdout).mended).toMatchObject({ seamlessAcross: true, seamlessDown: true })
    expect(run('seam', at('plaid.png'), '--mend', 'cut').status).toBe(2)
  })
})

describe('./satchel tile', () => {
  it('makes a grain of a photograph of cloth, as long as its pitches, without a seam', async () => {
    const [width, height] = [413, 309]
    const grey = Uint8Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)]
      return 140 + 60 * Math.sin((2 * Math.PI * x) / 23) * Math.cos((2 * Math.PI * y) / 31) - x / 10
    })
    await sharp(grey, { raw: { width, height, channels: 1 } })
      .jpeg({ quality: 88 })
      .toFile(at('cloth.jpg'))
    const { stdout, status } = run('tile', at('cloth.jpg'), '--out', at('cloth.png'), '--side', '120', '--json')
    expect(status).toBe(0)
    const { crop, seamlessAcross, seamlessDown } = JSON.parse(stdout)
    expect([seamlessAcross, seamlessDown]).toEqual([true, true])
    for (const [side, pitch] of [
      [crop.width, 23],
      [crop.height, 31],
    ])
      expect(Math.abs(side - pitch * Math.round(side / pitch))).toBeLessThanOrEqual(1)
    expect(run('tile', at('cloth.jpg'), '--out', at('cloth.png'), '--side', 'wide').status).toBe(2)
  })
})

describe('./satchel frames and layers', () => {
  it('names the frame that stands out', () => {
    const { stdout, status } = run('frames', at('anim.png'), '--json')
    expect(status).toBe(1)
    const told = JSON.parse(stdout)
    expect(told.frames).toHaveLength(4)
    expect(told.standOut[0]).toMatch(/^frame 3 is [56]\d % smaller$/)
  })

  it('writes every frame of a picture that plays', () => {
    const { stdout, status } = run('layers', at('anim.png'), '--out', at('layers'), '--json')
    expect(status).toBe(0)
    expect(JSON.parse(stdout)).toHaveLength(4)
    expect(picture('layers/3.png')).toMatchObject({ width: 300, height: 300 })
  })
})
