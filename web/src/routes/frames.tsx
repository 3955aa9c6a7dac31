import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { arrayMove, rectSortingStrategy, SortableContext, sortableKeyboardCoordinates } from '@dnd-kit/sortable'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft, Scale } from 'lucide-react'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { Choices } from '../components/controls.tsx'
import { DRAG_WORDS } from '../components/drag-words.ts'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { toast, toastError } from '../components/toasts.tsx'
import { FrameCard } from '../features/make/frame-card.tsx'
import { changeFrames, type FramesChange, framesQuery, goToVersion } from '../features/make/frame-queries.ts'
import { madeBrushQuery } from '../features/make/queries.ts'

type Even = NonNullable<FramesChange['even']>
const FRAMES_ENOUGH = 3

/** The frames of one brush in a row: their order, how they stand beside each other, and what makes them alike. */
export function FramesRoute() {
  const { brushId = '' } = useParams()
  const brush = useQuery(madeBrushQuery(brushId))
  if (brush.isPending) return <Loading what="the frames" />
  if (brush.isError) return <LoadError error={brush.error} onRetry={() => void brush.refetch()} />
  return <FramesPage key={brushId} brush={brush.data} />
}

type Brush = NonNullable<ReturnType<typeof useBrushData>>
const useBrushData = (id: string) => useQuery(madeBrushQuery(id)).data

function FramesPage({ brush }: { brush: Brush }) {
  const { id, version, name, pictures, recipe } = brush
  const client = useQueryClient()
  const compared = useQuery(framesQuery(id, version))
  const [even, setEven] = useState<Even>({ size: true, align: 'centres', tone: true })
  const change = useMutation({
    mutationFn: async ({ wish }: { wish: Omit<FramesChange, 'from'>; words: string }) =>
      changeFrames(id, { from: version, ...wish }),
    onSuccess: async (_, { words }) => {
      await refresh()
      toast(words, { action: { label: 'Undo', run: () => void undo() } })
    },
    onError: toastError,
  })
  const refresh = () => client.invalidateQueries({ queryKey: ['brush', id] })
  const undo = async () => {
    try {
      await goToVersion(id, version)
      await refresh()
    } catch (error) {
      toastError(error)
    }
  }
  const all = pictures.map((_, i) => i)
  const arrange = (order: number[], words: string) => change.mutate({ wish: { order }, words })
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const ids = all.map(String)
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const [from, to] = [Number(active.id), Number(over.id)]
    arrange(arrayMove(all, from, to), `Frame ${from + 1} is frame ${to + 1} now.`)
  }
  const sentences = compared.data?.sentences ?? []
  const shadows = compared.data?.shadows.filter(Boolean).length ?? 0
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`Frames of ${name} · Gentle Satchel`}</title>
      <PageTitle
        note={plural(pictures.length, 'frame')}
        aside={
          <Link to={`/tune/${id}`} className={buttonLook()}>
            <ArrowLeft size={18} aria-hidden /> Tune
          </Link>
        }
      >
        {name}
      </PageTitle>
      <div className="grid gap-6 wide:grid-cols-[minmax(0,1fr)_300px]">
        <section aria-label="Frames" aria-busy={change.isPending}>
          <DndContext
            sensors={sensors}
            collisionDetection={closestCenter}
            onDragEnd={drop}
            accessibility={{ announcements: DRAG_WORDS }}
          >
            <SortableContext items={ids} strategy={rectSortingStrategy}>
              <ol className="flex flex-wrap gap-3">
                {pictures.map((picture, i) => (
                  <FrameCard
                    // biome-ignore lint/suspicious/noArrayIndexKey: frames may repeat a picture; their place is what they are
                    key={`${i} ${picture.pixelSha}`}
                    id={String(i)}
                    place={i}
                    picture={`/api/pictures/${picture.blobSha}/tip.png?reading=${recipe.colour.reading}&side=144`}
                    standing={compared.data?.standings[i]}
                    hasShadow={compared.data?.shadows[i] ?? false}
                    isOnly={pictures.length === 1}
                    onCopy={() =>
                      arrange(
                        all.flatMap((each) => (each === i ? [each, each] : [each])),
                        `Frame ${i + 1} is there twice now.`,
                      )
                    }
                    onRemove={() =>
                      arrange(
                        all.filter((each) => each !== i),
                        `Frame ${i + 1} was left out.`,
                      )
                    }
                  />
                ))}
              </ol>
            </SortableContext>
          </DndContext>
          <figure className="mt-6">
            <img
              src={`/api/brushes/${id}/stroke.png?size=version&version=${version}`}
              alt="A stroke with these frames"
              className="well h-24 w-full max-w-[600px] object-contain"
            />
            <figcaption className="mt-1 text-12 text-quiet">a stroke, by the rule of its recipe</figcaption>
          </figure>
        </section>
        <aside className="grid content-start gap-5">
          <section role="status">
            <h2 className="mb-1 text-13 font-medium text-quiet">How they stand together</h2>
            {compared.isPending ? (
              <p className="text-13 text-quiet">measuring …</p>
            ) : sentences.length > 0 ? (
              <ul className="grid gap-1 text-13 text-amber">
                {sentences.map((sentence) => (
                  <li key={sentence}>{sentence}</li>
                ))}
              </ul>
            ) : (
              <p className="text-13 text-moss">
                {pictures.length > 2 ? 'They belong together.' : 'Too few to tell which one stands out.'}
              </p>
            )}
            {pictures.length > 1 && pictures.length < FRAMES_ENOUGH && (
              <p className="mt-1 text-13 text-quiet">With fewer than three a stroke looks repeated.</p>
            )}
          </section>
          <section className="grid gap-3">
            <h2 className="text-13 font-medium text-quiet">Even them out</h2>
            {(['size', 'tone'] as const).map((what) => (
              <label key={what} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={even[what]}
                  onChange={(event) => setEven({ ...even, [what]: event.target.checked })}
                />
                {what === 'size' ? 'one size' : 'one tone and contrast'}
              </label>
            ))}
            <Choices
              label="Lay them by"
              value={even.align}
              choices={[
                { value: 'centres', label: 'their middles' },
                { value: 'base lines', label: 'their base lines' },
                { value: 'no', label: 'as they are' },
              ]}
              onChange={(align) => setEven({ ...even, align })}
            />
            <Button
              kind="primary"
              disabled={change.isPending || pictures.length < 2}
              onClick={() => change.mutate({ wish: { order: all, even }, words: 'The frames were evened out.' })}
            >
              <Scale size={18} aria-hidden /> Even out {plural(pictures.length, 'frame')}
            </Button>
          </section>
          {shadows > 0 && (
            <section className="grid gap-2">
              <h2 className="text-13 font-medium text-quiet">Shadows</h2>
              <p className="text-13 text-amber">
                {plural(shadows, 'frame has', 'frames have')} a shadow drawn as grey: it would take on the colour that
                is painted with.
              </p>
              <Button
                disabled={change.isPending}
                onClick={() =>
                  change.mutate({
                    wish: { order: all, blacken: true },
                    words: 'The shadows are black now, and let more through.',
                  })
                }
              >
                Make them black
              </Button>
            </section>
          )}
        </aside>
      </div>
    </div>
  )
}
