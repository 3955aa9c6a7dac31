import { toCoverage } from '@satchel/core/brush/coverage'
import type { PaintReading } from '@satchel/core/brush/recipe'
import { readPng } from '@satchel/core/formats/png/read'
import { EDIT_NUMBERS, editFrame, type FrameEdit, NO_EDIT } from '@satchel/core/frames/edit-frame'
import type { Pixels } from '@satchel/core/raster/pixels'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { SettingSlider } from '../../components/number-slider.tsx'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import { LoadError, Loading } from '../../components/states.tsx'
import { loadPng } from '../../data/sources.ts'

type Props = {
  place: number
  blobSha: string
  reading: PaintReading
  isBusy: boolean
  onClose: () => void
  onEdit: (edit: FrameEdit) => void
}

/** The longer side at which a change is tried, px. */
const TRIED_SIDE_PX = 256
const INK = 24

/** One frame made larger or smaller, stronger or fainter, and of another hue, tried before it counts. */
export function FrameDialog({ place, blobSha, reading, isBusy, onClose, onEdit }: Props) {
  const [edit, setEdit] = useState(NO_EDIT)
  const picture = useQuery({
    queryKey: ['frame picture', blobSha],
    queryFn: async () => toTried(await loadPng(`/api/pictures/${blobSha}`)),
    staleTime: Number.POSITIVE_INFINITY,
  })
  const before = useMemo(() => picture.data && toShown(picture.data, reading), [picture.data, reading])
  const after = useMemo(
    () => picture.data && toShown(editFrame(picture.data, reading, edit), reading),
    [picture.data, reading, edit],
  )
  const hasColour = picture.data?.channels === 4 && (reading === 'own' || reading === 'tone')
  const isSame = edit.scale === 1 && edit.hueDeg === 0 && edit.strength === 1
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title={`Frame ${place + 1}`}>
      {picture.isPending && <Loading what="the frame" />}
      {picture.isError && <LoadError error={picture.error} onRetry={() => void picture.refetch()} />}
      {before && after && (
        <div className="grid grid-cols-2 gap-3">
          {(
            [
              ['as it is', before],
              ['as it will be', after],
            ] as const
          ).map(([word, pixels]) => (
            <figure key={word}>
              <div className="well grid aspect-square place-content-center overflow-hidden">
                <PixelsCanvas pixels={pixels} label={`Frame ${place + 1}, ${word}`} className="max-h-full max-w-full" />
              </div>
              <figcaption className="mt-1 text-12 text-quiet">{word}</figcaption>
            </figure>
          ))}
        </div>
      )}
      <SettingSlider rows={EDIT_NUMBERS} name="scale" of={edit} onChange={setEdit} />
      <SettingSlider rows={EDIT_NUMBERS} name="strength" of={edit} onChange={setEdit} />
      <SettingSlider
        rows={EDIT_NUMBERS}
        name="hueDeg"
        of={edit}
        idle={hasColour ? undefined : 'It has no colours of its own.'}
        onChange={setEdit}
      />
      <div className="flex justify-end gap-2">
        <Button kind="quiet" onClick={onClose}>
          Cancel
        </Button>
        <Button kind="primary" disabled={isSame || isBusy} onClick={() => onEdit(edit)}>
          Change frame {place + 1}
        </Button>
      </div>
    </Dialog>
  )
}

function toTried(png: ArrayBuffer): Pixels {
  const [frame] = readPng(new Uint8Array(png)).frames
  if (!frame) throw new Error('the frame has no picture')
  const { width, height } = fitSize(frame.pixels.width, frame.pixels.height, TRIED_SIDE_PX)
  return width === frame.pixels.width ? frame.pixels : shrinkPixels(frame.pixels, width, height)
}

/** What paints: in ink, or in its own colours. */
function toShown(pixels: Pixels, reading: PaintReading) {
  const { width, height, channels, data } = toCoverage(pixels, reading)
  if (channels === 4) return { width, height, data: new Uint8ClampedArray(data) }
  const out = new Uint8ClampedArray(width * height * 4)
  for (let i = 0, o = 0; i < data.length; i++, o += 4) {
    out.fill(INK, o, o + 3)
    out[o + 3] = data[i] ?? 0
  }
  return { width, height, data: out }
}
