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
import type { FrameRule } from '@satchel/core/brush/recipe'
import { PICTURE_KINDS, pickerList } from '@satchel/core/brush-file/picked-files'
import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, Copy, Image as ImageIcon, Replace, SlidersHorizontal, X } from 'lucide-react'
import { lazy, Suspense, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link } from 'react-router'
import { buttonLook } from '../../components/button.tsx'
import { DRAG_WORDS } from '../../components/drag-words.ts'
import { plural } from '../../components/format.ts'
import type { MenuItem } from '../../components/menu.tsx'
import { NextFrame } from '../../components/next-frame.tsx'
import { PageTitle } from '../../components/page-title.tsx'
import type { Brush } from '../../data/brush.ts'
import { saveBrush, saveThumbnail } from '../../data/brush.ts'
import { changeFrames, type FramesChange, framesQuery, replaceFrame } from '../../data/frames.ts'
import { EvenOut, LeftOut, Shadows, StandTogether } from './frame-aside.tsx'
import { FrameCard } from './frame-card.tsx'
import { useFrameChange } from './use-frame-change.ts'

const FrameDialog = lazy(async () => ({ default: (await import('./frame-dialog.tsx')).FrameDialog }))

/** Tips are rendered for lists in a few sizes; at painting size they are taken from the largest. */
const SHOWN_SIDE = { usual: 144, painting: 256 }

export function FramesPage({ brush }: { brush: Brush }) {
  const { id, version, name, pictures, recipe } = brush
  const compared = useQuery(framesQuery(id, version))
  const { isBusy, before, run } = useFrameChange(brush)
  const [isAtPaintingSize, setIsAtPaintingSize] = useState(false)
  const [showsBefore, setShowsBefore] = useState(false)
  const [editing, setEditing] = useState<number>()
  const replacing = useRef<number>(undefined)
  const input = useRef<HTMLInputElement>(null)
  useHotkeys('b', () => setShowsBefore(true), { keydown: true, keyup: false })
  useHotkeys('b', () => setShowsBefore(false), { keydown: false, keyup: true })
  const all = pictures.map((_, i) => i)
  const change = (words: string, wish: Omit<FramesChange, 'from'>) =>
    run(words, () => changeFrames(id, { from: version, ...wish }))
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const ids = all.map(String)
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const [from, to] = [Number(active.id), Number(over.id)]
    change(`Frame ${from + 1} is frame ${to + 1} now.`, { order: arrayMove(all, from, to) })
  }
  const actsOf = (i: number): MenuItem[] => [
    {
      label: 'Change size, paint or hue',
      icon: <SlidersHorizontal size={18} aria-hidden />,
      takesFocus: true,
      onSelect: () => setEditing(i),
    },
    {
      label: 'Copy',
      icon: <Copy size={18} aria-hidden />,
      onSelect: () =>
        change(`Frame ${i + 1} is there twice now.`, {
          order: all.flatMap((each) => (each === i ? [each, each] : [each])),
        }),
    },
    {
      label: 'Another picture in its place',
      icon: <Replace size={18} aria-hidden />,
      onSelect: () => {
        replacing.current = i
        input.current?.click()
      },
    },
    {
      label: 'Show it as the thumbnail',
      icon: <ImageIcon size={18} aria-hidden />,
      onSelect: () =>
        run(`Frame ${i + 1} stands for the brush now.`, () =>
          saveThumbnail(id, { thumbnail: { from: 'frame', frame: i } }, version),
        ),
    },
    {
      label: 'Leave out',
      icon: <X size={18} aria-hidden />,
      disabled: pictures.length === 1,
      onSelect: () => change(`Frame ${i + 1} was left out.`, { order: all.filter((each) => each !== i) }),
    },
  ]
  const shown = showsBefore && before?.length === pictures.length ? before : pictures
  const paintingPx = Math.max(4, Math.round(recipe.mark.sizePx))
  const side = isAtPaintingSize ? SHOWN_SIDE.painting : SHOWN_SIDE.usual
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
        <section aria-label="Frames" aria-busy={isBusy} className="min-w-0">
          <p className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-1 text-13">
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={isAtPaintingSize}
                onChange={(event) => setIsAtPaintingSize(event.target.checked)}
              />
              at painting size, <span className="measure">{paintingPx} px</span>
            </label>
            {before?.length === pictures.length && (
              <button
                type="button"
                className="rounded-4 text-saddle underline"
                onPointerDown={() => setShowsBefore(true)}
                onPointerUp={() => setShowsBefore(false)}
                onPointerLeave={() => setShowsBefore(false)}
              >
                hold to see them before (b)
              </button>
            )}
          </p>
          <DndContext
            sensors={sensors}
            collisionDetection={closestCenter}
            onDragEnd={drop}
            accessibility={{ announcements: DRAG_WORDS }}
          >
            <SortableContext items={ids} strategy={rectSortingStrategy}>
              <ol className="flex flex-wrap items-start gap-3 overflow-x-auto">
                {shown.map((picture, i) => (
                  <FrameCard
                    // biome-ignore lint/suspicious/noArrayIndexKey: frames may repeat a picture; their place is what they are
                    key={`${i} ${pictures[i]?.pixelSha}`}
                    id={String(i)}
                    place={i}
                    picture={`/api/pictures/${picture.blobSha}/tip.png?reading=${recipe.colour.reading}&side=${side}`}
                    sidePx={isAtPaintingSize ? paintingPx : undefined}
                    standing={compared.data?.standings[i]}
                    hasShadow={compared.data?.shadows[i] ?? false}
                    acts={actsOf(i)}
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
          <input
            ref={input}
            type="file"
            hidden
            accept={pickerList(PICTURE_KINDS)}
            data-testid="replace-frame"
            onChange={(event) => {
              const [file] = event.target.files ?? []
              const place = replacing.current
              event.target.value = ''
              if (file && place !== undefined)
                run(`Frame ${place + 1} has another picture.`, () => replaceFrame(id, place, file, version))
            }}
          />
        </section>
        <aside className="grid content-start gap-5">
          <StandTogether compared={compared.data} count={pictures.length} />
          {pictures.length > 1 && (
            <section className="grid gap-2">
              <h2 className="sr-only">Which frame comes next</h2>
              <NextFrame
                frames={pictures.length}
                rules={recipe.path.nextFrame as { rule: FrameRule; frames: number }[]}
                onChange={(nextFrame) => {
                  const { maker, licence, tags } = brush
                  const path = { ...recipe.path, nextFrame }
                  run('The frames come by another rule.', () =>
                    saveBrush(id, { name, maker, licence, tags, recipe: { ...recipe, path } }, version),
                  )
                }}
              />
            </section>
          )}
          <EvenOut
            count={pictures.length}
            isBusy={isBusy}
            onEven={(even) => change('The frames were evened out.', { order: all, even })}
          />
          <Shadows
            count={compared.data?.shadows.filter(Boolean).length ?? 0}
            isBusy={isBusy}
            onBlacken={() => change('The shadows are black now, and let more through.', { order: all, blacken: true })}
          />
          <LeftOut
            frames={compared.data?.leftOut ?? []}
            reading={recipe.colour.reading}
            isBusy={isBusy}
            onPutBack={({ version: of, place }) =>
              change('The frame is back, at the end.', { order: [...all, { version: of, place }] })
            }
          />
        </aside>
      </div>
      {editing !== undefined && pictures[editing] && (
        <Suspense fallback={null}>
          <FrameDialog
            place={editing}
            blobSha={pictures[editing].blobSha}
            reading={recipe.colour.reading}
            isBusy={isBusy}
            onClose={() => setEditing(undefined)}
            onEdit={(edit) => {
              change(`Frame ${editing + 1} was changed.`, { order: all, edits: [{ at: editing, edit }] })
              setEditing(undefined)
            }}
          />
        </Suspense>
      )}
    </div>
  )
}
