import type { AnchorAt } from '@satchel/core/trace/edit-trace'
import { TONES_MAX } from '@satchel/core/trace/trace'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft, Download, PackageOpen } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { Choices, Slider } from '../components/controls.tsx'
import { SelectField } from '../components/field.tsx'
import { formatBytes } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { PixelsCanvas } from '../components/pixels-canvas.tsx'
import { saveFile } from '../components/save-file.ts'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { toastError } from '../components/toasts.tsx'
import { startGather } from '../features/gather/queries.ts'
import { addUploads } from '../features/gather/upload.ts'
import { DetailCurve } from '../features/trace/detail-curve.tsx'
import { OutlineStage } from '../features/trace/outline-stage.tsx'
import { USUAL_OUTLINE, useTrace } from '../features/trace/use-trace.ts'
import { SOURCES, USES, type Use, useWish } from '../features/trace/use-wish.ts'
import { type Brush, brushQuery } from '../features/tune/queries.ts'
import { type FittedTrace, type LayWish, type Swept, TRACE_SOURCES } from '../workers/trace/protocol.ts'

/** A brush's picture or stroke as a drawing of curves: as few anchors as are good enough. */
export function TraceRoute() {
  const [search] = useSearchParams()
  const brushId = search.get('brush')
  const brush = useQuery({ ...brushQuery(brushId ?? ''), enabled: brushId !== null })
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Trace · Gentle Satchel</title>
      {brushId === null && (
        <Empty
          title="Nothing to trace yet"
          action={
            <Link to="/fit" className={buttonLook('primary')}>
              Choose a brush
            </Link>
          }
        >
          A picture or a painted stroke becomes a drawing of curves, with as few anchors as are good enough. Open a cell
          of Fit, or a brush in Tune, and trace it from there.
        </Empty>
      )}
      {brushId !== null && brush.isPending && <Loading what="the brush" />}
      {brush.isError && <LoadError error={brush.error} onRetry={() => void brush.refetch()} />}
      {brush.data && <Tracing key={brush.data.id} brush={brush.data} />}
    </div>
  )
}

function Tracing({ brush }: { brush: Brush }) {
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
            choices={SOURCES.map((value) => ({ value, label: TRACE_SOURCES[value] }))}
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
          <Slider
            label="Specks below"
            value={outline.speckPx}
            usual={USUAL_OUTLINE.speckPx}
            min={0}
            max={400}
            unit="px²"
            eased
            onChange={(speckPx) => changeOutline({ specks: speckPx })}
          />
          <Slider
            label="Corners from"
            value={outline.cornerDeg}
            usual={USUAL_OUTLINE.cornerDeg}
            min={0}
            max={180}
            step={5}
            unit="°"
            onChange={(cornerDeg) => changeOutline({ corners: cornerDeg })}
          />
          <Slider
            label="Tones"
            value={outline.tones}
            usual={USUAL_OUTLINE.tones}
            min={1}
            max={TONES_MAX}
            unit=""
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
                choices={(Object.keys(USES) as Use[]).map((value) => ({ value, label: USES[value] }))}
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

type SavingProps = { name: string; isReady: boolean; onWrite: () => Promise<string> }

function Saving({ name, isReady, onWrite }: SavingProps) {
  const navigate = useNavigate()
  const client = useQueryClient()
  const write = async () => new File([await onWrite()], `${name}, traced.svg`, { type: 'image/svg+xml' })
  const save = useMutation({
    mutationFn: write,
    onSuccess: (file) => saveFile(file, file.name),
    onError: toastError,
  })
  const take = useMutation({
    mutationFn: async () => {
      const file = await write()
      const { id } = await startGather()
      addUploads(id, [{ path: file.name, file }])
      await client.invalidateQueries({ queryKey: ['gather'] })
      await navigate('/gather')
    },
    onError: toastError,
  })
  return (
    <>
      <Button kind="primary" disabled={!isReady || save.isPending} onClick={() => save.mutate()}>
        <Download size={18} aria-hidden /> Save as SVG
      </Button>
      <Button disabled={!isReady || take.isPending} onClick={() => take.mutate()}>
        <PackageOpen size={18} aria-hidden /> Gather it as a brush
      </Button>
    </>
  )
}
