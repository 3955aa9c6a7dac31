import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { MoreVertical } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useNavigate } from 'react-router'
import { BehaviourMark } from '../../components/behaviour-mark.tsx'
import { Button } from '../../components/button.tsx'
import { NumberBox } from '../../components/range-slider.tsx'
import { toastError } from '../../components/toasts.tsx'
import { changeItem, type PocketItem, pocketsQuery, removeItem } from '../../data/pockets.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const [SIZE_MIN, SIZE_MAX] = [1, 4096]

/** One entry: its stroke, what it is called here, and its fixed size. Click tunes it, drag reorders. */
export function PocketEntry({ pocketId, item }: { pocketId: string; item: PocketItem }) {
  const navigate = useNavigate()
  const title = item.label || item.name
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: item.id,
    data: { name: title },
  })
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`flex h-[48px] w-[188px] shrink-0 items-center gap-1 rounded-4 border border-line bg-raised pl-1 ${isDragging ? 'z-10 border-saddle shadow-lift' : ''}`}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        aria-label={`${title}, ${Math.round(item.sizePx)} px: tune it`}
        onClick={() => void navigate(`/tune/${item.brushId}`)}
        className="flex min-w-0 flex-1 touch-none items-center gap-2 text-left"
      >
        <img
          src={`/api/brushes/${item.brushId}/stroke.png?size=pocket&v=${item.version}-${item.updatedAt}`}
          alt=""
          draggable={false}
          className="well h-9 w-[75px] shrink-0 object-contain"
        />
        <span className="grid min-w-0 leading-tight">
          <span className="truncate text-13 font-medium">{title}</span>
          <span className="measure text-quiet">
            <BehaviourMark behaviour={item.behaviour} brief /> {Math.round(item.sizePx)} px
          </span>
        </span>
      </button>
      <EntryMenu pocketId={pocketId} item={item} title={title} />
    </li>
  )
}

function EntryMenu({ pocketId, item, title }: { pocketId: string; item: PocketItem; title: string }) {
  const refresh = useRefresh()
  const run = (change: () => Promise<unknown>) =>
    void change()
      .catch(toastError)
      .finally(() => refresh(pocketsQuery.queryKey))
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`About ${title}`}
        className="grid h-8 w-6 place-content-center rounded-4 text-quiet hover:bg-ground"
      >
        <MoreVertical size={16} aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          sideOffset={6}
          collisionPadding={8}
          className="z-50 grid w-60 gap-3 rounded-10 border border-line bg-raised p-3 shadow-lift"
        >
          <label className="grid gap-1 text-13 font-medium">
            Called here
            <input
              defaultValue={item.label}
              placeholder={item.name}
              maxLength={120}
              onBlur={(event) => {
                const label = event.target.value.trim()
                if (label !== item.label) run(() => changeItem(pocketId, item.id, { label }))
              }}
              onKeyDown={(event) => {
                if (event.key === 'Enter') event.currentTarget.blur()
              }}
              className="rounded-4 border border-line bg-surface px-2 py-1"
            />
          </label>
          <span className="flex items-center justify-between text-13 font-medium">
            Fixed size
            <span className="flex items-baseline gap-1">
              <NumberBox
                label="Fixed size, px"
                value={Math.round(item.sizePx)}
                min={SIZE_MIN}
                max={SIZE_MAX}
                step={1}
                onChange={(sizePx) => run(() => changeItem(pocketId, item.id, { sizePx }))}
              />
              px
            </span>
          </span>
          <Button kind="danger" className="text-13" onClick={() => run(() => removeItem(pocketId, item.id))}>
            Take it out
          </Button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
