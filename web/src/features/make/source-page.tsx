import { type StepName, settingsOf, withSettings } from '@satchel/core/make/step-kinds'
import type { Grey } from '@satchel/core/make/steps/grey'
import type { TouchTip } from '@satchel/core/make/steps/touch'
import { becomeOf, type Plan } from '@satchel/core/make/ways'
import { useQuery } from '@tanstack/react-query'
import { Download, Redo2, Undo2 } from 'lucide-react'
import { type DragEvent, type ReactNode, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { PHASE_WORD } from '../../ahead/ahead-state.ts'
import { SaveTrouble } from '../../ahead/save-trouble.tsx'
import { Button } from '../../components/button.tsx'
import { PageTitle } from '../../components/page-title.tsx'
import { saveFile } from '../../components/save-file.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { toastError } from '../../components/toasts.tsx'
import { brushQuery } from '../../data/brush.ts'
import type { Source } from '../../data/sources.ts'
import { MadeList } from './made-list.tsx'
import { MakeButton } from './make-button.tsx'
import { SourceFile } from './source-file.tsx'
import { Stage } from './stage.tsx'
import { Histogram } from './steps/histogram.tsx'
import { StepsList } from './steps/steps-list.tsx'
import { firstTools, type PointerMeaning, withStroke } from './steps/tools.ts'
import { TriedMark } from './tried-mark.tsx'
import { useBench } from './use-bench.ts'
import { usePlan } from './use-plan.ts'
import { useReplace } from './use-replace.ts'
import {
  countOf,
  drawOverHead,
  hasHead,
  hasOutline,
  headOf,
  meaningOf,
  touchHead,
  turnHead,
} from './ways/way-panels.tsx'

/** How any brush's tip is chosen to touch up with. */
export type TouchTipProps = { onClose: () => void; onTip: (tip: TouchTip | undefined) => void }
type Props = { source: Source; touchTip: (props: TouchTipProps) => ReactNode }

const MEANINGS: Partial<Record<StepName, PointerMeaning>> = { crop: 'crop', grey: 'colour', touch: 'touch' }

export function SourcePage({ source, touchTip }: Props) {
  const edit = usePlan(source)
  const { plan, change } = edit
  const [open, setOpen] = useState<StepName | 'head' | undefined>(hasHead(plan) ? 'head' : undefined)
  const [tools, setTools] = useState(() => firstTools(source.file.width))
  const [part, setPart] = useState(0)
  const [isChoosingTip, setIsChoosingTip] = useState(false)
  const brush = useQuery(brushQuery(source.made[0]?.brushId))
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

  const apply = (changed: { plan: Plan; what: string } | undefined) => changed && change(changed.plan, changed.what)
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
    else if (open === 'head' && shown) apply(touchHead(plan, shown, at))
  }
  const strokeOver = (path: number[]) => {
    if (open === 'touch') {
      const before = settingsOf(plan.steps, 'touch')
      const line = path.slice(0, 8000).map((value) => Math.round(value * 10) / 10)
      setSteps(withSettings(plan.steps, 'touch', withStroke(before, tools, line)), `stroke ${before.strokes.length}`)
    } else apply(drawOverHead(plan, tools, path))
  }
  const count = countOf(plan, shown)
  const turn = (dx: number, dy: number) => apply(turnHead(plan, part, { x: dx, y: dy }))
  const saveOutline = async () => {
    try {
      saveFile(new Blob([await bench.outline()], { type: 'image/svg+xml' }), `${source.name}.svg`)
    } catch (error) {
      toastError(error)
    }
  }
  const replace = useReplace(source, edit)
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
        note={<span role="status">{PHASE_WORD[edit.phase]}</span>}
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
      <SaveTrouble what="this source" ahead={edit} />
      {isChoosingTip &&
        touchTip({
          onClose: () => setIsChoosingTip(false),
          onTip(tip) {
            setTools({ ...tools, tip })
            setIsChoosingTip(false)
          },
        })}
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
            <TriedMark
              shown={shown}
              brushName={brush.data?.name}
              at={count > 1 ? { part: Math.min(part, count - 1), count } : undefined}
              onNext={() => setPart((part + 1) % count)}
              chosen={plan.stroke}
              onStroke={
                becomeOf(plan) === 'strips' ? undefined : (stroke) => change({ ...plan, stroke }, `stroke ${stroke}`)
              }
            />
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
          {hasOutline(plan) && shown?.tip && (
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
