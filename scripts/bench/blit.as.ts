// The cheapest stamp there is, for comparison only: an upright tip in whole px, laid with source-over, eight at a time.

export function blit(layer: usize, layerWidth: i32, tip: usize, width: i32, height: i32, x: i32, y: i32, alpha: i32): void {
  const one = i16x8.splat(32767)
  const alphas = i16x8.splat(<i16>alpha)
  for (let row = 0; row < height; row++) {
    let o = layer + (<usize>((y + row) * layerWidth + x) << 1)
    let i = tip + <usize>(row * width)
    for (let column = 0; column + 8 <= width; column += 8, o += 16, i += 8) {
      const paint = i16x8.q15mulr_sat_s(i16x8.shl(v128.load_ext<u8>(i), 7), alphas)
      const below = v128.load(o)
      v128.store(o, i16x8.add(below, i16x8.q15mulr_sat_s(paint, i16x8.sub(one, below))))
    }
  }
}
