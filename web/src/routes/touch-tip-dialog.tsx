import { toCoverage } from '@satchel/core/brush/coverage'
import { readPng } from '@satchel/core/formats/png/read'
import { TOUCH_TIP_SIDE_PX, type TouchTip } from '@satchel/core/make/steps/touch'
import { toBase64 } from '@satchel/core/raster/base64'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../components/button.tsx'
import { Dialog } from '../components/dialog.tsx'
import { loadBrush } from '../data/brush.ts'
import { loadPng } from '../data/sources.ts'
import type { TouchTipProps } from '../features/make/source-page.tsx'
import { TipChoice } from '../features/tune/facts/tip-choice.tsx'

/** Any brush's tip for touching up; what it covers is kept with the strokes. */
export function TouchTipDialog({ onClose, onTip }: TouchTipProps) {
  const [chosen, setChosen] = useState<{ id: string; name: string }>()
  const take = useMutation({ mutationFn: async () => chosen && loadTouchTip(chosen), onSuccess: onTip })
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title="Touch up with a tip">
      <TipChoice chosen={chosen} onChoose={setChosen} own="a round one" />
      {take.error && (
        <p role="alert" className="text-13 text-madder">
          {take.error.message}
        </p>
      )}
      <Button kind="primary" disabled={take.isPending} onClick={() => take.mutate()}>
        Touch up with {chosen ? `the tip of "${chosen.name}"` : 'a round one'}
      </Button>
    </Dialog>
  )
}

async function loadTouchTip({ id, name }: { id: string; name: string }): Promise<TouchTip> {
  const { pictures, recipe } = await loadBrush(id)
  const [picture] = pictures
  if (!picture) throw new Error(`"${name}" has no tip.`)
  const [frame] = readPng(new Uint8Array(await loadPng(`/api/pictures/${picture.blobSha}`))).frames
  if (!frame) throw new Error(`The tip of "${name}" cannot be read; choose another brush.`)
  const { reading } = recipe.colour
  // of what has its own colours, only where it lies counts
  const { width: from, height: high, channels, data } = toCoverage(frame.pixels, reading)
  const cover = channels === 1 ? data : data.filter((_, i) => i % 4 === 3)
  const { width, height } = fitSize(from, high, TOUCH_TIP_SIDE_PX)
  const small = shrinkPixels({ width: from, height: high, channels: 1, data: cover }, width, height)
  return { name, width, height, cover: toBase64(small.data) }
}
