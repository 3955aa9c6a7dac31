// SIMD twin of src/stroke/kernel/plain.ts, in AssemblyScript. Same arithmetic, eight mask pixels or two colour
// pixels at a time; the plain file explains each step. What is left of a row goes through the same formulas one by one.

const ROW_BYTES: usize = 20

// @ts-ignore: decorator
@inline function mulQ15(a: i32, b: i32): i32 { return (a * b + 0x4000) >> 15 }

// @ts-ignore: decorator
@inline function mix(p00: i32, p01: i32, p10: i32, p11: i32, fx: i32, fy: i32): i32 {
  const top = ((p00 << 8) + (p01 - p00) * fx) >> 1
  const bottom = ((p10 << 8) + (p11 - p10) * fx) >> 1
  const value = top + mulQ15(bottom - top, fy)
  return value + (value >> 8)
}

// @ts-ignore: decorator
@inline function mixLanes(p00: v128, p01: v128, p10: v128, p11: v128, fx: v128, fy: v128): v128 {
  const top = i16x8.shr_u(i16x8.add(i16x8.shl(p00, 8), i16x8.mul(i16x8.sub(p01, p00), fx)), 1)
  const bottom = i16x8.shr_u(i16x8.add(i16x8.shl(p10, 8), i16x8.mul(i16x8.sub(p11, p10), fx)), 1)
  const value = i16x8.add(top, i16x8.q15mulr_sat_s(i16x8.sub(bottom, top), fy))
  return i16x8.add(value, i16x8.shr_s(value, 8))
}

/** Weights of `count` pixels along a row by a grain that repeats. */
function grainRow(
  to: usize, count: i32, level: usize, stride: i32, periodU: i32, periodV: i32, u: i32, v: i32, du: i32, dv: i32,
): void {
  const end = to + (<usize>count << 1)
  for (; to < end; to += 2) {
    const i = level + <usize>((v >> 16) * stride + (u >> 16))
    const j = i + <usize>stride
    store<i16>(to, <i16>mix(load<u8>(i), load<u8>(i, 1), load<u8>(j), load<u8>(j, 1), (u >> 8) & 255, (v >> 1) & 0x7fff))
    u += du
    u = u >= periodU ? u - periodU : u < 0 ? u + periodU : u
    v += dv
    v = v >= periodV ? v - periodV : v < 0 ? v + periodV : v
  }
}

export function stamp(
  layer: usize, layerWidth: i32, level: usize, levelStride: i32, rows: usize, rowCount: i32, du: i32, dv: i32, alpha: i32,
  lay: i32, scratch: usize, weights: usize,
  grain: usize, grainStride: i32, periodU: i32, periodV: i32, grainDu: i32, grainDv: i32, grainStarts: usize,
  tintR: i32, tintG: i32, tintB: i32, matrix: usize, patch: usize, patchWidth: i32, patchLeft: i32, patchTop: i32,
): void {
  const isColour = lay == 2
  for (let r = 0; r < rowCount; r++, rows += ROW_BYTES, grainStarts += 8) {
    const y = load<i32>(rows)
    const x = load<i32>(rows, 4)
    const count = load<i32>(rows, 8) - x
    const u = load<i32>(rows, 12)
    const v = load<i32>(rows, 16)
    const pixel = <usize>(y * layerWidth + x)
    if (grain) grainRow(weights, count, grain, grainStride, periodU, periodV, load<i32>(grainStarts), load<i32>(grainStarts, 4), grainDu, grainDv)
    if (isColour) {
      colourRow(layer + (pixel << 3), count, level, levelStride, u, v, du, dv, alpha, grain ? weights : 0, matrix)
      continue
    }
    if (lay == 0 && !grain) {
      maskRow(layer + (pixel << 1), count, level, levelStride, u, v, du, dv, alpha, true)
      continue
    }
    maskRow(scratch, count, level, levelStride, u, v, du, dv, alpha, false)
    if (grain) weighMask(scratch, weights, count)
    if (lay == 0) layMask(layer + (pixel << 1), scratch, count)
    else if (lay == 1) layTint(layer + (pixel << 3), scratch, count, tintR, tintG, tintB)
    else laySmear(layer + (pixel << 3), scratch, patch + (<usize>((y - patchTop) * patchWidth + x - patchLeft) << 3), count)
  }
}

/** Samples a coverage tip along a row, and lays it on the layer at once or only writes it down. */
function maskRow(
  to: usize, count: i32, level: usize, levelStride: i32, u: i32, v: i32, du: i32, dv: i32, alpha: i32, lays: bool,
): void {
  const one = i16x8.splat(32767)
  const alphas = i16x8.splat(<i16>alpha)
  const low = i16x8.splat(0xff)
  const low32 = i32x4.splat(0xff)
  const low15 = i32x4.splat(0x7fff)
  const duSteps = i32x4.mul(i32x4.splat(du), i32x4(0, 1, 2, 3))
  const dvSteps = i32x4.mul(i32x4.splat(dv), i32x4(0, 1, 2, 3))
  const du4 = i32x4.splat(du * 4)
  const dv4 = i32x4.splat(dv * 4)
  const strides = i32x4.splat(levelStride)
  const du8 = du * 8
  const dv8 = dv * 8
  const stride = <usize>levelStride
  for (; count >= 8; count -= 8, to += 16) {
    const us = i32x4.add(i32x4.splat(u), duSteps)
    const us4 = i32x4.add(us, du4)
    const vs = i32x4.add(i32x4.splat(v), dvSteps)
    const vs4 = i32x4.add(vs, dv4)
    const fx = i16x8.narrow_i32x4_s(v128.and(i32x4.shr_s(us, 8), low32), v128.and(i32x4.shr_s(us4, 8), low32))
    const fy = i16x8.narrow_i32x4_s(v128.and(i32x4.shr_s(vs, 1), low15), v128.and(i32x4.shr_s(vs4, 1), low15))
    let top = i16x8.splat(0)
    let bottom = i16x8.splat(0)
    const at = i32x4.add(i32x4.mul(i32x4.shr_s(vs, 16), strides), i32x4.shr_s(us, 16))
    const at4 = i32x4.add(i32x4.mul(i32x4.shr_s(vs4, 16), strides), i32x4.shr_s(us4, 16))
    u += du8
    v += dv8
    let i = level + <usize>i32x4.extract_lane(at, 0)
    top = v128.load_lane<u16>(i, top, 0); bottom = v128.load_lane<u16>(i + stride, bottom, 0)
    i = level + <usize>i32x4.extract_lane(at, 1)
    top = v128.load_lane<u16>(i, top, 1); bottom = v128.load_lane<u16>(i + stride, bottom, 1)
    i = level + <usize>i32x4.extract_lane(at, 2)
    top = v128.load_lane<u16>(i, top, 2); bottom = v128.load_lane<u16>(i + stride, bottom, 2)
    i = level + <usize>i32x4.extract_lane(at, 3)
    top = v128.load_lane<u16>(i, top, 3); bottom = v128.load_lane<u16>(i + stride, bottom, 3)
    i = level + <usize>i32x4.extract_lane(at4, 0)
    top = v128.load_lane<u16>(i, top, 4); bottom = v128.load_lane<u16>(i + stride, bottom, 4)
    i = level + <usize>i32x4.extract_lane(at4, 1)
    top = v128.load_lane<u16>(i, top, 5); bottom = v128.load_lane<u16>(i + stride, bottom, 5)
    i = level + <usize>i32x4.extract_lane(at4, 2)
    top = v128.load_lane<u16>(i, top, 6); bottom = v128.load_lane<u16>(i + stride, bottom, 6)
    i = level + <usize>i32x4.extract_lane(at4, 3)
    top = v128.load_lane<u16>(i, top, 7); bottom = v128.load_lane<u16>(i + stride, bottom, 7)
    const value = mixLanes(v128.and(top, low), i16x8.shr_u(top, 8), v128.and(bottom, low), i16x8.shr_u(bottom, 8), fx, fy)
    const paint = i16x8.q15mulr_sat_s(value, alphas)
    const below = v128.load(to)
    v128.store(to, lays ? i16x8.add(below, i16x8.q15mulr_sat_s(paint, i16x8.sub(one, below))) : paint)
  }
  for (; count > 0; count--, to += 2, u += du, v += dv) {
    const i = level + <usize>((v >> 16) * levelStride + (u >> 16))
    const j = i + stride
    const value = mix(load<u8>(i), load<u8>(i, 1), load<u8>(j), load<u8>(j, 1), (u >> 8) & 255, (v >> 1) & 0x7fff)
    const paint = mulQ15(value, alpha)
    const below = <i32>load<i16>(to)
    store<i16>(to, <i16>(lays ? below + mulQ15(paint, 32767 - below) : paint))
  }
}

/** Samples a colour tip along a row, weighs it, changes its colours and lays it, two pixels at a time. */
function colourRow(
  o: usize, count: i32, level: usize, levelStride: i32, u: i32, v: i32, du: i32, dv: i32, alpha: i32, weights: usize, matrix: usize,
): void {
  const alphas = i16x8.splat(<i16>alpha)
  const down = <usize>levelStride << 2
  const redGreen = matrix ? v128.load(matrix) : i16x8.splat(0)
  const blue = matrix ? v128.load64_zero(matrix, 16) : i16x8.splat(0)
  for (; count > 0; count -= 2, o += 16) {
    const one = count == 1
    const i = level + (<usize>((v >> 16) * levelStride + (u >> 16)) << 2)
    const fx0 = i16x8.splat(<i16>((u >> 8) & 255))
    const fy0 = i16x8.splat(<i16>((v >> 1) & 0x7fff))
    if (!one) { u += du; v += dv } // past the end of a row the tip may end too: the last pixel is then taken twice
    const j = level + (<usize>((v >> 16) * levelStride + (u >> 16)) << 2)
    const fx = v128.shuffle<i64>(fx0, i16x8.splat(<i16>((u >> 8) & 255)), 0, 2)
    const fy = v128.shuffle<i64>(fy0, i16x8.splat(<i16>((v >> 1) & 0x7fff)), 0, 2)
    u += du
    v += dv
    const a = v128.load_ext<u8>(i)
    const b = v128.load_ext<u8>(j)
    const c = v128.load_ext<u8>(i + down)
    const d = v128.load_ext<u8>(j + down)
    let paint = i16x8.q15mulr_sat_s(mixLanes(
      v128.shuffle<i64>(a, b, 0, 2), v128.shuffle<i64>(a, b, 1, 3),
      v128.shuffle<i64>(c, d, 0, 2), v128.shuffle<i64>(c, d, 1, 3), fx, fy,
    ), alphas)
    if (weights) {
      const pair = v128.load32_splat(weights)
      paint = i16x8.q15mulr_sat_s(paint, v128.shuffle<i16>(pair, pair, 0, 0, 0, 0, 1, 1, 1, 1))
      weights += 4
    }
    if (matrix) {
      const first = changeColour(v128.shuffle<i64>(paint, paint, 0, 0), redGreen, blue)
      const second = changeColour(v128.shuffle<i64>(paint, paint, 1, 1), redGreen, blue)
      paint = i16x8.narrow_i32x4_s(first, second)
    }
    const paintAlpha = v128.shuffle<i16>(paint, paint, 3, 3, 3, 3, 7, 7, 7, 7)
    if (one) {
      const below = v128.load64_zero(o)
      v128.store_lane<i64>(o, i16x8.add_sat_s(i16x8.sub(below, i16x8.q15mulr_sat_s(below, paintAlpha)), paint), 0)
    } else {
      const below = v128.load(o)
      v128.store(o, i16x8.add_sat_s(i16x8.sub(below, i16x8.q15mulr_sat_s(below, paintAlpha)), paint))
    }
  }
}

/** One pixel, standing twice in its lanes, with its colours changed, as four 32-bit numbers. */
// @ts-ignore: decorator
@inline function changeColour(pixel: v128, redGreen: v128, blue: v128): v128 {
  // each lane is the sum of two products; a channel is two neighbouring lanes
  const sums = i32x4.shr_s(i32x4.dot_i16x8_s(pixel, redGreen), 1)
  const sumsBlue = i32x4.shr_s(i32x4.dot_i16x8_s(pixel, blue), 1)
  const first = v128.shuffle<i32>(sums, sumsBlue, 0, 2, 4, 4)
  const second = v128.shuffle<i32>(sums, sumsBlue, 1, 3, 5, 5)
  const alpha = i32x4.splat(<i32>i16x8.extract_lane_s(pixel, 3))
  const mixed = i32x4.min_s(alpha, i32x4.shr_s(i32x4.add(first, second), 11))
  return i32x4.replace_lane(i32x4.max_s(i32x4.splat(0), mixed), 3, <i32>i16x8.extract_lane_s(pixel, 3))
}

function weighMask(scratch: usize, weights: usize, count: i32): void {
  for (; count >= 8; count -= 8, scratch += 16, weights += 16) {
    v128.store(scratch, i16x8.q15mulr_sat_s(v128.load(scratch), v128.load(weights)))
  }
  for (; count > 0; count--, scratch += 2, weights += 2) store<i16>(scratch, <i16>mulQ15(load<i16>(scratch), load<i16>(weights)))
}

function layMask(layer: usize, scratch: usize, count: i32): void {
  const one = i16x8.splat(32767)
  for (; count >= 8; count -= 8, layer += 16, scratch += 16) {
    const below = v128.load(layer)
    v128.store(layer, i16x8.add(below, i16x8.q15mulr_sat_s(v128.load(scratch), i16x8.sub(one, below))))
  }
  for (; count > 0; count--, layer += 2, scratch += 2) {
    const below = <i32>load<i16>(layer)
    store<i16>(layer, <i16>(below + mulQ15(load<i16>(scratch), 32767 - below)))
  }
}

function layTint(layer: usize, scratch: usize, count: i32, r: i32, g: i32, b: i32): void {
  // alpha is laid as the full colour of its own channel, which q15 arithmetic would round away: it is put in by lane
  const tint = i16x8(<i16>r, <i16>g, <i16>b, 0, 0, 0, 0, 0)
  for (; count > 0; count--, layer += 8, scratch += 2) {
    const alpha = load<i16>(scratch)
    const alphas = i16x8.splat(alpha)
    const paint = i16x8.replace_lane(i16x8.q15mulr_sat_s(tint, alphas), 3, alpha)
    const below = v128.load64_zero(layer)
    v128.store_lane<i64>(layer, i16x8.add_sat_s(i16x8.sub(below, i16x8.q15mulr_sat_s(below, alphas)), paint), 0)
  }
}

function laySmear(layer: usize, scratch: usize, patch: usize, count: i32): void {
  for (; count > 0; count--, layer += 8, scratch += 2, patch += 8) {
    const below = v128.load64_zero(layer)
    const moved = i16x8.q15mulr_sat_s(i16x8.sub(v128.load64_zero(patch), below), i16x8.splat(load<i16>(scratch)))
    v128.store_lane<i64>(layer, i16x8.add(below, moved), 0)
  }
}

/** Eight channels of two canvas pixels: what is kept of the canvas, and the paint on it, rounded. */
// @ts-ignore: decorator
@inline function mixOnto(canvas: usize, keep: v128, paint: v128, times: v128): v128 {
  const half = i32x4.splat(0x4000)
  const below = v128.load_ext<u8>(canvas)
  const low = i32x4.add(i32x4.add(i32x4.extmul_low_i16x8_s(below, keep), i32x4.extmul_low_i16x8_s(paint, times)), half)
  const high = i32x4.add(i32x4.add(i32x4.extmul_high_i16x8_s(below, keep), i32x4.extmul_high_i16x8_s(paint, times)), half)
  const mixed = i16x8.narrow_i32x4_s(i32x4.shr_s(low, 15), i32x4.shr_s(high, 15))
  return i8x16.narrow_i16x8_u(mixed, mixed)
}

/** Lays a row of coverage in one colour on a row of the canvas; both may be read one pixel beyond their end. */
export function coverRow(canvas: usize, layer: usize, covers: usize, count: i32, r: i32, g: i32, b: i32): void {
  const colour = i16x8(<i16>r, <i16>g, <i16>b, 255, <i16>r, <i16>g, <i16>b, 255)
  const one = i16x8.splat(32767)
  for (; count > 0; count -= 2, canvas += 8, layer += 4, covers += 4) {
    const alphas = i16x8.q15mulr_sat_s(v128.load32_splat(layer), v128.load32_splat(covers))
    const alpha = v128.shuffle<i16>(alphas, alphas, 0, 0, 0, 0, 1, 1, 1, 1)
    const mixed = mixOnto(canvas, i16x8.sub(one, alpha), alpha, colour)
    if (count > 1) v128.store_lane<i64>(canvas, mixed, 0)
    else v128.store_lane<i32>(canvas, mixed, 0)
  }
}

/** Lays a row of premultiplied colours on a row of the canvas; both may be read one pixel beyond their end. */
export function overRow(canvas: usize, layer: usize, covers: usize, count: i32): void {
  const one = i16x8.splat(32767)
  const full = i16x8.splat(255)
  for (; count > 0; count -= 2, canvas += 8, layer += 16, covers += 4) {
    const pair = v128.load32_splat(covers)
    const paint = i16x8.q15mulr_sat_s(v128.load(layer), v128.shuffle<i16>(pair, pair, 0, 0, 0, 0, 1, 1, 1, 1))
    const keep = i16x8.sub(one, v128.shuffle<i16>(paint, paint, 3, 3, 3, 3, 7, 7, 7, 7))
    const mixed = mixOnto(canvas, keep, paint, full)
    if (count > 1) v128.store_lane<i64>(canvas, mixed, 0)
    else v128.store_lane<i32>(canvas, mixed, 0)
  }
}
