import { toCoverage } from '../brush/coverage.ts'
import type { PaintReading } from '../brush/recipe.ts'
import { shadeByTone } from '../brush/tone.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import type { Rgb } from '../raster/srgb.ts'
import type { Fitting } from './fit-state.ts'

/** The colour whose shades a tone becomes where an app knows none, and that a mask gets where it takes colours alone. */
const ONE_COLOUR: Rgb = { r: 176, g: 84, b: 42 }

const COVERING = ['light', 'dark', 'alpha'] as const
type Covering = (typeof COVERING)[number]
const isCovering = (reading: PaintReading): reading is Covering => COVERING.some((each) => each === reading)

/** Brings pictures to a way of reading that the destination knows. Masks of any kind say the same and lose nothing. */
export function fitReading(fitting: Fitting): void {
  const { reading } = fitting.recipe.colour
  const covering = COVERING.filter((each) => fitting.knows('colour.reading', each))
  if (isCovering(reading)) fitMask(fitting, reading, covering.includes(reading) ? reading : covering[0])
  else if (!fitting.knows('colour.reading', reading)) fitColours(fitting, reading, covering[0])
}

function fitMask(fitting: Fitting, reading: Covering, target: Covering | undefined): void {
  if (target) {
    asCovering(fitting, target, (frame) => toCoverage(frame, reading))
    return
  }
  fitting.approximate('colour.reading', 'the chosen colour', 'it has a colour of its own')
  asOwn(fitting, (frame) => tinted(toCoverage(frame, reading), ONE_COLOUR))
}

function fitColours(fitting: Fitting, reading: 'own' | 'tone', target: Covering | undefined): void {
  const isTone = reading === 'tone'
  const called = isTone ? 'the shading by tone' : 'its own colours'
  const options = [
    ...(isTone && fitting.knows('colour.reading', 'own') ? [{ value: 'own', label: 'shades of one colour' } as const] : []),
    ...(target ? [{ value: 'dark', label: 'dark pixels paint' } as const, { value: 'alpha', label: 'the whole shape paints' } as const] : []),
  ] // biome-ignore format: one answer a line
  const way = fitting.choose('reading', options as [(typeof options)[0]])
  if (way === 'own') {
    fitting.approximate('colour.reading', called, 'it has shades of one colour, whatever is chosen')
    asOwn(fitting, (frame) => shadeByTone(toCoverage(frame, 'tone'), fitting.recipe.colour.anchorGrey, ONE_COLOUR))
    return
  }
  fitting.approximate('colour.reading', called, way === 'dark' ? 'darker pixels paint more' : 'all of the shape paints')
  asCovering(fitting, target ?? 'dark', (frame) => toCoverage(frame, way))
}

function asCovering(fitting: Fitting, reading: Covering, cover: (frame: Pixels) => Pixels): void {
  fitting.frames = fitting.frames.map((frame) => readAs(cover(frame), reading))
  setReading(fitting, reading)
}

function asOwn(fitting: Fitting, colour: (frame: Pixels) => Pixels): void {
  fitting.frames = fitting.frames.map(colour)
  setReading(fitting, 'own')
}

const setReading = (fitting: Fitting, reading: PaintReading) =>
  fitting.change((recipe) => ({ ...recipe, colour: { ...recipe.colour, reading } }))

/** Coverage as a picture that a reading makes the same coverage of. */
function readAs(coverage: Pixels, reading: Covering): Pixels {
  switch (reading) {
    case 'light':
      return coverage
    case 'dark':
      return { ...coverage, data: coverage.data.map((cover) => 255 - cover) }
    case 'alpha':
      return tinted(coverage, { r: 0, g: 0, b: 0 })
  }
}

/** Coverage as the alpha of one colour. */
function tinted({ width, height, data }: Pixels, { r, g, b }: Rgb): Pixels {
  const out = createPixels(width, height, 4)
  for (let i = 0, o = 0; i < data.length; i++, o += 4) out.data.set([r, g, b, data[i]], o)
  return out
}
