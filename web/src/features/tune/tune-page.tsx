import { useQuery } from '@tanstack/react-query'
import { Copy, Redo2, Sparkle, Spline, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link } from 'react-router'
import { PHASE_WORD } from '../../ahead/ahead-state.ts'
import { SaveTrouble } from '../../ahead/save-trouble.tsx'
import { Button, buttonLook } from '../../components/button.tsx'
import { PageTitle } from '../../components/page-title.tsx'
import { type Brush, saveThumbnail, swapTip } from '../../data/brush.ts'
import { materialsQuery } from '../../data/materials.ts'
import { MeetAt } from '../../meeting/meeting-place.ts'
import type { HandSettings } from '../../workers/stroke/pointer-strokes.ts'
import { FindingsLine } from './canvas/findings-line.tsx'
import { PaintArea } from './canvas/paint-area.tsx'
import { useComparedVersions } from './canvas/use-compared-versions.ts'
import { useLook } from './canvas/use-look.ts'
import { useStrokeCanvas } from './canvas/use-stroke-canvas.ts'
import { BackdropAndColour, HandBar, ViewBar } from './canvas/view-bar.tsx'
import { stepZoom, type View, WHOLE_VIEW } from './canvas/zoom.ts'
import { CopyDialog } from './facts/copy-dialog.tsx'
import { FactsPanel } from './facts/facts-panel.tsx'
import { History } from './facts/history.tsx'
import { ThumbnailDialog } from './facts/thumbnail-dialog.tsx'
import { TipDialog } from './facts/tip-dialog.tsx'
import { RecipePanel } from './groups/recipe-panel.tsx'
import { StartingPoints } from './starting-points.tsx'
import { stepSize } from './step-size.ts'
import { useBrushActions } from './use-brush-actions.ts'
import { useBrushEdit } from './use-brush-edit.ts'

export function TunePage({ brush }: { brush: Brush }) {
  const edit = useBrushEdit(brush)
  const { value: facts, change } = edit
  const { recipe } = facts
  const [opened] = useState(brush.version)
  const compared = useComparedVersions(brush, opened)
  const setRecipe = (next: typeof recipe) => {
    // What is changed must be seen: two old versions beside each other give way.
    if (compared.after) compared.stop()
    change({ recipe: next })
  }
  const seen = useLook(compared.after?.recipe ?? recipe, compared.before?.recipe, compared.chosen.length > 0)
  const grain = useGrain(brush, recipe)
  const now = { frames: brush.pictures, grainBlob: grain.blobSha }
  const inked = useStrokeCanvas(compared.after?.pictures ?? now, seen.look, compared.before?.pictures)
  const compare = (ordinal: number) => {
    compared.toggle(ordinal)
    seen.setSplit(compared.chosen.length !== 1 || compared.chosen[0] !== ordinal)
  }
  const [view, setView] = useState<View>(WHOLE_VIEW)
  const [hand, setHand] = useState<HandSettings>({ steady: 0, mouse: 'even' })
  if (inked.canvas.current) inked.canvas.current.hand = hand

  const [open, setOpen] = useState<'start' | 'copy' | 'tip' | 'thumbnail'>()
  const actions = useBrushActions(brush)
  const step = (direction: -1 | 1) =>
    setRecipe({ ...recipe, mark: { ...recipe.mark, sizePx: stepSize(recipe.mark.sizePx, direction) } })
  useHotkeys('mod+z', () => void edit.undo(), { preventDefault: true })
  useHotkeys('mod+shift+z', () => void edit.redo(), { preventDefault: true })
  useHotkeys('alt+down', () => step(-1), { preventDefault: true })
  useHotkeys('alt+up', () => step(1), { preventDefault: true })
  useHotkeys('s', () => seen.setSpread((on) => !on))
  useHotkeys('b', () => seen.setHeld(true), { keydown: true })
  useHotkeys('b', () => seen.setHeld(false), { keyup: true })
  return (
    <div className="flex min-h-[calc(100dvh-112px)] flex-col px-6 pb-4 pt-5 wide:h-[calc(100dvh-112px)]">
      <title>{`${facts.name} · Tune · Gentle Satchel`}</title>
      <PageTitle
        note={
          <span role="status" className="text-13">
            version {brush.version} of {brush.versions.length}, {PHASE_WORD[edit.phase]}
          </span>
        }
        aside={
          <>
            <Button onClick={() => setOpen('start')}>
              <Sparkle size={18} aria-hidden /> Starting points
            </Button>
            <Button onClick={() => setOpen('copy')}>
              <Copy size={18} aria-hidden /> Copy
            </Button>
            <Link to={`/fit/trace?brush=${brush.id}`} className={buttonLook()}>
              <Spline size={18} aria-hidden /> Trace
            </Link>
            <Button onClick={() => void edit.undo()} disabled={!edit.canUndo}>
              <Undo2 size={18} aria-hidden /> Undo
            </Button>
            <Button onClick={() => void edit.redo()} disabled={!edit.canRedo}>
              <Redo2 size={18} aria-hidden /> Redo
            </Button>
          </>
        }
      >
        {facts.name}
      </PageTitle>
      <MeetAt kind="brush" id={brush.id} />
      <SaveTrouble what="this brush" ahead={edit} />
      <div className="grid min-h-0 flex-1 gap-6 wide:grid-cols-[200px_minmax(0,1fr)_296px]">
        <div className="order-2 grid min-h-0 content-start gap-5 relative wide:order-none wide:overflow-y-auto wide:pr-1">
          <FactsPanel
            brush={brush}
            facts={facts}
            grain={grain.material}
            onChange={change}
            onSwapTip={() => setOpen('tip')}
            onThumbnail={() => setOpen('thumbnail')}
          />
          <History
            brush={brush}
            compared={compared.chosen}
            onCompare={compare}
            onStop={() => {
              compared.stop()
              seen.setSplit(false)
            }}
            onGo={(ordinal) => void edit.goTo(ordinal)}
            onLabel={(ordinal, label) => actions.label.mutate({ ordinal, label })}
          />
        </div>
        <div className="flex min-h-0 flex-col gap-2">
          <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-13">
            <BackdropAndColour
              backdrop={typeof seen.look.backdrop === 'string' ? seen.look.backdrop : 'mid'}
              onBackdrop={seen.setBackdrop}
              colour={seen.look.colour}
              onColour={seen.setColour}
            />
          </div>
          <ViewBar
            isSpread={seen.isSpread}
            onSpread={() => seen.setSpread(!seen.isSpread)}
            isSplit={seen.isSplit}
            onSplit={() => seen.setSplit(!seen.isSplit)}
            onHoldBefore={seen.setHeld}
            zoom={view.zoom}
            onZoom={(direction) => setView({ zoom: stepZoom(view.zoom, direction), x: 0, y: 0 })}
            onWipe={() => inked.canvas.current?.clear()}
          />
          <PaintArea
            inked={inked}
            view={view}
            onView={setView}
            splitAt={seen.isSplit ? seen.look.splitAt : undefined}
            onSplit={seen.setSplitAt}
            names={{ before: compared.before?.name ?? 'before', after: compared.after?.name ?? 'now' }}
            thumbnail={`/api/brushes/${brush.id}/thumbnail.png`}
          />
          <FindingsLine findings={inked.findings} />
          <HandBar hand={hand} onHand={setHand} />
          <p className="text-13 text-quiet">
            Level line with rising and falling pressure, S curve at 70 %, fast zigzag,{' '}
            {recipe.path.ribbon ? 'and where a ribbon leaves no mark, single taps' : 'three single stamps'}. Draw over
            them to try the brush; Ctrl or ⌘ with the wheel, or two fingers, zoom.
          </p>
        </div>
        <div className="order-1 min-h-0 relative wide:order-none wide:overflow-y-auto wide:pr-2">
          <RecipePanel
            recipe={recipe}
            pictures={brush.pictures}
            grainIsGone={grain.isGone}
            findings={inked.findings}
            onChange={setRecipe}
            onFindJoin={() =>
              inked.findJoin((bounds) => {
                const { ribbon } = recipe.path
                if (ribbon) setRecipe({ ...recipe, path: { ...recipe.path, ribbon: { ...ribbon, ...bounds } } })
              })
            }
          />
        </div>
      </div>
      <StartingPoints
        open={open === 'start'}
        onOpenChange={(on) => setOpen(on ? 'start' : undefined)}
        recipe={recipe}
        inked={inked}
        onChoose={setRecipe}
      />
      <CopyDialog
        open={open === 'copy'}
        onOpenChange={(on) => setOpen(on ? 'copy' : undefined)}
        brush={brush}
        busy={actions.copy.isPending}
        onCopy={(wish) => actions.copy.mutate(wish)}
      />
      <TipDialog
        open={open === 'tip'}
        onOpenChange={(on) => setOpen(on ? 'tip' : undefined)}
        brush={brush}
        onSwap={(tipFrom) => edit.make((from) => swapTip(brush.id, tipFrom, from))}
      />
      <ThumbnailDialog
        open={open === 'thumbnail'}
        onOpenChange={(on) => setOpen(on ? 'thumbnail' : undefined)}
        brush={brush}
        takePicture={() => inked.element.current?.toDataURL() ?? ''}
        onSave={(wish) => edit.make((from) => saveThumbnail(brush.id, wish, from))}
      />
    </div>
  )
}

/** The grain that the recipe names just now, saved or not. */
function useGrain(brush: Brush, recipe: Brush['recipe']) {
  const materials = useQuery(materialsQuery)
  const sha = recipe.ground.grain?.sha256
  const own = brush.grain?.pixelSha === sha ? brush.grain : undefined
  const material =
    sha === undefined ? undefined : (own ?? materials.data?.materials.find(({ pixelSha }) => pixelSha === sha))
  return {
    material,
    blobSha: material?.blobSha,
    isGone: sha !== undefined && material === undefined && materials.isSuccess,
  }
}
