import { execFileSync, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { mkdtempSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { defaultRecipe, RECIPE_VERSION } from '@satchel/core/brush/recipe'
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
    expect(JSON.parse(stdout)).toEqual([
      {
        file: at('grey.png'),
        kind: 'png',
        width: 7,
        height: 5,
        frames: [{ width: 7, height: 5, channels: 1, sha256: sha(grey) }],
        facts: [],
        warnings: [],
      },
    ])
  })

  it('says why a file is none, and exits 1', () => {
    writeFileSync(at('cut.png'), readFileSync(at('grey.png')).subarray(0, 60))
    writeFileSync(at('note.txt'), 'no brush at all')
    const { stdout, status } = run('inspect', '--json', at('cut.png'), at('note.txt'), at('gone.png'))
    expect(status).toBe(1)
    const [cut, note, gone] = JSON.parse(stdout)
    expect(cut.error).toContain('the file is cut short')
    expect(note.error).toContain('expected PNG, JPEG, TIFF, WebP, open brush')
    expect(gone.error).toBe('there is no such file or folder; check the path.')
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
    expect(single.stderr).toBe(
      `${at('one.gbr')}: GBR leaves behind 2 of 3 frames, the names of its frames and the rules for the next frame.\n`,
    )
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
    [['stroke', 'grey.png'], "required option '--out <png>' not specified"],
    [['stroke', 'grey.png', '--out', 'x.png', '--colour', 'blue'], '--colour takes a colour like #26415c, not "blue"'],
    [
      ['stroke', 'grey.png', '--out', 'x.png', '--size', '9'],
      '--size takes a width and a height like 1200x800, not "9"',
    ],
    [['stroke', 'grey.png', '--out', 'x.png', '--seed', '-1'], '--seed'],
    [['convert', 'a.png'], "missing required argument 'out'"],
    [['convert', 'grey.png', 'x.gbr', '--spacing', 'lots'], '--spacing takes a percentage from 1 to 1200, not "lots"'],
    [
      ['convert', 'grey.png', 'x.gbr', '--reading', 'loud'],
      '--reading takes one of dark, light, alpha, own, tone, not "loud"',
    ],
    [
      ['convert', 'grey.png', 'x.bmp'],
      'x.bmp: its extension tells what to write, one of png, apng, gbr, gih; found "bmp"',
    ],
    [['convert', 'grey.png', '-'], '--to takes one of png, apng, gbr, gih; it is needed where the output is no file'],
    [['convert', 'grey.png', 'x.gbr', '--frame', '2'], '--frame 2 is not there: it has 1 frames'],
    [['convert', 'grey.png', 'x.gbr', '--seconds', '2'], "unknown option '--seconds'"],
    [['stroke', 'gone.png', '--out', 'x.png', '--size', '20000x20'], '--size 20000x20: Too large'],
    [
      ['stroke', 'grey.png', '--out', 'x.png', '--set', 'mark.sizePx=0'],
      '--set mark.sizePx=0: expected mark.sizePx to be >=1',
    ],
    [['stroke', 'grey.png', '--out', 'x.png', '--set', 'mark.wobble=2'], 'mark.wobble'],
    [['check', 'grey.png', '--seconds', 'soon'], '--seconds takes a number from 1 to 86400, not "soon"'],
    [['dance'], "unknown command 'dance'"],
  ])('answers %j with one sentence', (args, sentence) => {
    const { stderr, status } = run(...args.map((arg) => (arg === 'grey.png' ? at(arg) : arg)))
    expect(stderr).toContain(sentence)
    expect(status).toBe(2)
  })

  it('tells its version, and the options, defaults and exit codes of each command', () => {
    expect(run('--version').stdout.trim()).toMatch(/^\d+\.\d+\.\d+$/)
    for (const command of ['inspect', 'list', 'convert', 'stroke', 'check']) {
      const { stdout, status } = run(command, '--help')
      expect([status, stdout.includes('Exit codes: 0 done, 1 a file is bad')]).toEqual([0, true])
    }
    expect(run('stroke', '--help').stdout).toContain('(default: "1200x800")')
  })

  it('keeps frames, their names and times, dots per inch and author, and keys that nobody knows', () => {
    const script = `
import sys
from PIL import Image, PngImagePlugin
info = PngImagePlugin.PngInfo(); info.add_text('Author', 'Ida'); info.add_text('Comment', 'wet')
frames = [Image.new('L', (6, 6), 40 * k) for k in range(3)]
frames[0].save(sys.argv[1], save_all=True, append_images=frames[1:], duration=[40, 80, 200], dpi=(300, 300), pnginfo=info)`
    execFileSync('/usr/bin/python3', ['-c', script, at('times.png')])
    expect(run('convert', at('times.png'), at('times2.png'))).toMatchObject({ status: 0, stderr: '' })
    const [before, after] = JSON.parse(run('inspect', '--json', at('times.png'), at('times2.png')).stdout)
    const { file: _before, name: _none, ...was } = before
    const { file: _after, name: _title, ...is } = after
    expect(is).toEqual(was)
    expect([is.maker, is.facts, is.frames.map((frame: { ms: number }) => frame.ms)]).toEqual([
      'Ida',
      ['Comment: wet', 'It is meant for 300 dpi.'],
      [40, 80, 200],
    ])
    const left = run('convert', at('times.png'), at('times.gih')).stderr
    expect(left).toBe(
      `${at('times.gih')}: GIH leaves behind its maker, Ida, its texts (Comment), its 300 dpi and how long each frame stays.\n`,
    )
    const frame = run('convert', at('times.png'), at('second.png'), '--frame', '2')
    expect([frame.status, JSON.parse(run('inspect', '--json', at('second.png')).stdout)[0].kind]).toEqual([0, 'png'])

    const gih = readFileSync(at('times.gih'), 'latin1').replace('placement:constant', 'placement:random mood:wet')
    writeFileSync(at('odd.gih'), gih, 'latin1')
    run('convert', at('odd.gih'), at('odd2.gih'))
    expect(readFileSync(at('odd2.gih'), 'latin1').split('\n')[1]).toContain('placement:random mood:wet')
    run('convert', at('odd.gih'), at('odd.png'))
    expect(readPng(new Uint8Array(readFileSync(at('odd.png')))).frames.length).toBe(3)
  })

  it('reads from a pipe and writes to one', () => {
    const gbr = spawnSync(satchel, ['convert', '-', '-', '--to', 'gbr', '--name', 'Reed'], {
      input: readFileSync(at('grey.png')),
    })
    expect([gbr.status, gbr.stderr.toString(), readGbr(new Uint8Array(gbr.stdout)).name]).toEqual([0, '', 'Reed'])
    const told = spawnSync(satchel, ['inspect', '--json', '-'], { input: gbr.stdout, encoding: 'utf8' })
    expect(JSON.parse(told.stdout)[0]).toMatchObject({ file: 'standard input', kind: 'gbr', name: 'Reed' })
    const stroke = spawnSync(satchel, ['stroke', '-', '--out', '-', '--size', '60x40'], { input: gbr.stdout })
    expect(readPng(new Uint8Array(stroke.stdout)).header.width).toBe(60)
  })

  it('never writes over its input, by whatever name, unless it is told to', () => {
    const own = at('own.png')
    writeFileSync(own, readFileSync(at('grey.png')))
    symlinkSync(own, at('alias.png'))
    for (const out of [own, at('alias.png')]) {
      const refused = run('convert', own, out)
      expect([refused.status, refused.stderr]).toEqual([
        1,
        `${out}: it is the input itself and would be lost; choose another name, or add --force.\n`,
      ])
    }
    expect(readFileSync(own)).toEqual(readFileSync(at('grey.png')))
    expect(run('convert', own, own, '--force', '--reading', 'light').status).toBe(0)
    expect(run('convert', own, at('no/such/folder.png')).stderr).toBe(
      `${at('no/such/folder.png')}: there is no such file or folder; check the path.\n`,
    )
    expect(run('inspect', folder).stdout).toContain(`${folder}: it is a folder; name a file in it.`)
  })

  it('paints with any field of the recipe set, and with a whole recipe; a stroke cut short exits 1', () => {
    const paint = (...more: string[]) =>
      run('stroke', at('grey.png'), '--size', '300x200', '--out', at('set.png'), ...more)
    const pixels = () =>
      createHash('sha256')
        .update(readFileSync(at('set.png')))
        .digest('hex')
    expect(paint().status).toBe(0)
    const plain = pixels()
    expect(paint('--set', 'mark.sizePx=40', 'path.spacingPct=120', '--set', 'mark.angle.mode=following').status).toBe(0)
    const set = pixels()
    expect(set).not.toBe(plain)
    const recipe = defaultRecipe({ sizePx: 40, reading: 'dark' })
    recipe.path.spacingPct = 120
    recipe.mark.angle.mode = 'following'
    writeFileSync(at('recipe.json'), JSON.stringify(recipe))
    expect(paint('--recipe', at('recipe.json')).status).toBe(0)
    expect(pixels()).toBe(set)
    writeFileSync(at('bad.json'), JSON.stringify({ version: RECIPE_VERSION }))
    expect(paint('--recipe', at('bad.json')).stderr).toContain(
      `${at('bad.json')}: not a readable recipe: expected mark to be`,
    )
    const cut = paint('--size', '1200x800', '--set', 'mark.sizePx=400', 'path.spacingPct=1', 'path.count=32')
    expect([cut.status, cut.stderr]).toEqual([
      1,
      `${at('set.png')}: a stroke asks for more than is drawn and its end is missing; widen the spacing or lower the count.\n`,
    ])
  })
})
