// Sine, cosine and direction that give the same bits in every engine: only + - * / and Math.sqrt, which IEEE 754
// defines exactly. Engines are free to differ in the last bit of Math.sin, and a stroke must not.

const DEG_IN_RAD = Math.PI / 180

/** Cosine and sine of an angle in degrees, written to `out[0]` and `out[1]`; off by less than 1e-11. */
export function cosSinDeg(deg: number, out: Float64Array): void {
  const quarter = Math.floor(deg / 90 + 0.5)
  const x = (deg - quarter * 90) * DEG_IN_RAD // within +-pi/4
  const x2 = x * x
  // Taylor series about 0 (from memory); the first term left out is below 1e-12 at pi/4.
  const sin = x * (1 + x2 * (-1 / 6 + x2 * (1 / 120 + x2 * (-1 / 5040 + x2 * (1 / 362_880 + x2 * (-1 / 39_916_800))))))
  const cos =
    1 + x2 * (-1 / 2 + x2 * (1 / 24 + x2 * (-1 / 720 + x2 * (1 / 40_320 + x2 * (-1 / 3_628_800 + x2 / 479_001_600)))))
  switch (((quarter % 4) + 4) % 4) {
    case 0:
      out[0] = cos
      out[1] = sin
      return
    case 1:
      out[0] = -sin
      out[1] = cos
      return
    case 2:
      out[0] = -cos
      out[1] = -sin
      return
    default:
      out[0] = sin
      out[1] = -cos
  }
}

/** Direction of (dx, dy) in degrees, 0 to 360 (excluded), clockwise from right with y down; 0 for no length. */
export function directionDeg(dx: number, dy: number): number {
  const ax = Math.abs(dx)
  const ay = Math.abs(dy)
  if (ax === 0 && ay === 0) return 0
  const low = Math.min(ax, ay) / Math.max(ax, ay)
  let deg = arcTangent(low) / DEG_IN_RAD
  if (ay > ax) deg = 90 - deg
  if (dx < 0) deg = 180 - deg
  if (dy < 0) deg = 360 - deg
  return deg >= 360 ? 0 : deg
}

const turned = new Float64Array(2)

/**
 * The way a pen leans, in degrees clockwise from right; 0 for an upright pen.
 * @param tiltX, tiltY Lean against each axis, degrees −90…90, as W3C Pointer Events has them.
 */
export function tiltDirectionDeg(tiltX: number, tiltY: number): number {
  // tan(tiltY) / tan(tiltX) as (sin Y cos X) / (sin X cos Y), which stays finite at 90 degrees
  cosSinDeg(tiltX, turned)
  const [cosX, sinX] = turned
  cosSinDeg(tiltY, turned)
  return directionDeg(sinX * turned[0], turned[1] * cosX)
}

/** atan on [0, 1]: twice halved by atan(x) = 2 atan(x / (1 + sqrt(1 + x²))), then its series. */
function arcTangent(x: number): number {
  const half = x / (1 + Math.sqrt(1 + x * x))
  const quarter = half / (1 + Math.sqrt(1 + half * half))
  const q = quarter * quarter
  return 4 * quarter * (1 + q * (-1 / 3 + q * (1 / 5 + q * (-1 / 7 + q * (1 / 9 + q * (-1 / 11 + q / 13))))))
}
