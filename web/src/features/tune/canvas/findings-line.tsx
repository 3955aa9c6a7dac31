import type { Findings } from '../../../workers/stroke/protocol.ts'

/** What was noticed while the strokes were painted, in sentences; nothing where all is well. */
export function FindingsLine({ findings }: { findings: Findings | undefined }) {
  if (!findings) return null
  const { cutShort, squeezes, gaugeScale } = findings
  const worst = Math.max(0, ...squeezes.map(({ share }) => share))
  if (!cutShort && squeezes.length === 0 && gaugeScale === 1) return null
  return (
    <div role="status" className="grid gap-0.5 text-13 text-amber">
      {gaugeScale < 1 && (
        <p className="text-quiet">
          Gauge strokes at {formatScale(gaugeScale)} of their size, to fit; what you draw is full size.
        </p>
      )}
      {cutShort && (
        <p>
          A stroke is cut short: it asks for more stamps than can be drawn. Widen the spacing, or lower the count or the
          size.
        </p>
      )}
      {squeezes.length > 0 && (
        <p>
          The strip is squeezed by more than a third in{' '}
          {squeezes.length === 1 ? 'one bend' : `${squeezes.length} bends`}, at worst by {Math.round(worst * 100)} %:
          draw it narrower, or bend less.
        </p>
      )}
    </div>
  )
}

/** "40 %", or "3.5 %" below ten. */
const formatScale = (scale: number) => `${scale < 0.1 ? (scale * 100).toFixed(1) : Math.round(scale * 100)} %`
