import { TOLERANCES_PX, TONES_MAX } from '@satchel/core/trace/trace'
import { useEffect, useState } from 'react'
import { useSearchParams } from 'react-router'
import { TRACE_SOURCES, type TraceSource } from '../../workers/trace/protocol.ts'
import { USUAL_OUTLINE } from './use-trace.ts'

export const SOURCES = Object.keys(TRACE_SOURCES) as TraceSource[]
export const USES = { stamps: 'a tip', stretched: 'a ribbon, stretched', repeated: 'a ribbon, repeated' } as const
export type Use = keyof typeof USES

/** What is traced, and how: as the page has it. The address is told, and read once, when the page is opened. */
export function useWish() {
  const [search, setSearch] = useSearchParams()
  // the address comes back a moment later, and the next key must not meet the value of before
  const [wanted, setWanted] = useState(search)
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when the page wants something else, not the other way
  useEffect(() => {
    if (wanted.toString() !== search.toString()) setSearch(wanted, { replace: true })
  }, [wanted])
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
    change: (values: Record<string, string | number>) =>
      setWanted((before) => {
        const next = new URLSearchParams(before)
        for (const [key, value] of Object.entries(values)) next.set(key, String(value))
        return next
      }),
  }
}
