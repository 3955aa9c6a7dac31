import type { AnchorAt } from '@satchel/core/trace/edit-trace'
import { TRACE_NUMBERS } from '@satchel/core/trace/trace'
import { ArrowLeft } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { buttonLook } from '../../components/button.tsx'
import { Choices, choicesOf, Slider } from '../../components/controls.tsx'
import { SelectField } from '../../components/field.tsx'
import { formatBytes } from '../../components/format.ts'
import { NumberSlider } from '../../components/number-slider.tsx'
import { PageTitle } from '../../components/page-title.tsx'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import { Loading } from '../../components/states.tsx'
import type { Brush } from '../../data/brush.ts'
import { type FittedTrace, type LayWish, type Swept, TRACE_SOURCES } from '../../workers/trace/protocol.ts'
import { DetailCurve } from './detail-curve.tsx'
import { OutlineStage } from './outline-stage.tsx'
import { Saving } from './saving.tsx'
import { useTrace } from './use-trace.ts'
import { USES, useWish } from './use-wish.ts'

export function Tracing({ brush, onTake }: { brush: Brush; onTake: (drawing: File) => Promise<void> }) {
  const { change, source, frame, use, leadInPx, leadOutPx, ...outline } = useWish()
  const [removed, setRemoved] = useState<readonly AnchorAt[]>([])
  const lay: LayWish = use === 'stamps' ? { as: 'stamps' } : { as: 'ribbon', lay: use, leadInPx, leadOutPx }
  const traced = useTrace(brush, { source, frame }, { ...outline, removed }, lay)
  const { opened, swept, fitted, preview, problem } = traced
  // other outlines have other anchors
  const changeOutline = (values: Record<string, string | number>) => {
    setRemoved([])
    change(values)
  }
  const longest = Math.max(1, (opened?.width ?? 2) - 1)
  return (
    <>
      <PageTitle
        note={fitted && `${fitted.anchors.toLocaleString('en')} anchors`}
        aside={
          <>
            <Saving
              name={brush.name}
              isReady={fitted !== undefined && fitted.anchors > 0}
              onWrite={() => traced.write(lay)}
              onTake={onTake}
            />
            <Link to={`/tune/${brush.id}`} className={buttonLook()}>
              <ArrowLeft size={18} aria-hidden /> Tune
            </Link>
          </>
        }
      >
        Trace {brush.name}
      </PageTitle>
      {problem && (
        <p role="alert" className="mb-3 text-madder">
          {problem}
        </p>
      )}
      <div className="grid gap-6 lg:grid-cols-[240px_minmax(0,1fr)_300px]">
        <div className="grid content-start gap-4">
          <SelectField
            label="Traced is"
            value={source}
            choices={choicesOf(TRACE_SOURCES)}
            onChange={(event) => changeOutline({ from: event.target.value })}
          />
          {source === 'picture' && brush.pictures.length > 1 && (
            <Slider
              label="Which picture"
              value={Math.min(frame, brush.pictures.length - 1) + 1}
              usual={1}
              min={1}
              max={brush.pictures.length}
              unit=""
              onChange={(value) => changeOutline({ frame: value - 1 })}
            />
          )}
          <NumberSlider
            row={TRACE_NUMBERS.speckPx}
            value={outline.speckPx}
            onChange={(specks) => changeOutline({ specks })}
          />
          <NumberSlider
            row={TRACE_NUMBERS.cornerDeg}
            value={outline.cornerDeg}
            onChange={(corners) => changeOutline({ corners })}
          />
          <NumberSlider
            row={TRACE_NUMBERS.tones}
            value={outline.tones}
            onChange={(tones) => changeOutline({ tones })}
          />
        </div>
        <div className="min-w-0">
          {!opened && !problem && <Loading what="what is traced" />}
          {opened && (
            <>
              <OutlineStage {...{ opened, fitted }} onRemove={(at) => setRemoved((before) => [...before, at])} />
              {opened.scale < 1 && (
                <p className="mt-1 text-13 text-quiet">
                  Traced at {opened.width} x {opened.height} px: {Math.round(100 * opened.scale)} % of its own size.
                </p>
              )}
            </>
          )}
          <div className="mt-4 grid gap-4 sm:grid-cols-[200px_minmax(0,1fr)]">
            <div className="grid content-start gap-3">
              <Choices
                label="Used as"
                value={use}
                choices={choicesOf(USES)}
                onChange={(value) => change({ as: value })}
              />
              {use === 'repeated' && (
                <>
                  <Slider
                    label="Lead-in"
                    value={leadInPx}
                    usual={0}
                    min={0}
                    max={Math.max(0, longest - leadOutPx)}
                    unit="px"
                    onChange={(value) => change({ in: value })}
                  />
                  <Slider
                    label="Lead-out"
                    value={leadOutPx}
                    usual={0}
                    min={0}
                    max={Math.max(0, longest - leadInPx)}
                    unit="px"
                    onChange={(value) => change({ out: value })}
                  />
                </>
              )}
            </div>
            {preview && (
              <figure className="grid content-start gap-1">
                <div className="well overflow-clip">
                  <PixelsCanvas
                    pixels={preview}
                    label="Two strokes of what was traced, one multiplied over the other"
                    className="h-auto w-full"
                  />
                </div>
                <figcaption className="text-13 text-quiet">
                  In a colour, and in another one multiplied over it.
                </figcaption>
              </figure>
            )}
          </div>
        </div>
        <div className="grid content-start gap-3">
          {swept && (
            <DetailCurve
              details={swept.details}
              tolerancePx={outline.tolerancePx}
              onChoose={(off) => changeOutline({ off })}
            />
          )}
          {swept && fitted && <Figures swept={swept} fitted={fitted} />}
          {removed.length > 0 && (
            <p className="flex items-center gap-3 text-13">
              {removed.length} taken away by hand
              <button
                type="button"
                className="text-saddle underline"
                onClick={() => setRemoved((before) => before.slice(0, -1))}
              >
                Put the last one back
              </button>
            </p>
          )}
        </div>
      </div>
    </>
  )
}

function Figures({ swept: { before }, fitted }: { swept: Swept; fitted: FittedTrace }) {
  const rows = [
    ['Anchors', before.anchors.toLocaleString('en'), fitted.anchors.toLocaleString('en')],
    ['Size', formatBytes(before.bytes), formatBytes(fitted.bytes)],
    ['Overlap', '', `${(100 * fitted.overlap).toFixed(1)} %`],
    ['Deviation', '', Number.isFinite(fitted.deviationPx) ? `${fitted.deviationPx.toFixed(2)} px` : 'nothing is left'],
  ]
  return (
    <table className="w-full text-13">
      <thead>
        <tr className="text-left text-quiet">
          <th scope="col" className="font-normal">
            <span className="sr-only">What</span>
          </th>
          <th scope="col" className="font-normal">
            as pixels
          </th>
          <th scope="col" className="font-normal">
            as curves
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([what, was, is]) => (
          <tr key={what} className="border-t border-line">
            <th scope="row" className="py-1 text-left font-normal text-quiet">
              {what}
            </th>
            <td className="measure">{was}</td>
            <td className="measure">{is}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
