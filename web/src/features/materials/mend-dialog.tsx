import { MENDS, type Mend } from '@satchel/core/grain/mend'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Choices } from '../../components/controls.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { plural } from '../../components/format.ts'
import { toast } from '../../components/toasts.tsx'
import { addGrain, type Material, materialsQuery, replaceGrain, tileQuery } from '../../data/materials.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import type { GrainWish } from '../../workers/grain/protocol.ts'
import { BrushesAfter } from './brushes-after.tsx'
import { TilePicture } from './tile-picture.tsx'
import { useGrainTile } from './use-grain-tile.ts'

const MEND_WORDS: Record<Mend, { label: string; about: string }> = {
  cut: { label: 'cut', about: 'Its end is laid over its beginning and cut along the line where both differ least.' },
  blend: { label: 'blend', about: 'Its end fades into its beginning; fine drawing grows softer there.' },
  mirror: {
    label: 'mirror',
    about: 'It is laid beside its own mirror image; nothing is lost, and it is twice as large.',
  },
}

/** Mends the seams of a grain: before and after, moved by half, with figures. The old one stays beside it. */
export function MendDialog({ grain, onClose }: { grain: Material; onClose: () => void }) {
  const refresh = useRefresh()
  const [mend, setMend] = useState<Mend>('cut')
  const [takesPlace, setTakesPlace] = useState(true)
  const png = useQuery(tileQuery(grain.blobSha))
  const before = useGrainTile(
    useMemo<GrainWish | undefined>(
      () => (png.data ? { type: 'mend', png: png.data, mend: undefined } : undefined),
      [png.data],
    ),
  )
  const after = useGrainTile(
    useMemo<GrainWish | undefined>(
      () => (png.data ? { type: 'mend', png: png.data, mend } : undefined),
      [png.data, mend],
    ),
  )
  const keep = useMutation({
    mutationFn: async () => {
      if (!after.tile) return 0
      const { id } = await addGrain(`${grain.name}, mended`.slice(0, 120), after.tile.png)
      return takesPlace && grain.uses > 0 ? (await replaceGrain(grain.id, id)).changed : 0
    },
    onSuccess: async (changed) => {
      await refresh(materialsQuery.queryKey)
      toast(
        changed > 0
          ? `Kept, and ${plural(changed, 'brush paints', 'brushes paint')} with it; each can be undone in Tune.`
          : 'Kept beside the old one.',
      )
      onClose()
    },
  })
  const error = png.error ?? before.error ?? after.error ?? keep.error
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Mend "${grain.name}"`}
      description="Both tiles are moved by half, so that their seams lie in the middle."
      shape="wide"
    >
      <Choices
        label="How"
        value={mend}
        choices={MENDS.map((value) => ({ value, label: MEND_WORDS[value].label }))}
        onChange={setMend}
      />
      <p className="text-13 text-quiet">{MEND_WORDS[mend].about}</p>
      <div className="grid gap-4 sm:grid-cols-2">
        {before.tile && <TilePicture tile={before.tile} label="The grain before, moved by half" />}
        {after.tile && <TilePicture tile={after.tile} label="The grain after, moved by half" />}
      </div>
      {before.tile?.seam.across.isSeamless && before.tile.seam.down.isSeamless && (
        <p className="text-13 text-moss">Neither of its seams can be seen: there is nothing to mend.</p>
      )}
      {grain.uses > 0 && (
        <label className="flex items-start gap-2">
          <input
            type="checkbox"
            checked={takesPlace}
            onChange={(event) => setTakesPlace(event.target.checked)}
            className="h-6 w-6 shrink-0"
          />
          <span>
            Let the {plural(grain.uses, 'brush', 'brushes')} that {grain.uses === 1 ? 'uses' : 'use'} it paint with the
            mended one
            <span className="block text-13 text-quiet">
              The pattern is laid anew; strength and scale stay. Each gets a version of its own.
            </span>
          </span>
        </label>
      )}
      {grain.uses > 0 && takesPlace && <BrushesAfter grainId={grain.id} tile={after.tile} />}
      {error && (
        <p role="alert" className="text-13 text-madder">
          {error.message}
        </p>
      )}
      <Button kind="primary" disabled={!after.tile || keep.isPending} onClick={() => keep.mutate()}>
        Keep the mended grain
      </Button>
    </Dialog>
  )
}
