/** Numbers per sample in a flat path: x and y in px, pressure 0…1, tilt in degrees -90…90 on two axes, time in ms. */
export const SAMPLE_STRIDE = 6
export const SAMPLE = { x: 0, y: 1, pressure: 2, tiltX: 3, tiltY: 4, ms: 5 } as const

/** A hand's path: `[x, y, pressure, tiltX, tiltY, ms, …]`. */
export type Samples = Float64Array
