import type { AnchorAt } from '@satchel/core/trace/edit-trace'
import { useState } from 'react'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import type { FittedTrace, Opened } from '../../workers/trace/protocol.ts'

/** More anchors than these are not shown one by one: nobody could touch them. */
const ANCHORS_SHOWN = 1500
const ZOOMS = [1, 2, 4, 8] as const
/** The mark of an anchor, px of the page. */
const ANCHOR_PX = 3.5

type Props = { opened: Opened; fitted: FittedTrace | undefined; onRemove: (at: AnchorAt) => void }

/** The outline laid over the pixels. Anchors are chosen by a click or by arrow keys, and taken away by Delete. */
export function OutlineStage({ opened, fitted, onRemove }: Props) {
  const { width, height } = opened
  const [zoom, setZoom] = useState<(typeof ZOOMS)[number]>(1)
  const [chosen, setChosen] = useState(0)
  const [isShown, setShown] = useState(true)
  const anchors = fitted?.places ?? []
  const isMany = anchors.length > ANCHORS_SHOWN
  const at = anchors[Math.min(chosen, anchors.length - 1)]
  /** Px of the drawing for one of the page, at a width of the page of about 800. */
  const unit = width / (800 * zoom)
  const step = (by: number) => setChosen((before) => (before + by + anchors.length) % Math.max(1, anchors.length))
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-13">
        <label className="flex items-center gap-1.5">
          Larger
          <select
            value={zoom}
            onChange={(event) => setZoom(ZOOMS.find((each) => each === Number(event.target.value)) ?? 1)}
            className="rounded-4 border border-line bg-raised px-1.5 py-0.5"
          >
            {ZOOMS.map((each) => (
              <option key={each} value={each}>
                {each} x
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={isShown}
            onChange={(event) => setShown(event.target.checked)}
            className="h-4 w-4"
          />
          anchors
        </label>
        {isMany && isShown && (
          <span className="text-quiet">More than {ANCHORS_SHOWN}: they are not shown one by one.</span>
        )}
        {!isMany && isShown && at && (
          <button type="button" className="text-saddle underline" onClick={() => onRemove(at.at)}>
            Take anchor {Math.min(chosen, anchors.length - 1) + 1} away
          </button>
        )}
      </div>
      <div
        role="slider"
        aria-label="Anchors of the outline: arrow keys walk along them, Delete takes one away"
        aria-valuemin={1}
        aria-valuemax={Math.max(1, anchors.length)}
        aria-valuenow={Math.min(chosen, anchors.length - 1) + 1}
        tabIndex={0}
        className="well flex max-h-[calc(100dvh-430px)] min-h-48 overflow-auto"
        onKeyDown={(event) => {
          const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
          if (by !== undefined) step(event.shiftKey ? 10 * by : by)
          else if ((event.key === 'Delete' || event.key === 'Backspace') && at && !isMany) onRemove(at.at)
          else return
          event.preventDefault()
        }}
      >
        <div
          className="relative m-auto shrink-0"
          style={{
            aspectRatio: `${width} / ${height}`,
            width: `calc(${zoom} * min(100%, (100dvh - 450px) * ${width / height}))`,
          }}
        >
          <div className="absolute inset-0 opacity-40" style={{ imageRendering: zoom > 1 ? 'pixelated' : 'auto' }}>
            <PixelsCanvas pixels={opened} label="What is traced" className="h-full w-full" />
          </div>
          <svg viewBox={`0 0 ${width} ${height}`} className="absolute inset-0 h-full w-full" aria-hidden>
            {fitted?.tones.map(({ data, opacity }) => (
              <path key={opacity} d={data} className="fill-none stroke-[#9a4b22]" strokeWidth={1.6 * unit} />
            ))}
            {isShown &&
              !isMany &&
              anchors.map(({ x, y, at: { tone, path, curve } }, i) => (
                // biome-ignore lint/a11y/noStaticElementInteractions: the same goes by arrow keys
                <circle
                  key={`${tone} ${path} ${curve}`}
                  cx={x}
                  cy={y}
                  r={(i === chosen ? 1.8 : 1) * ANCHOR_PX * unit}
                  strokeWidth={1.4 * unit}
                  data-anchor={i}
                  className={`cursor-pointer stroke-[#1d3d50] ${i === chosen ? 'fill-[#8ec1de]' : 'fill-white'}`}
                  onClick={() => setChosen(i)}
                />
              ))}
          </svg>
        </div>
      </div>
    </div>
  )
}
