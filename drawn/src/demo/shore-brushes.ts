import { down, feather, frond, nib, pad, ripples, scallop, scatter, valve, whorl, wrack } from '../motifs.ts'
import { alpha, collector, type DrawnBrush, mask, paper, times, tinted } from '../tuning.ts'

/** Brushes of the demo that come from the shore: feathers, kelp, shells and sand. */
export function shoreBrushes(): DrawnBrush[] {
  const brushes: DrawnBrush[] = []
  const addTo = collector(brushes)

  const feathers = addTo('Feather & Down')
  feathers('Down soft', 'soft fill', 'light', down(11), mask, {
    size: 56,
    spacing: 18,
    jitter: { angle: 1, size: 0.3 },
    flow: 0.5,
  })
  feathers('Down dense', 'soft fill', 'light', down(12, { fibres: 170, length: 0.4 }), mask, {
    size: 72,
    spacing: 16,
    jitter: { angle: 1 },
    flow: 0.7,
    pressure: 'size',
  })
  feathers('Down wisps', 'soft air', 'light', down(13, { fibres: 26, curl: 1.8, thickness: 2.2 }), mask, {
    size: 96,
    spacing: 45,
    jitter: { angle: 1, size: 0.5, opacity: 0.4 },
  })
  feathers('Plume', 'stamp', 'dark', feather(14), paper, { size: 150, spacing: 100, angle: 'following' })
  feathers(
    'Flight feathers',
    'stamp many',
    'dark',
    times(5, (k) => feather(20 + k, { tears: 2 + k, lean: 0.5 + 0.1 * k })),
    paper,
    { size: 140, spacing: 92, angle: 'following', rule: 'random', jitter: { angle: 0.1 } },
  )
  feathers('Tail barbs', 'line', 'dark', feather(15, { barbs: 34, lean: 1.1, tears: 0 }), paper, {
    size: 90,
    spacing: 34,
    angle: 'following',
    pressure: 'size',
  })
  feathers(
    'Tuft turning',
    'soft many',
    'light',
    times(4, (k) => down(30 + k, { fibres: 40 + 12 * k, length: 0.3 + 0.04 * k })),
    mask,
    { size: 60, spacing: 42, rule: 'inOrder', jitter: { angle: 0.6 } },
  )
  feathers('Quill scratch', 'line', 'dark', nib(16, { flat: 0.09, slant: 1.2, rough: 0.5 }), paper, {
    size: 26,
    spacing: 8,
    pressure: 'both',
  })
  feathers('Preened edge', 'soft line', 'alpha', feather(17, { barbs: 60, lean: 0.25, fullness: 0.7 }), alpha, {
    size: 84,
    spacing: 22,
    angle: 'following',
    turn: 90,
    flow: 0.6,
  })
  feathers('Nest lining', 'texture', 'light', down(18, { fibres: 60, curl: 2.6, thickness: 2.6 }), mask, {
    size: 120,
    spacing: 38,
    scatter: 60,
    jitter: { angle: 1, size: 0.4 },
  })
  feathers('Powder down', 'soft fill', 'light', scatter(19, { count: 420, from: 0.8, to: 3, falloff: 2.4 }), mask, {
    size: 90,
    spacing: 14,
    jitter: { angle: 1 },
    flow: 0.35,
    pressure: 'opacity',
  })

  const kelp = addTo('Kelp & Wrack')
  kelp('Kelp edge', 'line', 'dark', frond(41), paper, { size: 60, spacing: 40, angle: 'following', pressure: 'size' })
  kelp('Oarweed blade', 'stamp', 'dark', frond(42, { height: 160, waves: 4, ribs: 2 }), paper, {
    size: 180,
    spacing: 80,
    angle: 'following',
    jitter: { size: 0.3 },
  })
  kelp('Sugar kelp', 'line', 'dark', frond(43, { waves: 13, rag: 0.6 }), paper, {
    size: 110,
    spacing: 48,
    angle: 'following',
  })
  kelp('Bladder wrack', 'stamp', 'dark', wrack(44), paper, {
    size: 130,
    spacing: 60,
    jitter: { angle: 0.3, size: 0.4 },
  })
  kelp(
    'Wrack tangle',
    'many',
    'dark',
    times(4, (k) => wrack(50 + k, { spread: 0.4 + 0.12 * k })),
    paper,
    { size: 120, spacing: 46, scatter: 40, rule: 'random', jitter: { angle: 1, size: 0.3 } },
  )
  kelp('Thongweed', 'line', 'dark', frond(45, { height: 64, waves: 2, ribs: 1, rag: 0.1 }), paper, {
    size: 80,
    spacing: 30,
    angle: 'following',
    pressure: 'size',
  })
  kelp(
    'Dulse',
    'colour stamp',
    'own',
    wrack(46, { depth: 4, bladder: 9, spread: 0.4 }),
    tinted(46, [92, 18, 34], [178, 66, 70]),
    { size: 110, spacing: 58, jitter: { angle: 0.5, size: 0.3 } },
  )
  kelp(
    'Sea lettuce',
    'colour fill',
    'own',
    frond(47, { width: 256, height: 192, waves: 5, rag: 0.7 }),
    tinted(47, [58, 106, 42], [146, 190, 84]),
    { size: 110, spacing: 38, jitter: { angle: 1, size: 0.4 } },
  )
  kelp('Holdfast', 'stamp', 'alpha', wrack(48, { depth: 5, bladder: 0, spread: 0.8 }), alpha, {
    size: 120,
    spacing: 100,
  })
  kelp(
    'Drift line',
    'texture many',
    'dark',
    times(3, (k) => scatter(60 + k, { count: 70, to: 9, soft: 0.2 })),
    paper,
    { size: 90, spacing: 30, scatter: 50, rule: 'random', jitter: { angle: 1, size: 0.5 } },
  )

  const shells = addTo('Shell Stamps')
  shells('Queen scallop', 'stamp', 'dark', scallop(71), paper, { size: 110, spacing: 112 })
  shells(
    'Scallop spread',
    'stamp many',
    'dark',
    times(4, (k) => scallop(80 + k, { ribs: 9 + 2 * k, rings: 3 + k })),
    paper,
    { size: 84, spacing: 112, rule: 'random', jitter: { angle: 0.6, size: 0.3 } },
  )
  shells('Moon snail', 'stamp', 'dark', whorl(72), paper, { size: 96, spacing: 114, jitter: { angle: 1 } })
  shells(
    'Top shells',
    'stamp many',
    'dark',
    times(3, (k) => whorl(90 + k, { turns: 2.6 + 0.6 * k, stripes: 18 + 6 * k })),
    paper,
    { size: 76, spacing: 110, rule: 'inOrder', jitter: { angle: 1, size: 0.25 } },
  )
  shells('Mussel', 'colour stamp', 'own', valve(73), tinted(73, [24, 30, 58], [96, 104, 150]), {
    size: 96,
    spacing: 100,
    jitter: { angle: 1 },
  })
  shells(
    'Mussel bed',
    'colour many',
    'own',
    times(4, (k) => valve(100 + k, { rings: 7 + k })),
    tinted(74, [22, 26, 48], [120, 124, 160]),
    { size: 70, spacing: 46, scatter: 70, rule: 'random', jitter: { angle: 1, size: 0.3 } },
  )
  shells('Limpet', 'stamp', 'dark', valve(75, { width: 200, height: 180, rings: 6, point: 0.2 }), paper, {
    size: 80,
    spacing: 116,
  })
  shells(
    'Tellin pink',
    'colour stamp',
    'own',
    valve(76, { height: 150, rings: 12 }),
    tinted(76, [206, 120, 116], [248, 206, 190]),
    { size: 84, spacing: 108, jitter: { angle: 1, size: 0.2 } },
  )
  shells('Shell grit', 'texture', 'dark', scatter(77, { count: 90, from: 2, to: 9, soft: 0.15 }), paper, {
    size: 90,
    spacing: 40,
    jitter: { angle: 1 },
  })
  shells('Cockle rim', 'line', 'dark', scallop(78, { ribs: 21, rings: 2 }), paper, {
    size: 56,
    spacing: 84,
    angle: 'following',
  })

  const sand = addTo('Wet Sand Grains')
  sand('Wet sand', 'texture fill', 'light', scatter(111, { count: 700, from: 0.7, to: 2.4, falloff: 2 }), mask, {
    size: 120,
    spacing: 18,
    jitter: { angle: 1 },
    flow: 0.6,
  })
  sand('Coarse sand', 'texture fill', 'light', scatter(112, { count: 260, from: 1.5, to: 5, falloff: 1.8 }), mask, {
    size: 120,
    spacing: 26,
    jitter: { angle: 1, size: 0.2 },
  })
  sand('Ripple bars', 'texture', 'light', ripples(113), mask, { size: 130, spacing: 52 })
  sand('Ripple fine', 'texture', 'light', ripples(114, { bands: 14, waver: 9 }), mask, {
    size: 130,
    spacing: 46,
    angle: 'following',
  })
  sand('Foam edge', 'soft', 'light', scatter(115, { count: 200, from: 2, to: 11, falloff: 1.1, soft: 0.7 }), mask, {
    size: 80,
    spacing: 22,
    scatter: 35,
    jitter: { angle: 1, size: 0.5, opacity: 0.5 },
    flow: 0.7,
  })
  sand(
    'Pebbles',
    'stamp many',
    'dark',
    times(5, (k) => pad(120 + k, { hard: 0.8, squash: 0.7 + 0.07 * k, wear: 0.35, scale: 14 })),
    paper,
    { size: 46, spacing: 108, rule: 'random', jitter: { angle: 1, size: 0.5 } },
  )
  sand('Mud smear', 'soft', 'light', pad(116, { hard: 0.1, wear: 0.7, scale: 16, squash: 0.6 }), mask, {
    size: 90,
    spacing: 4,
    angle: 'following',
    flow: 0.8,
    behaviour: 'smear',
  })
  sand('Salt crust', 'texture', 'alpha', scatter(117, { count: 320, from: 1, to: 4, falloff: 1.4, soft: 0.1 }), alpha, {
    size: 110,
    spacing: 30,
    jitter: { angle: 1 },
  })
  sand(
    'Worm casts',
    'texture many',
    'dark',
    times(3, (k) => down(130 + k, { fibres: 9, curl: 5, thickness: 6, length: 0.34 })),
    paper,
    { size: 60, spacing: 104, scatter: 60, rule: 'random', jitter: { angle: 1, size: 0.3 } },
  )
  sand('Wash', 'soft fill', 'light', pad(118, { hard: 0, side: 256 }), mask, {
    size: 110,
    spacing: 8,
    flow: 0.2,
    pressure: 'opacity',
  })
  sand('Dry wash', 'texture fill', 'light', pad(119, { hard: 0.4, wear: 0.95, scale: 7, side: 256 }), mask, {
    size: 100,
    spacing: 14,
    jitter: { angle: 1 },
    flow: 0.5,
  })

  return brushes
}
