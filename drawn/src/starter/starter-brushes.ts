import { bristles, down, feather, frond, nib, pad, ripples, scatter, valve, wrack } from '../motifs.ts'
import { ropeRibbon } from '../ribbons.ts'
import { alpha, collector, type DrawnBrush, mask, paper, times, tinted, tune } from '../tuning.ts'

/**
 * The starter library: forty brushes of our own, eight to a set, small on purpose. Their amounts were found by painting
 * with them; each set shows another thing that a recipe can do.
 */
export function starterBrushes(): DrawnBrush[] {
  const brushes: DrawnBrush[] = []
  const addTo = collector(brushes)

  const lines = addTo('Starter: lines')
  const dot = (seed: number, hard: number, more = {}) => pad(seed, { side: 96, hard, ...more })
  lines('Plain pen', 'line', 'light', dot(601, 0.9), mask, { size: 11, spacing: 6, pressure: 'size' })
  lines('Even pen', 'line', 'light', dot(602, 0.93), mask, { size: 7, spacing: 6 })
  lines('Slant nib', 'line', 'dark', nib(603, { flat: 0.16, slant: 0.9, rough: 0.05 }), paper, { size: 23, spacing: 5 })
  lines('Split nib', 'line dry', 'dark', nib(604, { flat: 0.3, slant: 1.3, rough: 0.75 }), paper, { size: 19, spacing: 9, pressure: 'both' })
  lines('Soft lead', 'line dry', 'light', scatter(605, { side: 96, count: 210, from: 0.7, to: 2.3, falloff: 1.6 }), mask, { size: 14, spacing: 11, jitter: { angle: 1 }, flow: 0.55, pressure: 'both' })
  lines('Charred stick', 'line dry', 'light', scatter(606, { side: 128, count: 260, from: 0.8, to: 4, falloff: 1 }), mask, { size: 33, spacing: 13, jitter: { angle: 1, opacity: 0.4 }, flow: 0.7 })
  lines('Tapered reed', 'line', 'light', dot(607, 0.85), mask, { size: 17, spacing: 5, taper: { startPx: 45, endPx: 90, size: 0.1, opacity: 1 } })
  lines('Dashes', 'line', 'light', dot(608, 0.9, { squash: 0.3 }), mask, { size: 21, spacing: 165, angle: 'following' })

  const soft = addTo('Starter: soft and broad')
  soft('Mist', 'soft fill', 'light', pad(611, { side: 160, hard: 0 }), mask, { size: 140, spacing: 9, flow: 0.12 })
  soft('Soft edge', 'soft', 'light', pad(612, { side: 160, hard: 0.35 }), mask, { size: 70, spacing: 8, flow: 0.45, pressure: 'opacity' })
  soft('Firm round', 'fill', 'light', dot(613, 0.72), mask, { size: 48, spacing: 6 })
  soft('Broad block', 'fill', 'light', pad(614, { side: 160, hard: 0.82, squash: 0.42 }), mask, { size: 84, spacing: 5, angle: 'following', turn: 90 })
  soft('Worn sponge', 'texture fill', 'light', pad(615, { side: 192, hard: 0.5, wear: 0.8, scale: 9 }), mask, { size: 92, spacing: 27, jitter: { angle: 1, opacity: 0.3 } })
  soft('Cloud bank', 'soft fill', 'light', down(616, { side: 192, fibres: 130, length: 0.36, curl: 2.2, thickness: 4 }), mask, { size: 118, spacing: 21, jitter: { angle: 1, size: 0.5 }, flow: 0.3 })
  soft('Wide wash', 'fill', 'light', ripples(617, { side: 192, bands: 3, waver: 26 }), mask, { size: 130, spacing: 15, flow: 0.35, jitter: { angle: 0.08 } })
  soft('Layered glaze', 'soft fill', 'light', pad(618, { side: 160, hard: 0.55 }), mask, { size: 76, spacing: 7, opacity: 0.35, blend: 'multiply' })

  const hair = addTo('Starter: bristle and grain')
  hair('Bristle flat', 'dry', 'light', bristles(621, { width: 64, height: 160, count: 26, dry: 0.3 }), mask, { size: 64, spacing: 4, angle: 'following' })
  hair('Bristle dry', 'dry', 'light', bristles(622, { width: 64, height: 160, count: 18, dry: 0.75 }), mask, { size: 72, spacing: 5, angle: 'following', pressure: 'opacity' })
  hair('Fan', 'dry', 'light', bristles(623, { width: 48, height: 192, count: 11, dry: 0.2 }), mask, { size: 96, spacing: 4, angle: 'following', pressure: 'both' })
  hair('Grit', 'texture', 'light', scatter(624, { side: 160, count: 90, from: 0.6, to: 2, falloff: 0.7, soft: 0.1 }), mask, { size: 88, spacing: 31, jitter: { angle: 1 } })
  hair('Fine spray', 'air', 'light', scatter(625, { side: 192, count: 320, from: 0.5, to: 1.4, falloff: 2 }), mask, { size: 120, spacing: 19, jitter: { angle: 1, opacity: 0.6 }, flow: 0.6 })
  hair('Coarse spray', 'air', 'light', scatter(626, { side: 192, count: 60, from: 1.4, to: 6.5, falloff: 1.1 }), mask, { size: 150, spacing: 47, jitter: { angle: 1, size: 0.6 } })
  hair('Ribbed stone', 'texture', 'light', ripples(627, { side: 160, bands: 9, waver: 7 }), mask, { size: 80, spacing: 34, jitter: { angle: 0.5 } })
  hair('Lint', 'texture', 'light', down(628, { side: 160, fibres: 34, length: 0.42, curl: 3, thickness: 1.3 }), mask, { size: 96, spacing: 52, jitter: { angle: 1, size: 0.4 } })

  const shapes = addTo('Starter: shapes that scatter')
  shapes('Long leaf', 'stamp', 'dark', frond(631, { width: 192, height: 56, waves: 1, ribs: 1, rag: 0.05 }), paper, { size: 58, spacing: 61, scatter: 55, jitter: { angle: 0.25, size: 0.4 } })
  shapes('Ragged leaf', 'stamp', 'dark', frond(632, { width: 192, height: 88, waves: 4, ribs: 3, rag: 0.5 }), paper, { size: 66, spacing: 74, scatter: 80, jitter: { angle: 0.5, size: 0.5 } })
  shapes('Twigs', 'stamp', 'dark', wrack(633, { side: 192, depth: 4, spread: 0.45, bladder: 0 }), paper, { size: 78, spacing: 48, jitter: { angle: 0.12, size: 0.3 } })
  shapes('Berries', 'stamp many', 'dark', times(3, (k) => wrack(634 + k, { side: 192, depth: 3, spread: 0.7, bladder: 11 })), paper, { size: 72, spacing: 57, rule: 'random', jitter: { angle: 1, size: 0.35 } })
  shapes('Pebbles', 'stamp many', 'dark', times(4, (k) => valve(640 + k, { width: 120, height: 92 + 6 * k, rings: 0, point: 0.4 })), paper, { size: 44, spacing: 81, scatter: 95, rule: 'random', jitter: { angle: 1, size: 0.6 } })
  shapes('Plumes', 'stamp', 'dark', feather(645, { width: 220, height: 96, barbs: 60, lean: 0.9, tears: 2 }), paper, { size: 88, spacing: 83, angle: 'following', jitter: { angle: 0.07 } })
  shapes('Tufts', 'stamp many', 'light', times(3, (k) => down(646 + k, { side: 128, fibres: 22, length: 0.4, curl: 0.3, thickness: 2 })), mask, { size: 47, spacing: 69, rule: 'inOrder', jitter: { angle: 0.1 } })
  shapes('Autumn leaves', 'colour stamp', 'own', frond(649, { width: 176, height: 96, waves: 3, ribs: 3, rag: 0.3 }), tinted(649, [128, 52, 20], [214, 158, 52]), { size: 64, spacing: 77, scatter: 110, jitter: { angle: 1, size: 0.5 }, vary: { hue: 0.04, value: 0.12 } })

  const other = addTo('Starter: take away and lay along')
  other('Clean away', 'erase', 'light', dot(651, 0.88), mask, { size: 40, spacing: 6, behaviour: 'erase' })
  other('Lift softly', 'erase soft', 'light', pad(652, { side: 160, hard: 0.1 }), mask, { size: 90, spacing: 8, flow: 0.25, behaviour: 'erase' })
  other('Pull along', 'smear', 'light', pad(653, { side: 128, hard: 0.4 }), mask, { size: 46, spacing: 4, flow: 0.75, behaviour: 'smear' })
  other('Drag rough', 'smear dry', 'light', bristles(654, { width: 56, height: 128, count: 16, dry: 0.5 }), mask, { size: 58, spacing: 4, flow: 0.85, angle: 'following', behaviour: 'smear' })
  other('Stain', 'fill', 'alpha', pad(655, { side: 160, hard: 0.5, wear: 0.45, scale: 14 }), alpha, { size: 100, spacing: 33, jitter: { angle: 1 }, opacity: 0.6, blend: 'darken' })
  other('Shine', 'soft', 'light', pad(656, { side: 128, hard: 0.15 }), mask, { size: 54, spacing: 9, flow: 0.4, blend: 'screen' })
  const cord = ropeRibbon()
  for (const [name, lay] of [['Cord, laid on', 'repeated'], ['Cord, stretched', 'stretched']] as const)
    brushes.push({ set: 'Starter: take away and lay along', name, tags: ['ribbon'], frames: [cord.pixels], recipe: tune('dark', 1, { size: 30, ribbon: { lay, leadInPx: cord.leadInPx, leadOutPx: cord.leadOutPx } }) })
  return brushes
} // biome-ignore format: one line a brush
