import { bristles, chain, chartMark, down, nib, pad, rope } from '../motifs.ts'
import { alpha, collector, type DrawnBrush, mask, paper, times } from '../tuning.ts'

/** Brushes of the demo that come from the boats: ropes and the inks of charts. */
export function boatBrushes(): DrawnBrush[] {
  const brushes: DrawnBrush[] = []
  const addTo = collector(brushes)

  const ropes = addTo('Ropework')
  ropes('Three-strand rope', 'line', 'dark', rope(141), paper, { size: 64, spacing: 100, angle: 'following' })
  ropes('Hawser', 'line', 'dark', rope(142, { strands: 2, height: 120, lay: 1.3 }), paper, {
    size: 90,
    spacing: 100,
    angle: 'following',
  })
  ropes(
    'Frayed rope',
    'line many',
    'dark',
    times(4, (k) => rope(150 + k, { hairs: 8 + 5 * k })),
    paper,
    { size: 70, spacing: 99, angle: 'following', rule: 'random' },
  )
  ropes('Twine', 'line', 'dark', rope(143, { width: 96, height: 48, strands: 2 }), paper, {
    size: 22,
    spacing: 98,
    angle: 'following',
  })
  ropes('Chain', 'line', 'dark', chain(), paper, { size: 84, spacing: 92, angle: 'following' })
  ropes('Tarred line', 'line', 'dark', bristles(144, { width: 40, height: 72, count: 14, dry: 0.3 }), paper, {
    size: 28,
    spacing: 8,
    angle: 'following',
  })
  ropes('Net cord', 'line', 'alpha', rope(145, { width: 128, height: 40, strands: 4, lay: 0.5 }), alpha, {
    size: 40,
    spacing: 100,
    angle: 'following',
  })
  ropes('Oakum', 'texture', 'light', down(146, { fibres: 70, curl: 3.4, thickness: 1.8 }), mask, {
    size: 80,
    spacing: 30,
    jitter: { angle: 1, size: 0.3 },
  })
  ropes('Whipping', 'line', 'dark', chartMark('tick'), paper, { size: 44, spacing: 22, angle: 'following' })
  ropes(
    'Splice',
    'line many',
    'dark',
    times(3, (k) => rope(160 + k, { strands: 2 + k, lay: 0.6 + 0.4 * k })),
    paper,
    { size: 66, spacing: 100, angle: 'following', rule: 'inOrder' },
  )

  const inks = addTo('Chart Inks')
  inks('Sounding dot', 'line', 'dark', chartMark('dot'), paper, { size: 8, spacing: 260, angle: 'following' })
  inks('Station ring', 'stamp', 'dark', chartMark('ring'), paper, { size: 40, spacing: 180 })
  inks('Wreck cross', 'stamp', 'dark', chartMark('cross'), paper, { size: 34, spacing: 190 })
  inks('Wind rose', 'stamp', 'dark', chartMark('rose', { side: 240 }), paper, { size: 90, spacing: 150 })
  inks('Fathom dash', 'line', 'dark', chartMark('dash'), paper, { size: 30, spacing: 120, angle: 'following' })
  inks('Tide ticks', 'line', 'dark', chartMark('tick'), paper, { size: 26, spacing: 60, angle: 'following' })
  inks('Broad nib', 'line', 'dark', nib(171), paper, { size: 34, spacing: 5, pressure: 'size' })
  inks('Ruling pen', 'line', 'dark', pad(172, { side: 64, hard: 0.86 }), paper, {
    size: 7,
    spacing: 8,
    pressure: 'size',
  })
  inks('Dry bristle', 'texture line', 'light', bristles(173), mask, {
    size: 70,
    spacing: 5,
    angle: 'following',
    flow: 0.6,
  })
  inks(
    'Split bristle',
    'texture many',
    'light',
    times(3, (k) => bristles(180 + k, { dry: 0.3 + 0.25 * k })),
    mask,
    { size: 64, spacing: 6, angle: 'following', rule: 'pressure', flow: 0.6 },
  )
  inks('Ink wash', 'soft fill', 'light', pad(174, { hard: 0.5, wear: 0.4, scale: 30, side: 256 }), mask, {
    size: 80,
    spacing: 9,
    flow: 0.25,
    opacity: 0.8,
    pressure: 'size',
    blend: 'multiply',
    grain: { name: 'Laid paper', scale: 60, strength: 0.7 },
  })
  inks(
    'Chart marks',
    'stamp many',
    'dark',
    (['dot', 'ring', 'cross', 'rose'] as const).map((kind) => chartMark(kind)),
    paper,
    { size: 42, spacing: 160, rule: 'inOrder' },
  )

  return brushes
}
