// SIMD twin of src/stroke/kernel-plain.ts, in AssemblyScript. Same arithmetic, eight mask pixels or two colour
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

export function stampMask(
  layer: usize, layerWidth: i32, level: usize, levelStride: i32, rows: usize, rowCount: i32, du: i32, dv: i32, alpha: i32,
): void {
  const alphas = i16x8.splat(<i16>alpha)
  const one = i16x8.splat(32767)
  const low = i16x8.splat(0xff)
  const low32 = i32x4.splat(0xff)
  const low15 = i32x4.splat(0x7fff)
  const duSteps = i32x4.mul(i32x4.splat(du), i32x4(0, 1, 2, 3))
  const dvSteps = i32x4.mul(i32x4.splat(dv), i32x4(0, 1, 2, 3))
  const du4 = i32x4.splat(du * 4)
  const dv4 = i32x4.splat(dv * 4)
  const stride = <usize>levelStride
  for (let r = 0; r < rowCount; r++, rows += ROW_BYTES) {
    const y = load<i32>(rows)
    let x = load<i32>(rows, 4)
    const end = load<i32>(rows, 8)
    let u = load<i32>(rows, 12)
    let v = load<i32>(rows, 16)
    let o = layer + (<usize>(y * layerWidth + x) << 1)
    for (; x + 8 <= end; x += 8, o += 16) {
      const us = i32x4.add(i32x4.splat(u), duSteps)
      const us4 = i32x4.add(us, du4)
      const vs = i32x4.add(i32x4.splat(v), dvSteps)
      const vs4 = i32x4.add(vs, dv4)
      const fx = i16x8.narrow_i32x4_s(v128.and(i32x4.shr_s(us, 8), low32), v128.and(i32x4.shr_s(us4, 8), low32))
      const fy = i16x8.narrow_i32x4_s(v128.and(i32x4.shr_s(vs, 1), low15), v128.and(i32x4.shr_s(vs4, 1), low15))
      let top = i16x8.splat(0)
      let bottom = i16x8.splat(0)
      let i = level + <usize>((v >> 16) * levelStride + (u >> 16)); u += du; v += dv
      top = v128.load_lane<u16>(i, top, 0); bottom = v128.load_lane<u16>(i + stride, bottom, 0)
      i = level + <usize>((v >> 16) * levelStride + (u >> 16)); u += du; v += dv
      top = v128.load_lane<u16>(i, top, 1); bottom = v128.load_lane<u16>(i + stride, bottom, 1)
      i = level + <usize>((v >> 16) * levelStride + (u >> 16)); u += du; v += dv
      top = v128.load_lane<u16>(i, top, 2); bottom = v128.load_lane<u16>(i + stride, bottom, 2)
      i = level + <usize>((v >> 16) * levelStride + (u >> 16)); u += du; v += dv
      top = v128.load_lane<u16>(i, top, 3); bottom = v128.load_lane<u16>(i + stride, bottom, 3)
      i = level + <usize>((v >> 16) * levelStride + (u >> 16)); u += du; v += dv
      top = v128.load_lane<u16>(i, top, 4); bottom = v128.load_lane<u16>(i + stride, bottom, 4)
      i = level + <usize>((v >> 16) * levelStride + (u >> 16)); u += du; v += dv
      top = v128.load_lane<u16>(i, top, 5); bottom = v128.load_lane<u16>(i + stride, bottom, 5)
      i = level + <usize>((v >> 16) * levelStride + (u >> 16)); u += du; v += dv
      top = v128.load_lane<u16>(i, top, 6); bottom = v128.load_lane<u16>(i + stride, bottom, 6)
      i = level + <usize>((v >> 16) * levelStride + (u >> 16)); u += du; v += dv
      top = v128.load_lane<u16>(i, top, 7); bottom = v128.load_lane<u16>(i + stride, bottom, 7)
      const value = mixLanes(v128.and(top, low), i16x8.shr_u(top, 8), v128.and(bottom, low), i16x8.shr_u(bottom, 8), fx, fy)
      const below = v128.load(o)
      const paint = i16x8.q15mulr_sat_s(value, alphas)
      v128.store(o, i16x8.add(below, i16x8.q15mulr_sat_s(paint, i16x8.sub(one, below))))
    }
    for (; x < end; x++, o += 2, u += du, v += dv) {
      const i = level + <usize>((v >> 16) * levelStride + (u >> 16))
      const j = i + stride
      const value = mix(load<u8>(i), load<u8>(i, 1), load<u8>(j), load<u8>(j, 1), (u >> 8) & 255, (v >> 1) & 0x7fff)
      const below = <i32>load<i16>(o)
      store<i16>(o, <i16>(below + mulQ15(mulQ15(value, alpha), 32767 - below)))
    }
  }
}

export function stampColour(
  layer: usize, layerWidth: i32, level: usize, levelStride: i32, rows: usize, rowCount: i32, du: i32, dv: i32, alpha: i32,
): void {
  const alphas = i16x8.splat(<i16>alpha)
  const down = <usize>levelStride << 2
  for (let r = 0; r < rowCount; r++, rows += ROW_BYTES) {
    const y = load<i32>(rows)
    let x = load<i32>(rows, 4)
    const end = load<i32>(rows, 8)
    let u = load<i32>(rows, 12)
    let v = load<i32>(rows, 16)
    let o = layer + (<usize>(y * layerWidth + x) << 3)
    for (; x + 2 <= end; x += 2, o += 16) {
      const i = level + (<usize>((v >> 16) * levelStride + (u >> 16)) << 2)
      const fx0 = <i16>((u >> 8) & 255)
      const fy0 = <i16>((v >> 1) & 0x7fff)
      u += du
      v += dv
      const j = level + (<usize>((v >> 16) * levelStride + (u >> 16)) << 2)
      const fx1 = <i16>((u >> 8) & 255)
      const fy1 = <i16>((v >> 1) & 0x7fff)
      u += du
      v += dv
      const a = v128.load_ext<u8>(i)
      const b = v128.load_ext<u8>(j)
      const c = v128.load_ext<u8>(i + down)
      const d = v128.load_ext<u8>(j + down)
      const fx = v128.shuffle<i64>(i16x8.splat(fx0), i16x8.splat(fx1), 0, 2)
      const fy = v128.shuffle<i64>(i16x8.splat(fy0), i16x8.splat(fy1), 0, 2)
      const value = mixLanes(
        v128.shuffle<i64>(a, b, 0, 2), v128.shuffle<i64>(a, b, 1, 3),
        v128.shuffle<i64>(c, d, 0, 2), v128.shuffle<i64>(c, d, 1, 3), fx, fy,
      )
      const paint = i16x8.q15mulr_sat_s(value, alphas)
      const paintAlpha = v128.shuffle<i16>(paint, paint, 3, 3, 3, 3, 7, 7, 7, 7)
      const below = v128.load(o)
      v128.store(o, i16x8.add_sat_s(i16x8.sub(below, i16x8.q15mulr_sat_s(below, paintAlpha)), paint))
    }
    if (x < end) {
      const i = level + (<usize>((v >> 16) * levelStride + (u >> 16)) << 2)
      const j = i + down
      const fx = (u >> 8) & 255
      const fy = (v >> 1) & 0x7fff
      const paintAlpha = mulQ15(mix(load<u8>(i, 3), load<u8>(i, 7), load<u8>(j, 3), load<u8>(j, 7), fx, fy), alpha)
      for (let c: usize = 0; c < 4; c++) {
        const paint = mulQ15(mix(load<u8>(i + c), load<u8>(i + c, 4), load<u8>(j + c), load<u8>(j + c, 4), fx, fy), alpha)
        const below = <i32>load<i16>(o + c * 2)
        store<i16>(o + c * 2, <i16>min(32767, below - mulQ15(below, paintAlpha) + paint))
      }
    }
  }
}
