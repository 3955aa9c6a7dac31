/** A picture as a worker hands it over, opaque or clear RGBA. */
export type Shown = { width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> }
