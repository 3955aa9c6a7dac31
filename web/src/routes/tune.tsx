import { useQuery } from '@tanstack/react-query'
import { Redo2, Undo2 } from 'lucide-react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link, Navigate, useParams } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { FactsPanel } from '../features/tune/facts-panel.tsx'
import { Ground } from '../features/tune/ground.tsx'
import { type Brush, brushQuery, firstBrushQuery } from '../features/tune/queries.ts'
import { RecipePanel } from '../features/tune/recipe-panel.tsx'
import { stepSize } from '../features/tune/step-size.ts'
import { useBrushEdit } from '../features/tune/use-brush-edit.ts'

export function TuneRoute() {
  const { brushId } = useParams()
  return brushId ? <OneBrush key={brushId} id={brushId} /> : <AnyBrush />
}

/** Where no brush was chosen: the last one tuned here, else the newest. */
function AnyBrush() {
  const last = sessionStorage.getItem('satchel-last-tuned')
  const first = useQuery({ ...firstBrushQuery, enabled: !last })
  if (last) return <Navigate to={`/tune/${last}`} replace />
  if (first.isPending) return <Loading what="a brush" />
  if (first.isError) return <LoadError error={first.error} onRetry={() => void first.refetch()} />
  const [brush] = first.data.brushes
  if (brush) return <Navigate to={`/tune/${brush.id}`} replace />
  return (
    <Empty
      title="Nothing to tune yet"
      action={
        <Link to="/gather" className={buttonLook('primary')}>
          Gather the first brushes
        </Link>
      }
    >
      Here a brush's strokes follow every change of its recipe. Take some brushes in first.
    </Empty>
  )
}

function OneBrush({ id }: { id: string }) {
  const brush = useQuery(brushQuery(id))
  if (brush.isPending) return <Loading what="the brush" />
  if (brush.isError) {
    sessionStorage.removeItem('satchel-last-tuned')
    return <LoadError error={brush.error} onRetry={() => void brush.refetch()} />
  }
  sessionStorage.setItem('satchel-last-tuned', id)
  return <TunePage brush={brush.data} />
}

const STATE_WORD = { saved: 'saved', changed: 'changed', saving: 'saving …' } as const

function TunePage({ brush }: { brush: Brush }) {
  const edit = useBrushEdit(brush)
  const { facts, change } = edit
  const step = (direction: -1 | 1) =>
    change({
      recipe: {
        ...facts.recipe,
        mark: { ...facts.recipe.mark, sizePx: stepSize(facts.recipe.mark.sizePx, direction) },
      },
    })
  useHotkeys('mod+z', () => void edit.undo(), { preventDefault: true })
  useHotkeys('mod+shift+z', () => void edit.redo(), { preventDefault: true })
  useHotkeys('bracketleft', () => step(-1))
  useHotkeys('bracketright', () => step(1))
  return (
    <div className="flex min-h-[calc(100dvh-52px)] flex-col px-6 pb-4 pt-5 wide:h-[calc(100dvh-52px)]">
      <title>{`${facts.name} · Tune · Gentle Satchel`}</title>
      <PageTitle
        note={
          <span role="status" className="text-13">
            version {brush.version} of {brush.versions.length}, {STATE_WORD[edit.state]}
          </span>
        }
        aside={
          <>
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
      <div className="grid min-h-0 flex-1 gap-6 wide:grid-cols-[220px_minmax(0,1fr)_280px]">
        <div className="min-h-0 wide:overflow-y-auto wide:pr-1">
          <FactsPanel brush={brush} facts={facts} onChange={change} />
        </div>
        <Ground pictures={brush.pictures} recipe={facts.recipe} />
        <div className="min-h-0 wide:overflow-y-auto wide:pr-2">
          <RecipePanel recipe={facts.recipe} frames={brush.pictures.length} onChange={(recipe) => change({ recipe })} />
        </div>
      </div>
    </div>
  )
}
