import { describe, expect, it } from 'vitest'
import { FormatError } from '../errors.ts'
import { toBase64 } from '../raster/base64.ts'
import type { Pixels } from '../raster/pixels.ts'
import { finish } from './finish.ts'
import { guessSteps, mixOfTouches } from './guess.ts'
import { makeAll } from './make-all.ts'
import { toOpened } from './opened.ts'
import { STEP_KINDS, STEP_NAMES, type Step, settingsOf, withSettings } from './step-kinds.ts'
import { crop, WHOLE } from './steps/crop.ts'
import { PLAIN_GREY, toGrey } from './steps/grey.ts'
import { toTip } from './steps/reading.ts'
import { setSize } from './steps/size.ts'
import { PLAIN_TONES, setTones } from './steps/tones.ts'
import { touchUp } from './steps/touch.ts'
import { trimWork } from './steps/trim.ts'
import { completeSteps, moveStep, parseSteps, StepRunner, usualSteps } from './steps.ts'
import { anyOf, disc, overlap, takePhoto } from './testing.ts'
import { startWork, toSourcePoint, toWorkPoint, type Work } from './work.ts'

const photo = (width = 211, height = 157) =>
  takePhoto({ width, height, shape: disc(120, 60, 31), paint: [30, 30, 30], ground: [230, 230, 230] })
const grey = (width: number, height: number, at: (x: number, y: number) => number): Pixels => ({
  width,
  height,
  channels: 1,
  data: Uint8Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width))),
})

const tipOf = (picture: Pixels, steps: Step[]) =>
  finish(makeAll(toOpened({ frames: [{ pixels: picture, name: '' }] }), { way: 'picture', steps })).parts[0].pixels

describe('cropping', () => {
  const turned = crop(startWork(photo().picture, 0.5), {
    ...WHOLE,
    angleDeg: 17,
    left: 0.1,
    top: 0.2,
    right: 0.9,
    bottom: 0.95,
  })

  it('finds its way between work and source', () => {
    const at = toSourcePoint(turned, 33.25, 41.5)
    const back = toWorkPoint(turned, at.x, at.y)
    expect(back.x).toBeCloseTo(33.25, 9)
    expect(back.y).toBeCloseTo(41.5, 9)
  })

  it('turns the picture clockwise about its middle, and pixels lie where the place says', () => {
    const { picture } = takePhoto({
      width: 201,
      height: 201,
      shape: disc(160.5, 100.5, 20),
      paint: [0, 0, 0],
      ground: [255, 255, 255],
    })
    const quarter = crop(startWork(picture), { ...WHOLE, angleDeg: -90 })
    const at = toWorkPoint(quarter, 160.5, 100.5)
    expect(quarter.grey[Math.floor(at.y) * quarter.width + Math.floor(at.x)]).toBe(0)
    expect(at.x).toBeCloseTo(100.5, 6)
    expect(at.y).toBeCloseTo(160.5, 6)
  })

  it('keeps what lies in a lasso, at any size, on ground that is cleared as if the rest were there', () => {
    const two = takePhoto({
      width: 420,
      height: 300,
      paint: [40, 36, 34],
      ground: [220, 214, 202],
      noise: 3,
      light: (x) => 1 - (0.3 * x) / 420,
      shape: anyOf(disc(110, 150, 60), disc(300, 150, 60)),
    })
    const lasso = [214, 70, 390, 70, 390, 230, 214, 230]
    const guessed = guessSteps(two.picture)
    const cropped = withSettings(guessed, 'crop', { ...WHOLE, left: 0.5, lasso })
    const tip = tipOf(two.picture, cropped)
    const whole = tipOf(two.picture, withSettings(guessed, 'crop', { ...WHOLE, left: 0.5 }))
    expect([tip.width, tip.height]).toEqual([whole.width, whole.height])
    const both = tipOf(two.picture, withSettings(guessed, 'crop', { ...WHOLE, lasso }))
    expect(Math.abs(both.width - tip.width) + Math.abs(both.height - tip.height)).toBeLessThanOrEqual(2)
    const small = crop(startWork(two.picture, 1), { ...WHOLE, lasso })
    const half = crop(
      startWork({ ...two.picture, width: 210, height: 150, data: two.picture.data.slice(0, 210 * 150 * 4) }, 0.5),
      { ...WHOLE, lasso },
    )
    const share = (kept: Uint8Array | undefined) => (kept ?? new Uint8Array()).reduce((a, b) => a + b, 0) / 255
    expect(share(half.kept)).toBeCloseTo(share(small.kept) / 4, 6)
    expect(share(small.kept)).toBe(176 * 160)
  })

  it('keeps the share that is asked for', () => {
    const cut = crop(startWork(grey(40, 20, (x) => x)), { ...WHOLE, left: 0.25, right: 0.5, top: 0.5 })
    expect([cut.width, cut.height]).toEqual([10, 10])
    expect([...cut.grey.subarray(0, 10)]).toEqual([10, 11, 12, 13, 14, 15, 16, 17, 18, 19])
  })
})

describe('colours to grey', () => {
  const colours: Pixels = {
    width: 3,
    height: 1,
    channels: 4,
    data: Uint8Array.of(200, 40, 40, 255, 40, 40, 200, 255, 0, 0, 0, 0),
  }

  it('mixes channels, and lays what is clear on the ground', () => {
    const { grey } = toGrey(startWork(colours), { ...PLAIN_GREY, mix: { red: 0.5, green: 0, blue: 0.25, offset: 10 } })
    expect([...grey]).toEqual([120, 80, 255])
  })

  it('lets a hue paint more where the ring reaches out', () => {
    const ring = [1, 0, 0, 0, 0, 0, 0, 0]
    const plain = toGrey(startWork(colours), PLAIN_GREY).grey
    const bent = toGrey(startWork(colours), { ...PLAIN_GREY, ring }).grey
    expect(bent[0]).toBe(0)
    expect(bent[1]).toBe(plain[1])
  })

  it('parts what was touched: one colour becomes paint, the other ground', () => {
    const data = new Uint8Array(60 * 40 * 4)
    for (let i = 0; i < 2400; i++) data.set(i % 60 < 30 ? [180, 120, 60, 255] : [110, 140, 90, 255], 4 * i)
    const work = startWork({ width: 60, height: 40, channels: 4, data })
    const mixOf = (left: 'paint' | 'ground', right: 'paint' | 'ground') =>
      mixOfTouches(work, [
        { x: 15, y: 20, becomes: left },
        { x: 45, y: 20, becomes: right },
      ])
    const leftPaints = toGrey(work, { ...PLAIN_GREY, mix: mixOf('paint', 'ground') }).grey
    expect(leftPaints[0]).toBeLessThan(20)
    expect(leftPaints[59]).toBeGreaterThan(235)
    expect(toGrey(work, { ...PLAIN_GREY, mix: mixOf('ground', 'paint') }).grey[0]).toBeGreaterThan(235)
  })
})

describe('tones', () => {
  const ramp = startWork(grey(256, 1, (x) => x))

  it('stretch what lies between black and white point', () => {
    const { grey } = setTones(ramp, { black: 51, white: 204, gamma: 1, invert: false })
    expect([grey[50], grey[51], grey[102], grey[153], grey[204], grey[255]]).toEqual([0, 0, 85, 170, 255, 255])
  })

  it('turn round when asked', () => {
    expect([...setTones(ramp, { ...PLAIN_TONES, invert: true }).grey]).toEqual(
      [...ramp.grey].map((level) => 255 - level),
    )
  })

  it('lighten the middle with a gamma above 1', () => {
    expect(setTones(ramp, { ...PLAIN_TONES, gamma: 2 }).grey[64]).toBe(Math.round(255 * Math.sqrt(64 / 255)))
  })
})

describe('touching up', () => {
  const white = startWork(grey(200, 120, () => 255))
  const stroke = { does: 'cover' as const, radiusPx: 10, soft: 0, path: [40, 60, 160, 60] }

  it('covers a line with round ends', () => {
    const { grey } = touchUp(white, { strokes: [stroke] }, white)
    const painted = grey.reduce((sum, level) => sum + (255 - level) / 255, 0)
    expect(painted).toBeCloseTo(120 * 20 + Math.PI * 100, -1)
    expect(grey[60 * 200 + 29]).toBe(255)
    expect(grey[60 * 200 + 31]).toBe(0)
  })

  it('drops again, and keeps what the picture had', () => {
    const before: Work = { ...white, grey: white.grey.map(() => 90) }
    const dropped = touchUp(
      { ...white, grey: white.grey.map(() => 0) },
      { strokes: [{ ...stroke, does: 'drop' }] },
      before,
    )
    expect(dropped.grey[60 * 200 + 100]).toBe(255)
    expect(touchUp(dropped, { strokes: [{ ...stroke, does: 'keep' }] }, before).grey[60 * 200 + 100]).toBe(90)
  })

  it('stamps a tip of any shape, upright and two radii long, at any size', () => {
    // the lower left half of a square: it tells apart what is turned or mirrored
    const side = 24
    const wedge = Uint8Array.from({ length: side * side }, (_, i) => (i % side <= Math.floor(i / side) ? 255 : 0))
    const tips = [{ name: 'wedge', width: side, height: side, cover: toBase64(wedge) }]
    const once = { does: 'cover' as const, radiusPx: 24, soft: 0, tip: 0, path: [100, 60] }
    const { grey: full } = touchUp(white, { strokes: [once], tips }, white)
    const at = (x: number, y: number) => full[y * 200 + x]
    expect([at(80, 80), at(78, 82), at(116, 82), at(120, 40), at(110, 44)]).toEqual([0, 0, 0, 255, 255])
    expect(full.reduce((sum, level) => sum + (255 - level) / 255, 0)).toBeCloseTo((48 * 48) / 2 + 48 / 2, -2)
    const halfSize = startWork(
      grey(100, 60, () => 255),
      0.5,
    )
    const { grey: small } = touchUp(halfSize, { strokes: [once], tips }, halfSize)
    expect([small[40 * 100 + 40], small[20 * 100 + 60]]).toEqual([0, 255])
    const long = touchUp(white, { strokes: [{ ...once, path: [40, 60, 160, 60] }], tips }, white).grey
    for (let x = 40; x <= 160; x += 7) expect(long[82 * 200 + x], `at ${x}`).toBe(0)
    const steps = withSettings(usualSteps(), 'touch', { strokes: [{ ...once, tip: 1 }], tips })
    expect(() => parseSteps(steps)).toThrow(/names a tip that is not there/)
    expect(() =>
      parseSteps(withSettings(usualSteps(), 'touch', { strokes: [], tips: [{ ...tips[0], width: 23 }] })),
    ).toThrow(/another size/)
  })

  it('falls on the same part of the picture at any size and after any crop', () => {
    const big = touchUp(white, { strokes: [stroke] }, white)
    const part = crop(
      startWork(
        grey(100, 60, () => 255),
        0.5,
      ),
      { ...WHOLE, left: 0.5, top: 0.25 },
    )
    const small = touchUp(part, { strokes: [stroke] }, part)
    expect(small.grey[15 * 50 + 29]).toBe(0)
    expect(small.grey[15 * 50 + 36]).toBe(255)
    expect(big.grey[60 * 200 + 159]).toBe(0)
  })
})

describe('steps that keep no colour for a tip of paint', () => {
  it('give it again as soon as the reading wants it', () => {
    const start = startWork(photo().picture)
    const sized = withSettings(guessSteps(photo().picture), 'size', { fit: 'side', sidePx: 40 })
    const own = withSettings(sized, 'reading', { reading: 'own' })
    const runner = new StepRunner(start)
    const dark = runner.run(sized).works.at(-1)
    expect(Math.max(...(dark?.colour ?? []))).toBe(0)
    const changed = runner.run(own).works.at(-1)
    const fresh = new StepRunner(start).run(own).works.at(-1)
    expect(changed).toEqual(fresh)
    expect(Math.max(...(changed?.colour ?? []))).toBeGreaterThan(200)
  })
})

describe('trimming and size', () => {
  const work = startWork(photo().picture)
  const marked = setTones(work, { black: 60, white: 200, gamma: 1, invert: false })

  it('cut off the empty margin, and add the one that is wanted', () => {
    const trimmed = trimWork(marked, { paddingPx: 0, square: false })
    expect([trimmed.width, trimmed.height]).toEqual([62, 62])
    const padded = trimWork(marked, { paddingPx: 5, square: false })
    expect([padded.width, padded.height]).toEqual([72, 72])
    expect(padded.grey[0]).toBe(255)
    expect(padded.grey[36 * 72 + 36]).toBe(0)
  })

  it('lay an oblong mark in the middle of a square', () => {
    const bar = startWork(grey(90, 50, (x, y) => (x >= 10 && x < 50 && y >= 20 && y < 30 ? 0 : 255)))
    const square = trimWork(bar, { paddingPx: 1, square: true })
    expect([square.width, square.height]).toEqual([42, 42])
    expect(square.grey.filter((level) => level === 0)).toHaveLength(400)
    expect(square.grey[16 * 42 + 1]).toBe(0)
    expect(square.grey[15 * 42 + 1]).toBe(255)
  })

  it('leave an empty picture as it is', () => {
    const empty = startWork(grey(9, 7, () => 255))
    expect(trimWork(empty, { paddingPx: 0, square: true })).toBe(empty)
  })

  it('fit the mark into a canvas of a strip, in its middle', () => {
    const fitted = setSize(trimWork(marked, { paddingPx: 0, square: false }), { fit: 'canvas', width: 100, height: 31 })
    expect([fitted.width, fitted.height]).toEqual([100, 31])
    const columns = [...Array(100).keys()].filter((x) => fitted.grey[15 * 100 + x] < 128)
    expect(columns.length).toBe(31)
    expect(columns[0]).toBe(34)
  })

  it('never enlarge', () => {
    expect(setSize(marked, { fit: 'side', sidePx: 4000 })).toBe(marked)
  })
})

describe('a finished tip', () => {
  const work: Work = {
    ...startWork({ width: 2, height: 1, channels: 4, data: Uint8Array.of(200, 100, 50, 255, 9, 9, 9, 255) }),
    grey: Uint8Array.of(55, 255),
  }
  it.each([
    ['dark', [55, 255]],
    ['light', [200, 0]],
    ['alpha', [0, 0, 0, 200, 0, 0, 0, 0]],
    ['own', [200, 100, 50, 200, 0, 0, 0, 0]],
    ['tone', [117, 117, 117, 200, 0, 0, 0, 0]],
  ] as const)('is written for %s', (reading, wanted) => {
    expect([...toTip({ ...work, reading }).data]).toEqual(wanted)
  })
})

describe('steps', () => {
  const picture = photo().picture

  it('are stored and read again', () => {
    const steps = guessSteps(picture)
    expect(parseSteps(JSON.parse(JSON.stringify(steps)))).toEqual(steps)
  })

  it.each([
    ['one missing', (steps: Step[]) => steps.slice(1)],
    ['one twice', (steps: Step[]) => [...steps.slice(0, -1), steps[0]]],
    ['the size before the crop', (steps: Step[]) => [steps[8], ...steps.slice(1, 8), steps[0], steps[9]]],
    ['no reading', (steps: Step[]) => steps.map((step) => (step.kind === 'reading' ? { ...step, on: false } : step))],
    [
      'a black point above the white',
      (steps: Step[]) => withSettings(steps, 'tones', { ...PLAIN_TONES, black: 200, white: 100 }),
    ],
  ])('are refused with %s', (_what, change) => {
    expect(() => parseSteps(change(usualSteps()))).toThrow(FormatError)
  })

  it('move where they may', () => {
    const steps = usualSteps()
    const names = (list: readonly Step[]) => list.map(({ kind }) => kind)
    expect(names(moveStep(steps, 5, 3))).toEqual([
      'crop',
      'grey',
      'even',
      'specks',
      'tones',
      'touch',
      'edge',
      'trim',
      'size',
      'reading',
    ])
    expect(moveStep(steps, 5, 0)).toBe(steps)
    expect(moveStep(steps, 0, 3)).toBe(steps)
  })

  it('run again only from the first that changed, and give the same as from the start', () => {
    const steps = guessSteps(picture)
    const runner = new StepRunner(startWork(picture))
    expect(runner.run(steps).ran).toBe(10)
    const softer = withSettings(steps, 'edge', { softPx: 6 })
    const again = runner.run(softer)
    expect(again.ran).toBe(4)
    expect(runner.run(softer).ran).toBe(0)
    expect(again.works.at(-1)).toEqual(new StepRunner(startWork(picture)).run(softer).works.at(-1))
    expect(again.works.at(-1)?.grey).not.toEqual(new StepRunner(startWork(picture)).run(steps).works.at(-1)?.grey)
  })

  it('that are switched off change nothing', () => {
    const steps = guessSteps(picture).map((step) => (step.kind === 'reading' ? step : { ...step, on: false }))
    expect(tipOf(picture, steps)).toMatchObject({ width: 211, height: 157 })
  })

  it('mean the same on a preview and at full size', () => {
    const { picture: large, mask } = takePhoto({
      width: 844,
      height: 628,
      shape: disc(480, 240, 124),
      paint: [30, 30, 30],
      ground: [230, 230, 230],
    })
    const steps = withSettings(guessSteps(large), 'trim', { paddingPx: 40, square: true })
    const made = tipOf(large, withSettings(steps, 'size', { fit: 'side', sidePx: 4096 }))
    expect([made.width, made.height]).toEqual([328, 328])
    expect(settingsOf(steps, 'trim').paddingPx).toBe(40)
    expect(overlap(made.data, cutMask(mask, 844, { left: 316, top: 76, side: 328 }))).toBeGreaterThan(0.99)
  })
})

function cutMask(mask: Uint8Array, width: number, { left, top, side }: { left: number; top: number; side: number }) {
  return Uint8Array.from(
    { length: side * side },
    (_, i) => mask[(top + Math.floor(i / side)) * width + left + (i % side)],
  )
}

describe('steps that an earlier release has stored', () => {
  it('are as they were where nothing has come since', () => {
    const moved = moveStep(usualSteps(), STEP_NAMES.indexOf('edge'), STEP_NAMES.indexOf('specks'))
    expect(completeSteps(moved)).toEqual(moved)
  })

  it.each(STEP_NAMES)('without %s are steps again, and do without it where they may', (left) => {
    const steps = parseSteps(completeSteps(usualSteps().filter(({ kind }) => kind !== left)))
    expect(steps.map(({ kind }) => kind)).toEqual(STEP_NAMES)
    expect(steps.find(({ kind }) => kind === left)?.on).toBe(!STEP_KINDS[left].mayBeOff)
  })

  it('lack a setting, which is as usual; one of a kind that is gone is forgotten', () => {
    const stored = usualSteps().map((step) => ({ ...step, settings: {} as object }))
    expect(completeSteps([...stored, { kind: 'glitter', on: true, settings: {} }])).toEqual(usualSteps())
    expect(() => parseSteps(completeSteps('nothing'))).toThrow('list of steps')
  })
})
