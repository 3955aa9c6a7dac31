import { clamp, createDraw, createNoise, Ink } from './ink.ts'

const TAU = Math.PI * 2

/** Fluff: fine curved fibres from a middle. */
export function down(seed: number, { side = 256, fibres = 90, length = 0.46, curl = 0.8, thickness = 1.6 } = {}): Ink {
  const draw = createDraw(seed)
  const ink = new Ink(side, side)
  const middle = side / 2
  for (let n = 0; n < fibres; n++) {
    const angle = draw() * TAU
    const bend = (draw() - 0.5) * curl * 2
    const reach = side * length * (0.45 + 0.55 * draw())
    const strength = 0.25 + 0.75 * draw()
    ink.line(
      (t) => [middle + Math.cos(angle + bend * t) * reach * t, middle + Math.sin(angle + bend * t) * reach * t],
      {
        radius: (t) => thickness * (1.2 - t),
        alpha: (t) => strength * (1 - t) ** 0.7,
        steps: 60,
      },
    )
  }
  return ink
}

/** A whole feather along the x axis: a bent shaft with barbs, torn in places. */
export function feather(
  seed: number,
  { width = 384, height = 160, barbs = 90, lean = 0.7, tears = 3, fullness = 0.9 } = {},
): Ink {
  const draw = createDraw(seed)
  const ink = new Ink(width, height)
  const shaft = (t: number): [number, number] => [
    width * (0.04 + 0.92 * t),
    height / 2 + Math.sin(t * 2.2) * height * 0.06,
  ]
  const torn = Array.from({ length: tears }, () => 0.2 + 0.7 * draw())
  for (let n = 0; n < barbs; n++) {
    const t0 = 0.12 + (0.86 * n) / barbs
    if (torn.some((at) => Math.abs(at - t0) < 0.012)) continue
    const reach = height * 0.48 * Math.sin(Math.PI * Math.min(1, t0 * 1.02) ** 0.8) * (0.85 + 0.15 * draw())
    for (const side of [-1, 1]) {
      const [x0, y0] = shaft(t0)
      const strength = fullness * (0.6 + 0.4 * draw())
      ink.line((t) => [x0 + reach * lean * t * (0.6 + 0.4 * t), y0 + side * reach * t * (1 - 0.25 * t)], {
        radius: (t) => 1.9 - t,
        alpha: (t) => strength * (1 - 0.6 * t),
        steps: 36,
      })
    }
  }
  return ink.line(shaft, { radius: (t) => 3.4 * (1 - 0.8 * t), steps: 220 })
}

/** A ragged blade of kelp with a wavy rim and ribs. */
export function frond(seed: number, { width = 384, height = 128, waves = 7, ribs = 4, rag = 0.35 } = {}): Ink {
  const noise = createNoise(seed, 22)
  const fine = createNoise(seed + 1, 6)
  return new Ink(width, height).fill((x, y) => {
    const t = x / width
    const body = Math.sin(Math.PI * clamp(t)) ** 0.6 * height * 0.4
    const rim =
      body * (1 - rag * 0.5 + rag * 0.5 * Math.sin(t * TAU * waves + seed)) * (0.8 + 0.4 * (noise(x, y) - 0.5))
    const off = Math.abs(y - height / 2 - Math.sin(t * 5 + seed) * height * 0.05)
    const cover = clamp((rim - off) / 2)
    const rib = 0.5 + 0.5 * Math.cos((off / Math.max(1, rim)) * Math.PI * ribs)
    return cover * (0.45 + 0.4 * rib + 0.3 * (fine(x, y) - 0.5))
  })
}

/** Branching wrack with bladders. */
export function wrack(seed: number, { side = 320, depth = 5, spread = 0.55, bladder = 5 } = {}): Ink {
  const draw = createDraw(seed)
  const ink = new Ink(side, side)
  const branch = (x: number, y: number, angle: number, length: number, level: number): void => {
    const bend = (draw() - 0.5) * 0.7
    const end: [number, number] = [x + Math.cos(angle + bend) * length, y + Math.sin(angle + bend) * length]
    ink.line((t) => [x + (end[0] - x) * t + Math.sin(t * Math.PI) * bend * 8, y + (end[1] - y) * t], {
      radius: () => 1.4 + level * 0.9,
      steps: 40,
    })
    if (bladder > 0 && draw() < 0.7) ink.dab((x + end[0]) / 2, (y + end[1]) / 2, bladder * (0.7 + 0.6 * draw()))
    if (level === 0) {
      ink.dab(end[0], end[1], bladder * 0.9)
      return
    }
    branch(end[0], end[1], angle - spread * (0.6 + 0.8 * draw()), length * 0.78, level - 1)
    branch(end[0], end[1], angle + spread * (0.6 + 0.8 * draw()), length * 0.78, level - 1)
  }
  branch(side / 2, side * 0.96, -Math.PI / 2, side * 0.21, depth)
  return ink
}

/** A fan shell with ribs and growth rings. */
export function scallop(seed: number, { side = 256, ribs = 13, rings = 5, open = 1.9 } = {}): Ink {
  const noise = createNoise(seed, 9)
  const [cx, cy] = [side / 2, side * 0.86]
  return new Ink(side, side).fill((x, y) => {
    const angle = Math.atan2(x - cx, cy - y)
    const radius = Math.hypot(x - cx, y - cy)
    const rib = 0.5 + 0.5 * Math.cos((angle / open) * ribs * TAU)
    const outer = side * (0.76 + 0.03 * rib) * Math.cos(angle * 0.45)
    const inside = clamp((outer - radius) / 2) * clamp((open / 2 - Math.abs(angle)) * 30)
    const ring = 0.5 + 0.5 * Math.cos((radius / outer) * rings * TAU + 0.6 * noise(x, y))
    const hinge = clamp((16 - Math.abs(y - cy) - Math.abs(x - cx) * 0.35) / 3)
    return Math.max(inside * (0.3 + 0.5 * rib + 0.22 * ring), hinge)
  })
}

/** A spiral shell seen from above. */
export function whorl(seed: number, { side = 256, turns = 3.2, growth = 0.9, stripes = 26 } = {}): Ink {
  const noise = createNoise(seed, 12)
  const middle = side / 2
  return new Ink(side, side).fill((x, y) => {
    const angle = Math.atan2(y - middle, x - middle)
    const radius = Math.hypot(x - middle, y - middle) / (side * 0.47)
    if (radius > 1) return clamp((1.02 - radius) * 30)
    const turn = Math.log(Math.max(0.02, radius)) / growth + angle / TAU
    const seam = Math.abs(turn * turns - Math.round(turn * turns))
    const line = clamp((0.5 - seam) * 3)
    const stripe = 0.5 + 0.5 * Math.cos(angle * stripes + radius * 9)
    return (
      clamp(seam * 9 + 0.1) *
      (0.4 + 0.35 * line + 0.25 * stripe) *
      (0.85 + 0.3 * noise(x, y)) *
      clamp((1 - radius) * 26)
    )
  })
}

/** Mussel, limpet and the like: an egg with rings around an off-centre point. */
export function valve(seed: number, { width = 256, height = 176, rings = 9, point = 0.82 } = {}): Ink {
  const noise = createNoise(seed, 14)
  return new Ink(width, height).fill((x, y) => {
    const [u, v] = [(x / width - 0.5) * 2, (y / height - 0.5) * 2]
    const egg = 1 - u * u - v * v * (1.05 + 0.5 * u)
    const distance = Math.hypot((u - point) * 0.8, v) * (0.94 + 0.12 * noise(x, y))
    const ring = 0.5 + 0.5 * Math.cos(distance * rings * 3.2)
    return clamp(egg * 14) * (0.35 + 0.6 * ring)
  })
}

/** Grains, crumbs or drops scattered over a round field. */
export function scatter(
  seed: number,
  { side = 256, count = 140, from = 1, to = 6, falloff = 1.2, soft = 0.35 } = {},
): Ink {
  const draw = createDraw(seed)
  const ink = new Ink(side, side)
  for (let n = 0; n < count; n++) {
    const angle = draw() * TAU
    const away = draw() ** (1 / falloff)
    const reach = away * side * 0.46
    const size = from + (to - from) * draw() ** 2
    ink.dab(side / 2 + Math.cos(angle) * reach, side / 2 + Math.sin(angle) * reach, size, {
      soft,
      alpha: 0.4 + 0.6 * draw(),
    })
  }
  return ink
}

/** Ripples left in sand: wavering bands inside a soft field. */
export function ripples(seed: number, { side = 256, bands = 7, waver = 14 } = {}): Ink {
  const noise = createNoise(seed, 40)
  const grain = createNoise(seed + 3, 3)
  return new Ink(side, side).fill((x, y) => {
    const field = clamp((0.48 - Math.hypot(x / side - 0.5, y / side - 0.5)) * 5)
    const wave = Math.cos(((y + waver * (noise(x, y) - 0.5) * 2) / side) * bands * TAU)
    return field * clamp(0.15 + 0.75 * wave) * (0.55 + 0.7 * grain(x, y))
  })
}

/** A soft or hard round, worn by noise. */
export function pad(seed: number, { side = 192, hard = 0.35, wear = 0, scale = 5, squash = 1 } = {}): Ink {
  const noise = createNoise(seed, scale)
  const ink = new Ink(side, side).fill((x, y) => {
    const distance = Math.hypot(x / side - 0.5, (y / side - 0.5) / squash) * 2
    return clamp((0.97 - distance) / Math.max(0.02, 0.97 - hard))
  })
  return wear > 0 ? ink.wear((x, y) => clamp(1.5 - wear * 2.4 * noise(x, y))) : ink
}

/** One lay of twisted rope, made to follow itself. */
export function rope(seed: number, { width = 192, height = 96, strands = 3, lay = 0.9, hairs = 0 } = {}): Ink {
  const draw = createDraw(seed)
  const fibre = createNoise(seed, 3)
  const ink = new Ink(width, height).fill((x, y) => {
    const v = (y / height - 0.5) * 2
    const edge = clamp((0.78 - Math.abs(v)) * 16)
    const phase = (x / width) * strands + v * lay * 0.5
    const part = phase - Math.floor(phase)
    const bulge = Math.sin(Math.PI * part) ** 0.5
    return edge * clamp(bulge * 1.25 - 0.12) * (0.72 + 0.4 * fibre(x * 0.4 + y, y - x * 0.6))
  })
  for (let n = 0; n < hairs; n++) {
    const [x, side, reach] = [draw() * width, draw() < 0.5 ? -1 : 1, 6 + 12 * draw()]
    ink.line((t) => [x + reach * t, height / 2 + side * (height * 0.36 + reach * 0.5 * t)], {
      radius: () => 0.9,
      alpha: (t) => 0.7 * (1 - t),
      steps: 20,
    })
  }
  return ink
}

/** Links of a chain, one flat and one on edge. */
export function chain({ width = 224, height = 96, bar = 8 } = {}): Ink {
  const ring = (cx: number, rx: number, ry: number) => (x: number, y: number) => {
    const d = Math.hypot((x - cx) / rx, (y - height / 2) / ry)
    return clamp((bar / ry - Math.abs(d - 1)) * ry * 0.5)
  }
  return new Ink(width, height)
    .fill(ring(width * 0.3, width * 0.26, height * 0.36))
    .fill(
      (x, y) => clamp((bar - Math.abs(y - height / 2)) / 2) * clamp((width * 0.25 - Math.abs(x - width * 0.76)) / 2),
    )
}

/** Marks of a chart: a dot in a ring, a cross, a star of points. */
export function chartMark(kind: 'dot' | 'ring' | 'cross' | 'rose' | 'dash' | 'tick', { side = 160 } = {}): Ink {
  const ink = new Ink(side, side)
  const m = side / 2
  switch (kind) {
    case 'dot':
      return ink.dab(m, m, side * 0.4, { soft: 0.08 })
    case 'ring':
      return ink
        .fill((x, y) => clamp((side * 0.05 - Math.abs(Math.hypot(x - m, y - m) - side * 0.38)) / 1.5))
        .dab(m, m, side * 0.09, { soft: 0.2 })
    case 'cross':
      return ink.fill((x, y) => Math.max(bar(x - m, y - m, side), bar(y - m, x - m, side)))
    case 'rose':
      return ink.fill((x, y) => {
        const angle = Math.atan2(y - m, x - m)
        const point = Math.abs(Math.cos(angle * 4)) ** 6 * (Math.abs(Math.cos(angle * 2)) > 0.9 ? 0.46 : 0.3)
        return clamp((side * (0.05 + point) - Math.hypot(x - m, y - m)) / 2)
      })
    case 'dash':
      return ink.fill((x, y) => clamp((side * 0.3 - Math.abs(x - m)) / 2) * clamp((side * 0.09 - Math.abs(y - m)) / 2))
    case 'tick':
      return ink.fill(
        (x, y) => clamp((side * 0.05 - Math.abs(x - m)) / 1.5) * clamp((side * 0.42 - Math.abs(y - m)) / 2),
      )
  }
}

const bar = (along: number, across: number, side: number) =>
  clamp((side * 0.42 - Math.abs(along)) / 2) * clamp((side * 0.06 - Math.abs(across)) / 1.5)

/** A pen's nib: a slanted, slightly rough oblong. */
export function nib(seed: number, { side = 128, flat = 0.22, slant = 0.7, rough = 0.3 } = {}): Ink {
  const noise = createNoise(seed, 4)
  const [c, s] = [Math.cos(slant), Math.sin(slant)]
  return new Ink(side, side).fill((x, y) => {
    const [dx, dy] = [x - side / 2, y - side / 2]
    const along = Math.abs(c * dx + s * dy)
    const across = Math.abs(-s * dx + c * dy)
    return (
      clamp((side * 0.46 - along) / 3) *
      clamp((side * flat * 0.5 - across) / 2) *
      clamp(1.25 - rough * 1.6 * noise(x, y))
    )
  })
}

/** Bristles side by side, each with a load of its own. */
export function bristles(seed: number, { width = 96, height = 256, count = 34, dry = 0.4 } = {}): Ink {
  const draw = createDraw(seed)
  const ink = new Ink(width, height)
  for (let n = 0; n < count; n++) {
    const y = height * (0.05 + (0.9 * (n + draw() * 0.8)) / count)
    const load = draw()
    if (load < dry * 0.6) continue
    ink.dab(width / 2 + (draw() - 0.5) * width * 0.4, y, 2 + 5 * load, { soft: 0.5, alpha: 0.35 + 0.65 * load })
  }
  return ink
}
