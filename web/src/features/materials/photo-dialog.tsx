import { PICTURE_KINDS, pickerList } from '@satchel/core/brush-file/picked-files'
import { PHOTO_NUMBERS, type PhotoGrainWish } from '@satchel/core/grain/from-photo'
import { usualOf } from '@satchel/core/number-row'
import { useMutation } from '@tanstack/react-query'
import { ImagePlus } from 'lucide-react'
import { useMemo, useRef, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Choices, choicesOf } from '../../components/controls.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { SettingSlider } from '../../components/number-slider.tsx'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import { toast } from '../../components/toasts.tsx'
import { addGrain, materialsQuery } from '../../data/materials.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import type { GrainTile, GrainWish } from '../../workers/grain/protocol.ts'
import { TilePicture } from './tile-picture.tsx'
import { useGrainTile } from './use-grain-tile.ts'

/** How its seams may be mended. */
const PHOTO_MENDS = { cut: 'cut', blend: 'blend' } as const
const USUAL: PhotoGrainWish = { ...usualOf(PHOTO_NUMBERS), levels: true, mend: 'cut' }

/** A tile is made of a photograph: the part that goes on most as it begins, evenly lit, its seams mended. */
export function PhotoDialog({ onClose }: { onClose: () => void }) {
  const refresh = useRefresh()
  const input = useRef<HTMLInputElement>(null)
  const [file, setFile] = useState<File>()
  const [wish, setWish] = useState(USUAL)
  const [name, setName] = useState('')
  const { tile, error } = useGrainTile(
    useMemo<GrainWish | undefined>(() => (file ? { type: 'photo', file, wish } : undefined), [file, wish]),
  )
  const called = name.trim() || file?.name.replace(/\.[A-Za-z0-9]{1,5}$/, '') || 'grain'
  const keep = useMutation({
    mutationFn: async () => tile && addGrain(called.slice(0, 120), tile.png),
    onSuccess: async () => {
      await refresh(materialsQuery.queryKey)
      toast(`"${called}" lies with the grains.`)
      onClose()
    },
  })
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="A grain from a photograph"
      description="The part is taken whose surroundings go on most as it begins. White lets paint through."
      shape="wide"
    >
      <div>
        <Button kind={file ? 'plain' : 'primary'} onClick={() => input.current?.click()}>
          <ImagePlus size={18} aria-hidden /> {file ? 'Another photograph' : 'Choose a photograph'}
        </Button>
        <input
          ref={input}
          type="file"
          hidden
          accept={pickerList(PICTURE_KINDS)}
          data-testid="choose-grain-photo"
          onChange={(event) => {
            const [chosen] = event.target.files ?? []
            event.target.value = ''
            if (chosen) setFile(chosen)
          }}
        />
      </div>
      {file && (
        <div className="grid gap-5 sm:grid-cols-2">
          <div className="grid content-start gap-3">
            {tile?.photo && <Photo photo={tile.photo} />}
            <SettingSlider rows={PHOTO_NUMBERS} name="sidePx" of={wish} onChange={setWish} />
            <SettingSlider rows={PHOTO_NUMBERS} name="evenness" of={wish} onChange={setWish} />
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={wish.levels}
                onChange={(event) => setWish({ ...wish, levels: event.target.checked })}
              />
              from black to white
            </label>
            <Choices
              label="Mend its seams by"
              value={wish.mend}
              choices={choicesOf(PHOTO_MENDS)}
              onChange={(mend) => setWish({ ...wish, mend })}
            />
            <TextField
              label="Name"
              value={name}
              maxLength={120}
              placeholder={called}
              onChange={(event) => setName(event.target.value)}
            />
          </div>
          {tile ? (
            <TilePicture tile={tile} label="The grain, moved by half" />
          ) : (
            !error && <p role="status">Looking for what repeats …</p>
          )}
        </div>
      )}
      {(error ?? keep.error) && (
        <p role="alert" className="text-13 text-madder">
          {(error ?? keep.error)?.message}
        </p>
      )}
      {file && (
        <Button kind="primary" disabled={!tile?.photo || keep.isPending} onClick={() => keep.mutate()}>
          Keep "{called}"
        </Button>
      )}
    </Dialog>
  )
}

/** The photograph, and the part of it that was taken. */
function Photo({ photo: { crop, width, height, shown } }: { photo: NonNullable<GrainTile['photo']> }) {
  return (
    <figure>
      <div className="well relative">
        <PixelsCanvas pixels={shown} label="The photograph" className="block w-full" />
        <svg viewBox={`0 0 ${width} ${height}`} className="absolute inset-0 h-full w-full" aria-hidden>
          <rect
            x={crop.left}
            y={crop.top}
            width={crop.width}
            height={crop.height}
            fill="none"
            stroke="var(--saddle)"
            strokeWidth={Math.max(width, height) / 160}
          />
        </svg>
      </div>
      <figcaption className="mt-1 text-12 text-quiet">
        <span className="measure">{`${crop.width} × ${crop.height}`}</span> px taken at{' '}
        <span className="measure">{`${crop.left}, ${crop.top}`}</span>
      </figcaption>
    </figure>
  )
}
