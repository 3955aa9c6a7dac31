import { type StepName, settingsOf, withSettings } from '@satchel/core/make/step-kinds'
import type { Grey } from '@satchel/core/make/steps/grey'
import type { Plan } from '@satchel/core/make/ways'
import { useQuery } from '@tanstack/react-query'
import { Download, Redo2, Undo2 } from 'lucide-react'
import { type DragEvent, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useParams } from 'react-router'
import { Button } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { PixelsCanvas } from '../components/pixels-canvas.tsx'
import { saveFile } from '../components/save-file.ts'
import { LoadError, Loading } from '../components/states.tsx'
import { toastError } from '../components/toasts.tsx'
import { Histogram } from '../features/make/histogram.tsx'
import { MadeList } from '../features/make/made-list.tsx'
import { PlanTrouble } from '../features/make/plan-trouble.tsx'
import { madeBrushQuery, type Source, sourceQuery } from '../features/make/queries.ts'
import { SourceFile } from '../features/make/source-file.tsx'
import { Stage } from '../features/make/stage.tsx'
import { StepsList } from '../features/make/steps-list.tsx'
import { firstTools, type PointerMeaning, withStroke } from '../features/make/tools.ts'
import { useBench } from '../features/make/use-bench.ts'
import { usePlan } from '../features/make/use-plan.ts'
import { useReplace } from '../features/make/use-replace.ts'
import { countOf, headOf, meaningOf } from '../features/make/way-panels.tsx'
import { MakeButton } from './make-button.tsx'
import { TouchTipDialog } from './touch-tip-dialog.tsx'

export function MakeSourceRoute() {
  const { sourceId = '' } = useParams()
  const source = useQuery(sourceQuery(sourceId))
  if (source.isPending) return <Loading what="the source" />
  if (source.isError) return <LoadError error={source.error} onRetry={() => void source.refetch()} />
  // the wire's type has lost which settings belong to which step
  return <SourcePage key={sourceId} source={source.data as Source} />
}

const MEANINGS: Partial<Record<StepName, PointerMeaning>> = { crop: 'crop', grey: 'colour', touch: 'touch' }
const DEGREES_A_PX = 0.5

function SourcePage({ source }: { source: Source }) {
  const edit = usePlan(source)
  const { plan, change } = edit
  const [open, setOpen] = useState<StepName | 'head' | undefined>(plan.way === 'picture' ? undefined : 'head')
  const [tools, setTools] = useState(() => firstTools(source.file.width))
  const [part, setPart] = useState(0)
  const [isChoosingTip, setIsChoosingTip] = useState(false)
  const brush = useQuery(madeBrushQuery(source.made[0]?.brushId))
  const bench = useBench(source, {
    plan,
    recipe: brush.data?.recipe,
    grainBlob: brush.data?.grain?.blobSha,
    whole: open === 'crop',
    part,
  })
  const { shown } = bench
  useHotkeys('mod+z', () => edit.undo(), { preventDefault: true })
  useHotkeys('mod+shift+z, mod+y', () => edit.redo(), { preventDefault: true })

  const setSteps = (steps: Plan['steps'], what: string) => change({ ...plan, steps } as Plan, what)
  const grey = settingsOf(plan.steps, 'grey')
  const touchColours = async (touches: Grey['touches']) => {
    try {
      const { mix, tones } = await bench.mix(touches)
      setSteps(
        withSettings(withSettings(plan.steps, 'grey', { ...grey, by: 'colour', touches, mix }), 'tones', tones),
        `touches ${touches.length}`,
      )
    } catch (error) {
      toastError(error)
    }
  }
  const touchAt = (at: { x: number; y: number }) => {
    if (open === 'grey') void touchColours([...grey.touches, { ...at, becomes: tools.becomes }])
    else if (open === 'head' && plan.way === 'sheet') {
      const hit = shown?.objects.find((each) => isIn(shown, each, at))
      if (!hit) return
      const { leftOut } = plan.objects
      const without = leftOut.filter((point) => !(shown && isIn(shown, hit, point)))
      const next = hit.isLeftOut ? without : [...leftOut, hit.at]
      change({ ...plan, objects: { ...plan.objects, leftOut: next } }, `left out ${next.length}`)
    }
  }
  const strokeOver = (path: number[]) => {
    if (open === 'touch') {
      const before = settingsOf(plan.steps, 'touch')
      const line = path.slice(0, 8000).map((value) => Math.round(value * 10) / 10)
      setSteps(withSettings(plan.steps, 'touch', withStroke(before, tools, line)), `stroke ${before.strokes.length}`)
    } else if (plan.way === 'sheet' && path.length >= 4) {
      const line = { from: { x: path[0] ?? 0, y: path[1] ?? 0 }, to: { x: path.at(-2) ?? 0, y: path.at(-1) ?? 0 } }
      const { objects } = plan
      const next =
        tools.objects === 'cut'
          ? { ...objects, cuts: [...objects.cuts, line] }
          : { ...objects, joined: [...objects.joined, line] }
      change({ ...plan, objects: next }, `by hand ${next.cuts.length} ${next.joined.length}`)
    }
  }
  const count = countOf(plan, shown)
  const turn = (dx: number, dy: number) => {
    if (plan.way !== 'model') return
    const wrap = (deg: number) => ((((deg + 180) % 360) + 360) % 360) - 180
    const views = plan.model.views.map((view, i) =>
      i === part
        ? { ...view, yawDeg: wrap(view.yawDeg + dx * DEGREES_A_PX), pitchDeg: wrap(view.pitchDeg + dy * DEGREES_A_PX) }
        : view,
    )
    change({ ...plan, model: { ...plan.model, views } }, 'turn')
  }
  const saveOutline = async () => {
    try {
      saveFile(new Blob([await bench.outline()], { type: 'image/svg+xml' }), `${source.name}.svg`)
    } catch (error) {
      toastError(error)
    }
  }
  const replace = useReplace(source, edit.save, edit.revision)
  const tones = settingsOf(plan.steps, 'tones')
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping another picture is for the pointer; the button does the same by keyboard
    <div
      className="px-6 pb-6 pt-5"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event: DragEvent) => {
        event.preventDefault()
        const [file] = event.dataTransfer.files
        if (file) replace.mutate({ file })
      }}
    >
      <title>{`${source.name} · Make · Gentle Satchel`}</title>
      <PageTitle
        note={<span role="status">{SAVE_WORDS[edit.state.kind]}</span>}
        aside={
          <>
            <Button kind="quiet" onClick={edit.undo} disabled={!edit.canUndo}>
              <Undo2 size={18} aria-hidden /> Undo
            </Button>
            <Button kind="quiet" onClick={edit.redo} disabled={!edit.canRedo}>
              <Redo2 size={18} aria-hidden /> Redo
            </Button>
            <MakeButton
              source={source}
              plan={plan}
              count={count}
              isEmpty={shown !== undefined && shown.tip === undefined}
              onSave={edit.save}
            />
          </>
        }
      >
        {source.name}
      </PageTitle>
      <PlanTrouble edit={edit} />
      {isChoosingTip && (
        <TouchTipDialog
          onClose={() => setIsChoosingTip(false)}
          onTip={(tip) => {
            setTools({ ...tools, tip })
            setIsChoosingTip(false)
          }}
        />
      )}
      <div className="grid gap-5 wide:grid-cols-[272px_minmax(0,1fr)_240px]">
        <div className="order-1 wide:order-none wide:max-h-[calc(100dvh-196px)] wide:overflow-y-auto">
          <StepsList
            {...{ steps: plan.steps, open, onOpen: setOpen, onChange: setSteps }}
            context={{
              tools,
              onTools: setTools,
              onTouches: (touches) => void touchColours(touches),
              onTip: () => setIsChoosingTip(true),
              sourceWidth: source.file.width,
              sourceHeight: source.file.height,
            }}
            head={headOf(plan, { change, shown, tools, onTools: setTools, part, onPart: setPart })}
          />
        </div>
        <section
          aria-label="The picture"
          className="grid min-w-0 content-start gap-4 self-start wide:sticky wide:top-[68px]"
        >
          {bench.problem ? (
            <LoadError error={bench.problem} onRetry={bench.openAgain} />
          ) : shown ? (
            <Stage
              {...{ shown, tools, crop: settingsOf(plan.steps, 'crop'), touches: grey.touches }}
              meaning={open === 'head' ? meaningOf(plan) : ((open && MEANINGS[open]) ?? 'none')}
              onCrop={(crop) => setSteps(withSettings(plan.steps, 'crop', crop), 'crop')}
              onTouch={touchAt}
              onStroke={strokeOver}
              onTurn={turn}
            />
          ) : (
            <Loading what="the picture" />
          )}
          {shown && (
            <div
              className="grid gap-3 sm:grid-cols-[auto_minmax(0,1fr)]"
              data-ran={shown.ran}
              data-ms={shown.ms.toFixed(0)}
              data-testid="tried"
            >
              <figure>
                <PixelsCanvas pixels={shown.stamp} label="The mark as it stamps" className="well h-[112px] w-[112px]" />
                <figcaption className="mt-1 flex items-center justify-between text-12 text-quiet">
                  {plan.way !== 'picture' && count > 1 ? (
                    <button type="button" className="text-saddle underline" onClick={() => setPart((part + 1) % count)}>
                      {Math.min(part, count - 1) + 1} of {count}, next
                    </button>
                  ) : (
                    'stamp'
                  )}
                </figcaption>
              </figure>
              <figure className="min-w-0">
                <PixelsCanvas
                  pixels={shown.stroke}
                  label="The mark as it strokes"
                  className="well h-[112px] w-full object-contain"
                />
                <figcaption className="mt-1 text-12 text-quiet">
                  {brush.data ? `stroke, with the recipe of "${brush.data.name}"` : 'stroke, with a plain recipe'}
                </figcaption>
              </figure>
            </div>
          )}
        </section>
        <aside className="order-2 grid content-start wide:order-none gap-5 wide:max-h-[calc(100dvh-196px)] wide:overflow-y-auto">
          <section>
            <h2 className="mb-1 text-13 font-medium text-quiet">Greys before the tones</h2>
            {shown && (
              <Histogram
                counts={shown.histogram}
                tones={tones}
                onChange={(next) => setSteps(withSettings(plan.steps, 'tones', next), 'tones')}
              />
            )}
          </section>
          <section>
            <h2 className="mb-1 text-13 font-medium text-quiet">The tip</h2>
            {shown?.tip ? (
              <p className="measure">
                {shown.tip.width} × {shown.tip.height} px
              </p>
            ) : (
              shown && (
                <p className="text-13 text-amber">Nothing paints: set the tones, or turn paint and ground round.</p>
              )
            )}
          </section>
          {plan.way === 'ornament' && shown?.tip && (
            <Button kind="quiet" onClick={() => void saveOutline()}>
              <Download size={18} aria-hidden /> Save its outline as SVG
            </Button>
          )}
          <MadeList source={source} />
          <SourceFile source={source} isBusy={replace.isPending} onReplace={replace.mutate} />
        </aside>
      </div>
    </div>
  )
}

const SAVE_WORDS = {
  saved: 'saved',
  saving: 'saving …',
  changed: 'changed',
  overtaken: 'not saved',
  unanswered: 'not saved yet',
  refused: 'not saved',
} as const

type Box = { left: number; top: number; right: number; bottom: number }

/** Whether a place of the source lies in a box of what is shown. */
function isIn(
  { place }: { place: { scale: number; left: number; top: number } },
  box: Box,
  { x, y }: { x: number; y: number },
): boolean {
  const [px, py] = [(x - place.left) * place.scale, (y - place.top) * place.scale]
  return px >= box.left && px < box.right && py >= box.top && py < box.bottom
}
