import { createNoise, type Ink } from '../ink.ts'
import { bristles, pad, scallop } from '../motifs.ts'
import { kelpRibbon, ropeRibbon } from '../ribbons.ts'
import { collector, type DrawnBrush, mask, tune } from '../tuning.ts'

/** Brushes of the demo that use what a recipe can say beyond stamps in a row: grain, ribbons, tone, taper, behaviours. */
export function recipeBrushes(): DrawnBrush[] {
  const brushes: DrawnBrush[] = []
  const addTo = collector(brushes)
  const beach = addTo('Wet Sand Grains')
  const block = () => pad(201, { hard: 0.75, wear: 0.2, scale: 20, side: 160 })
  beach('Strand chalk', 'texture dry', 'light', block(), mask, {
    size: 70,
    spacing: 10,
    grain: { name: 'Wet sand', scale: 80 },
  })
  beach('Ripple rub', 'texture dry', 'light', block(), mask, {
    size: 96,
    spacing: 8,
    flow: 0.8,
    grain: { name: 'Sand ripples', scale: 60, contrast: 0.4 },
  })
  beach('Salt print', 'texture', 'light', block(), mask, {
    size: 80,
    spacing: 8,
    grain: { name: 'Salt dots', scale: 60, strength: 1 },
  })
  beach('Wash out', 'soft', 'light', pad(202, { hard: 0.2, wear: 0.3, scale: 26, side: 160 }), mask, {
    size: 84,
    spacing: 8,
    flow: 0.5,
    behaviour: 'erase',
    grain: { name: 'Tide wash', scale: 70 },
  })

  const charts = addTo('Chart Inks')
  charts('Sailcloth pencil', 'line dry', 'light', pad(203, { hard: 0.6, wear: 0.3, scale: 12, side: 96 }), mask, {
    size: 16,
    spacing: 7,
    pressure: 'both',
    taper: { startPx: 30, endPx: 40, size: 0.6, opacity: 0.5 },
    grain: { name: 'Sailcloth', scale: 40, strength: 1 },
  })

  const laid = addTo('Ropework')
  const rope = ropeRibbon()
  brushes.push({
    set: 'Ropework',
    name: 'Rope, laid whole',
    tags: ['ribbon'],
    frames: [rope.pixels],
    recipe: tune('dark', 1, {
      size: 44,
      ribbon: { lay: 'repeated', leadInPx: rope.leadInPx, leadOutPx: rope.leadOutPx },
    }),
  })
  laid('Frayed end', 'soft', 'light', bristles(204, { dry: 0.5 }), mask, {
    size: 60,
    spacing: 5,
    angle: 'first',
    taper: { startPx: 0, endPx: 120, size: 0.3, opacity: 1 },
  })
  brushes.push({
    set: 'Kelp & Wrack',
    name: 'Kelp blade, laid whole',
    tags: ['ribbon'],
    frames: [kelpRibbon()],
    recipe: tune('light', 1, { size: 60, ribbon: { lay: 'stretched', leadInPx: 0, leadOutPx: 0 }, pressure: 'size' }),
  })
  const shaded = addTo('Shell Stamps')
  const relief = (seed: number) => {
    const noise = createNoise(seed, 14)
    return (ink: Ink) =>
      ink.toColour((x, y) => {
        const grey = Math.round(70 + 120 * noise(x, y))
        return [grey, grey, grey]
      })
  }
  shaded('Shaded cockle', 'stamp tone', 'tone', scallop(205), relief(206), {
    size: 90,
    spacing: 115,
    anchor: 0.6,
    jitter: { angle: 0.5, size: 0.3 },
    vary: { value: { from: -17, to: 3 }, hue: { from: -7, to: 9 } },
  })
  return brushes
}
