/** Where a strip is read at a length along the path, both in strip px. */
export type StripRun = (alongPx: number) => number

type Strip = { lengthPx: number; leadInPx: number; leadOutPx: number }

/** Bodies that wait before the end, so that the last ones can be fitted to it. */
const WAITING_BODIES = 2

/** The repeated part of a strip; at least a pixel of it is left, whatever the bounds say. */
export function bodyOf({ lengthPx, leadInPx, leadOutPx }: Strip): { from: number; to: number; lengthPx: number } {
  const from = Math.min(leadInPx, lengthPx - 1)
  const to = Math.max(from + 1, lengthPx - leadOutPx)
  return { from, to, lengthPx: to - from }
}

/** Length before the end that cannot be drawn until the end is known, in strip px. */
export function waitingPx(strip: Strip): number {
  const body = bodyOf(strip)
  return WAITING_BODIES * body.lengthPx + (strip.lengthPx - body.to)
}

/** Lead-in, then the body again and again: how a strip runs while its end is not known. */
export function openRun(strip: Strip): StripRun {
  const body = bodyOf(strip)
  return (along) => (along < body.from ? along : body.from + ((along - body.from) % body.lengthPx))
}

/**
 * How a strip runs to its end: whole bodies and the lead-out, stretched or squeezed a little to fit what is left, so
 * that neither is cut.
 * @param drawnPx What has been drawn already, in strip px along the path. @param totalPx The whole path.
 */
export function closedRun(strip: Strip, drawnPx: number, totalPx: number): StripRun {
  const body = bodyOf(strip)
  const leadOut = strip.lengthPx - body.to
  const open = openRun(strip)
  const fresh = drawnPx <= 0
  // Fitting starts where a body begins; with nothing drawn yet, the lead-in is fitted too.
  const from = fresh ? 0 : body.from + Math.max(0, Math.ceil((drawnPx - body.from) / body.lengthPx)) * body.lengthPx
  const leadIn = fresh ? body.from : 0
  const bodies = Math.max(0, Math.round((totalPx - from - leadIn - leadOut) / body.lengthPx))
  const wanted = leadIn + bodies * body.lengthPx + leadOut
  const stretch = wanted > 0 ? (totalPx - from) / wanted : 1
  const bodiesEnd = leadIn + bodies * body.lengthPx
  return (along) => {
    if (along < from) return open(along)
    const at = (along - from) / stretch
    if (at < leadIn) return at
    if (at < bodiesEnd) return body.from + ((at - leadIn) % body.lengthPx)
    return body.to + (at - bodiesEnd)
  }
}

/** The whole strip once over the whole path. */
export const stretchedRun =
  (strip: Strip, totalPx: number): StripRun =>
  (along) =>
    totalPx > 0 ? (along / totalPx) * strip.lengthPx : 0
