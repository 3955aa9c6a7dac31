import { TOLERANCES_PX, TONES_MAX } from '@satchel/core/trace/trace'
import { useAddress } from '../../components/use-address.ts'
import { TRACE_SOURCES, type TraceSource } from '../../workers/trace/protocol.ts'
import { USUAL_OUTLINE } from './use-trace.ts'

export const SOURCES = Object.keys(TRACE_SOURCES) as TraceSource[]
export const USES = { stamps: 'a tip', stretched: 'a ribbon, stretched', repeated: 'a ribbon, repeated' } as const
export type Use = keyof typeof USES

/** What is traced, and how. */
export function useWish() {
  const [wanted, change] = useAddress()
  const source = SOURCES.find((each) => each === wanted.get('from')) ?? 'picture'
  const numberOf = (name: string, usual: number, least: number, most: number) => {
    const value = Number(wanted.get(name) ?? usual)
    return Number.isFinite(value) ? Math.min(most, Math.max(least, value)) : usual
  }
  return {
    source,
    frame: Math.round(numberOf('frame', 0, 0, 255)),
    tolerancePx: numberOf('off', 0.7, TOLERANCES_PX[0], TOLERANCES_PX[TOLERANCES_PX.length - 1] ?? 6),
    speckPx: numberOf('specks', USUAL_OUTLINE.speckPx, 0, 10_000),
    tones: Math.round(numberOf('tones', USUAL_OUTLINE.tones, 1, TONES_MAX)),
    cornerDeg: numberOf('corners', USUAL_OUTLINE.cornerDeg, 0, 180),
    use:
      (Object.keys(USES) as Use[]).find((each) => each === wanted.get('as')) ??
      (source === 'picture' ? 'stamps' : 'stretched'),
    leadInPx: Math.round(numberOf('in', 0, 0, 2400)),
    leadOutPx: Math.round(numberOf('out', 0, 0, 2400)),
    change,
  }
}
