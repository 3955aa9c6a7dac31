import type { Crop } from '@satchel/core/make/steps/crop'
import type { Touch } from '@satchel/core/make/steps/grey'
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'
import ReactCrop from 'react-image-crop'
import 'react-image-crop/dist/ReactCrop.css'
import { KEY_PEN_HELP, KeyCross, useKeyPen } from '../../components/key-pen.tsx'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import type { MakeShown, ShownObject } from '../../workers/make/protocol.ts'
import { Lasso } from './lasso.tsx'
import { type Point, pointsOf, toShownPoint, toShownPoints, usePointOf } from './stage-points.ts'
import type { PointerMeaning, Tools } from './steps/tools.ts'

type Props = {
  shown: MakeShown
  meaning: PointerMeaning
  tools: Tools
  crop: Crop
  touches: readonly Touch[]
  onCrop: (crop: Crop) => void
  onTouch: (at: Point) => void
  /** A stroke over the picture, px of the source, x and y one after another. */
  onStroke: (path: number[]) => void
  /** The model is turned by dragging, px of the page. */
  onTurn: (dx: number, dy: number) => void
}

const CROP_LABELS = {
  cropArea: 'The part of the picture that is kept',
  nwDragHandle: 'Upper left corner',
  nDragHandle: 'Upper edge',
  neDragHandle: 'Upper right corner',
  eDragHandle: 'Right edge',
  seDragHandle: 'Lower right corner',
  sDragHandle: 'Lower edge',
  swDragHandle: 'Lower left corner',
  wDragHandle: 'Left edge',
}

/** The picture before and after, with a divider between; touching, touching up and cropping happen on it. */
export function Stage(props: Props) {
  const { shown, meaning, crop, onCrop } = props
  const { width, height } = shown.before
  const box = { aspectRatio: `${width} / ${height}`, width: `min(100%, calc((100dvh - 372px) * ${width / height}))` }
  if (meaning === 'crop' && props.tools.region === 'lasso')
    return (
      <div className="well checker relative mx-auto max-w-full touch-none overflow-clip" style={box}>
        <Lasso shown={shown} crop={crop} onCrop={onCrop} />
      </div>
    )
  if (meaning === 'crop')
    return (
      <div className="well checker mx-auto w-fit max-w-full overflow-clip" style={box}>
        <ReactCrop
          crop={{
            unit: '%',
            x: crop.left * 100,
            y: crop.top * 100,
            width: (crop.right - crop.left) * 100,
            height: (crop.bottom - crop.top) * 100,
          }}
          minWidth={8}
          minHeight={8}
          keepSelection
          ariaLabels={CROP_LABELS}
          onChange={(_, { x, y, width, height }) => {
            if (width <= 0 || height <= 0) return
            const share = (value: number) => Math.min(1, Math.max(0, value / 100))
            onCrop({ ...crop, left: share(x), top: share(y), right: share(x + width), bottom: share(y + height) })
          }}
        >
          <PixelsCanvas pixels={shown.before} label="The whole picture" className="block w-full" />
        </ReactCrop>
      </div>
    )
  return (
    <div className="well relative mx-auto max-w-full touch-none overflow-clip" style={box}>
      <Compared {...props} />
    </div>
  )
}

function Compared({ shown, meaning, tools, touches, onTouch, onStroke, onTurn }: Props) {
  const [divider, setDivider] = useState(0.5)
  const [line, setLine] = useState<number[]>()
  const { overlay, pointOf } = usePointOf(shown)
  const turnedAt = useRef<Point>(undefined)
  const { width, height } = shown.before
  const draws = meaning === 'touch' || (meaning === 'objects' && tools.objects !== 'leave')
  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0 || meaning === 'none') return
    const at = pointOf(event)
    if (meaning === 'turn') {
      event.currentTarget.setPointerCapture(event.pointerId)
      turnedAt.current = { x: event.clientX, y: event.clientY }
      return
    }
    if (!draws) {
      onTouch(at)
      return
    }
    event.currentTarget.setPointerCapture(event.pointerId)
    setLine([at.x, at.y])
  }
  const move = (event: PointerEvent<SVGSVGElement>) => {
    const from = turnedAt.current
    if (from) {
      onTurn(event.clientX - from.x, event.clientY - from.y)
      turnedAt.current = { x: event.clientX, y: event.clientY }
    }
    if (!line) return
    setLine([...line, ...pointsOf(event, pointOf)])
  }
  const up = () => {
    turnedAt.current = undefined
    if (line) onStroke(line)
    setLine(undefined)
  }
  const { keys, ...cross } = useKeyPen({
    area: overlay,
    draws,
    onDown: (event) => {
      const at = pointOf(event)
      if (draws) setLine([at.x, at.y])
      else onTouch(at)
    },
    onMove: (event) => {
      const { x, y } = pointOf(event)
      setLine((line) => [...(line ?? []), x, y])
    },
    onUp: up,
    onCancel: () => setLine(undefined),
  })
  // a model has numbers for its turns
  const hasKeys = meaning !== 'none' && meaning !== 'turn'
  const percent = `${divider * 100}%`
  return (
    <>
      <PixelsCanvas pixels={shown.after} label="The picture as it paints" className="absolute inset-0 h-full w-full" />
      <div className="absolute inset-0" style={{ clipPath: `inset(0 ${100 - divider * 100}% 0 0)` }}>
        <PixelsCanvas pixels={shown.before} label="The picture as it came" className="h-full w-full" />
      </div>
      <svg
        ref={overlay}
        data-testid="stage"
        viewBox={`0 0 ${width} ${height}`}
        className={`absolute inset-0 h-full w-full ${meaning === 'none' ? '' : 'cursor-crosshair'}`}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => {
          turnedAt.current = undefined
          setLine(undefined)
        }}
        {...(hasKeys ? keys : {})}
      >
        <title>{meaning === 'none' ? 'The picture' : `Touch the picture.${hasKeys ? ` ${KEY_PEN_HELP}` : ''}`}</title>
        {meaning === 'colour' &&
          touches.map((touch) => (
            <TouchMark key={`${touch.x} ${touch.y} ${touch.becomes}`} shown={shown} touch={touch} />
          ))}
        {meaning === 'objects' &&
          shown.objects.map((object, i) => (
            <ObjectBox key={object.label} object={object} number={numberOf(shown.objects, i)} unit={width / 100} />
          ))}
        {line && <LiveLine shown={shown} line={line} meaning={meaning} tools={tools} />}
        {hasKeys && <KeyCross {...cross} width={width} height={height} />}
      </svg>
      <Divider at={divider} percent={percent} onMove={setDivider} />
    </>
  )
}

/** Objects left out have no number. */
const numberOf = (objects: readonly ShownObject[], i: number): number | undefined =>
  objects[i]?.isLeftOut ? undefined : objects.slice(0, i + 1).filter(({ isLeftOut }) => !isLeftOut).length

function Divider({ at, percent, onMove }: { at: number; percent: string; onMove: (at: number) => void }) {
  const dragging = useRef(false)
  const drag = (event: PointerEvent<HTMLDivElement>) => {
    const box = event.currentTarget.parentElement?.getBoundingClientRect()
    if (dragging.current && box) onMove(Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)))
  }
  const keys = (event: KeyboardEvent) => {
    const step = { ArrowLeft: -0.05, ArrowRight: 0.05, Home: -1, End: 1 }[event.key]
    if (step === undefined) return
    event.preventDefault()
    onMove(Math.min(1, Math.max(0, at + step)))
  }
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Divider between before and after"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      aria-valuetext={`${Math.round(at * 100)} % before`}
      onKeyDown={keys}
      onPointerDown={(event) => {
        dragging.current = true
        event.currentTarget.setPointerCapture(event.pointerId)
      }}
      onPointerMove={drag}
      onPointerUp={() => {
        dragging.current = false
      }}
      className="absolute inset-y-0 w-4 -translate-x-1/2 cursor-ew-resize touch-none"
      style={{ left: percent }}
    >
      <span className="mx-auto block h-full w-0.5 bg-saddle" />
      <span className="absolute left-1/2 top-2 -translate-x-full rounded-l-4 bg-[#f7f7f7] px-1.5 py-0.5 text-12 text-[#333333]">
        before
      </span>
      <span className="absolute left-1/2 top-2 rounded-r-4 bg-[#333333] px-1.5 py-0.5 text-12 text-[#f7f7f7]">
        after
      </span>
    </div>
  )
}

function TouchMark({ shown, touch }: { shown: MakeShown; touch: Touch }) {
  const { x, y } = toShownPoint(shown, touch)
  const unit = shown.before.width / 100
  return (
    <g>
      <circle
        cx={x}
        cy={y}
        r={1.1 * unit}
        fill={touch.becomes === 'paint' ? '#181818' : '#f7f7f7'}
        stroke={touch.becomes === 'paint' ? '#f7f7f7' : '#181818'}
        strokeWidth={0.3 * unit}
      />
      <text
        x={x + 1.6 * unit}
        y={y + 0.7 * unit}
        fontSize={2 * unit}
        fill="#181818"
        stroke="#f7f7f7"
        strokeWidth={0.5 * unit}
        paintOrder="stroke"
      >
        {touch.becomes}
      </text>
    </g>
  )
}

function ObjectBox({ object, number, unit }: { object: ShownObject; number: number | undefined; unit: number }) {
  const { left, top, right, bottom } = object
  return (
    <g>
      <rect
        x={left}
        y={top}
        width={right - left}
        height={bottom - top}
        fill="none"
        stroke={number === undefined ? '#777777' : 'var(--saddle)'}
        strokeWidth={0.25 * unit}
        strokeDasharray={number === undefined ? `${unit}` : undefined}
      />
      <text
        x={left + 0.4 * unit}
        y={top + 2.2 * unit}
        fontSize={2.2 * unit}
        fill={number === undefined ? '#555555' : 'var(--saddle)'}
        stroke="#f7f7f7"
        strokeWidth={0.6 * unit}
        paintOrder="stroke"
      >
        {number ?? 'left out'}
      </text>
    </g>
  )
}

function LiveLine({
  shown,
  line,
  meaning,
  tools,
}: {
  shown: MakeShown
  line: readonly number[]
  meaning: PointerMeaning
  tools: Tools
}) {
  const points = toShownPoints(shown, line).map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`)
  const isTouch = meaning === 'touch'
  return (
    <polyline
      points={(isTouch ? points : [points[0], points.at(-1)]).join(' ')}
      fill="none"
      stroke={isTouch ? LIVE[tools.touch.does] : 'var(--saddle)'}
      strokeOpacity={isTouch ? 0.55 : 1}
      strokeWidth={isTouch ? 2 * tools.touch.radiusPx * shown.place.scale : shown.before.width / 250}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  )
}

const LIVE: Record<Tools['touch']['does'], string> = { keep: 'var(--moss)', drop: '#ffffff', cover: '#181818' }
