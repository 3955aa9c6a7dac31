import { THUMBNAIL_SIZE, THUMBNAIL_TEXT_MAX_CHARS, type Thumbnail } from '@satchel/core/brush/thumbnail'
import { useMutation } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import ReactCrop, { makeAspectCrop, type PercentCrop } from 'react-image-crop'
import 'react-image-crop/dist/ReactCrop.css'
import { Button } from '../../../components/button.tsx'
import { Choices } from '../../../components/controls.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { TextField } from '../../../components/field.tsx'
import type { Brush, ThumbnailWish } from '../../../data/brush.ts'
import { THUMBNAIL_ASPECT, toPng } from './thumbnail-picture.ts'
import { useThumbnailCanvas } from './use-thumbnail-canvas.ts'

type Props = {
  open: boolean
  onOpenChange: (open: boolean) => void
  brush: Brush
  /** The strokes as they look now, as the address of a picture. */
  takePicture: () => string
  onSave: (wish: ThumbnailWish) => Promise<unknown>
}

/** What stands for the brush in tiles and packs: its stroke, a frame, a region of the strokes, or words. */
export function ThumbnailDialog({ open, onOpenChange, ...rest }: Props) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      shape="wide"
      title="Thumbnail"
      description="Stands for the brush in tiles and in packs. The stroke and a frame follow every change; a region and words stay as they are."
    >
      {open && <ThumbnailForm {...rest} onDone={() => onOpenChange(false)} />}
    </Dialog>
  )
}

const SOURCES: readonly { value: Thumbnail['from']; label: string }[] = [
  { value: 'stroke', label: 'Its stroke' },
  { value: 'frame', label: 'A frame' },
  { value: 'region', label: 'A region of the strokes' },
  { value: 'text', label: 'Words' },
]
const BLANK = {
  region: 'Nothing can be seen in this region: move it onto a stroke.',
  text: 'Write something first: a thumbnail is never blank.',
}

function ThumbnailForm({
  brush,
  takePicture,
  onSave,
  onDone,
}: Omit<Props, 'open' | 'onOpenChange'> & { onDone: () => void }) {
  const [from, setFrom] = useState<Thumbnail['from']>(brush.thumbnail.from)
  const [frame, setFrame] = useState(brush.thumbnail.from === 'frame' ? brush.thumbnail.frame : 0)
  const [text, setText] = useState(
    brush.thumbnail.from === 'text' ? brush.thumbnail.text : brush.name.slice(0, THUMBNAIL_TEXT_MAX_CHARS),
  )
  const [strokes] = useState(takePicture)
  const [region, setRegion] = useState<PercentCrop>()
  const picture = useRef<HTMLImageElement>(null)
  const { canvas, isBlank } = useThumbnailCanvas({ from, text, region, picture })
  const save = useMutation({
    mutationFn: async () => {
      if (from === 'stroke') return onSave({ thumbnail: { from } })
      if (from === 'frame') return onSave({ thumbnail: { from, frame } })
      if (!canvas.current) return
      const thumbnail: Thumbnail = from === 'text' ? { from, text: text.trim() } : { from }
      await onSave({ thumbnail, picture: await toPng(canvas.current) })
    },
    onSuccess: onDone,
  })
  const drawn = from === 'region' || from === 'text'
  const blank = drawn && isBlank ? BLANK[from] : undefined
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        if (!blank) save.mutate()
      }}
    >
      <Choices label="Made from" choices={SOURCES} value={from} onChange={setFrom} />
      <div className="grid gap-4 sm:grid-cols-[minmax(0,1fr)_280px]">
        <div className="min-w-0">
          {from === 'stroke' && (
            <p className="text-quiet">One long stroke with rising and falling pressure, as in every list.</p>
          )}
          {from === 'frame' && <FrameChoice brush={brush} frame={frame} onFrame={setFrame} />}
          {from === 'region' && (
            <ReactCrop
              {...(region ? { crop: region } : {})}
              aspect={THUMBNAIL_ASPECT}
              minWidth={40}
              keepSelection
              onChange={(_, percent) => setRegion(percent)}
              ariaLabels={REGION_LABELS}
              className="well"
            >
              <img
                ref={picture}
                src={strokes}
                alt="The strokes as they are now"
                onLoad={({ currentTarget: { width, height } }) =>
                  setRegion({
                    ...makeAspectCrop({ unit: '%', width: 50 }, THUMBNAIL_ASPECT, width, height),
                    x: 25,
                    y: 4,
                  })
                }
                className="block w-full"
              />
            </ReactCrop>
          )}
          {from === 'text' && (
            <TextField
              label="Words"
              value={text}
              maxLength={THUMBNAIL_TEXT_MAX_CHARS}
              hint={`Up to ${THUMBNAIL_TEXT_MAX_CHARS} characters; a long line breaks in two.`}
              onChange={(event) => setText(event.target.value)}
            />
          )}
        </div>
        <figure className="grid content-start gap-1">
          <figcaption className="text-13 font-medium text-quiet">As it will look</figcaption>
          {drawn ? (
            <canvas
              ref={canvas}
              {...THUMBNAIL_SIZE}
              role="img"
              aria-label="The thumbnail"
              data-testid="thumbnail"
              className="well w-full"
            />
          ) : (
            <img
              src={`/api/brushes/${brush.id}/thumbnail.png?${from === 'stroke' ? 'stroke=1' : `frame=${frame + 1}`}&v=${brush.version}-${brush.updatedAt}`}
              alt="The thumbnail"
              {...THUMBNAIL_SIZE}
              className="well w-full"
            />
          )}
          {(blank ?? save.error) && (
            <p role="alert" className="text-13 text-madder">
              {blank ?? save.error?.message}
            </p>
          )}
        </figure>
      </div>
      <Button kind="primary" type="submit" disabled={blank !== undefined || save.isPending}>
        Use this thumbnail
      </Button>
    </form>
  )
}

const REGION_LABELS = {
  cropArea: 'Region: arrow keys move it',
  nwDragHandle: 'Upper left corner: arrow keys resize the region',
  nDragHandle: 'Upper edge: arrow keys resize the region',
  neDragHandle: 'Upper right corner: arrow keys resize the region',
  eDragHandle: 'Right edge: arrow keys resize the region',
  seDragHandle: 'Lower right corner: arrow keys resize the region',
  sDragHandle: 'Lower edge: arrow keys resize the region',
  swDragHandle: 'Lower left corner: arrow keys resize the region',
  wDragHandle: 'Left edge: arrow keys resize the region',
}

function FrameChoice({ brush, frame, onFrame }: { brush: Brush; frame: number; onFrame: (frame: number) => void }) {
  return (
    <ul className="flex max-h-72 flex-wrap gap-3 overflow-y-auto p-1">
      {brush.pictures.map((picture, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: frames may repeat a picture; their place is what they are
        <li key={i}>
          <button
            type="button"
            aria-pressed={frame === i}
            aria-label={`Frame ${i + 1}`}
            onClick={() => onFrame(i)}
            className={`well grid h-20 w-20 place-content-center ${frame === i ? 'outline-2 outline-offset-2 outline-saddle' : ''}`}
          >
            <img
              src={`/api/pictures/${picture.blobSha}/tip.png?reading=${brush.recipe.colour.reading}&side=144`}
              alt=""
              className="max-h-[72px] max-w-[72px]"
            />
          </button>
        </li>
      ))}
    </ul>
  )
}
