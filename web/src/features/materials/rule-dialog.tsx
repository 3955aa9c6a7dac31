import {
  drawsPitch,
  fittingLattice,
  fittingPitches,
  type GrainRule,
  RULE_NUMBERS,
  RULE_WORDS,
  type RuleSettings,
} from '@satchel/core/grain/rules'
import { usualOf } from '@satchel/core/number-row'
import { useMutation } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Choices, choicesOf, Slider } from '../../components/controls.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { SettingSlider } from '../../components/number-slider.tsx'
import { NumberBox } from '../../components/range-slider.tsx'
import { toast } from '../../components/toasts.tsx'
import { addGrain, materialsQuery } from '../../data/materials.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import type { GrainWish } from '../../workers/grain/protocol.ts'
import { TilePicture } from './tile-picture.tsx'
import { useGrainTile } from './use-grain-tile.ts'

const USUAL_PITCH_PX = 32
const SIDES = ['256', '512', '1024', '2048'] as const
const MM_AN_INCH = 25.4

/** Draws a grain by a rule; a pitch that does not close is told, with those that do. */
export function RuleDialog({ onClose }: { onClose: () => void }) {
  const refresh = useRefresh()
  const [rule, setRule] = useState<GrainRule>('dots')
  const [settings, setSettings] = useState<RuleSettings>({
    width: 512,
    height: 512,
    pitchPx: USUAL_PITCH_PX,
    ...usualOf(RULE_NUMBERS),
    seed: 1,
  })
  const [dpi, setDpi] = useState(300)
  const [name, setName] = useState('')
  const set = (change: Partial<RuleSettings>) => setSettings({ ...settings, ...change })
  const { tile, error } = useGrainTile(useMemo<GrainWish>(() => ({ type: 'draw', rule, settings }), [rule, settings]))
  const called = name.trim() || `${RULE_WORDS[rule]} ${Math.round(settings.pitchPx)}`
  const keep = useMutation({
    mutationFn: async () => tile && addGrain(called, tile.png),
    onSuccess: async () => {
      await refresh(materialsQuery.queryKey)
      toast(`"${called}" lies with the grains.`)
      onClose()
    },
  })
  const side = settings.width
  const offers = offersOf(rule, settings)
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Draw a grain"
      description="White lets paint through. Only what closes at every border repeats without a seam."
      shape="wide"
    >
      <Choices label="Rule" value={rule} choices={choicesOf(RULE_WORDS)} onChange={setRule} />
      <div className="grid gap-5 sm:grid-cols-2">
        <div className="grid content-start gap-3">
          <Choices
            label="Tile, px"
            value={String(side) as (typeof SIDES)[number]}
            choices={SIDES.map((value) => ({ value, label: value }))}
            onChange={(value) => set({ width: Number(value), height: Number(value) })}
          />
          <Slider
            label="Pitch"
            value={Math.round(settings.pitchPx * 100) / 100}
            usual={USUAL_PITCH_PX}
            min={2}
            max={side}
            step={0.01}
            eased
            unit="px"
            onChange={(pitchPx) => set({ pitchPx })}
          />
          <p className="text-13 text-quiet">
            <NumberBox
              label="Pitch in mm"
              value={round((settings.pitchPx / dpi) * MM_AN_INCH)}
              min={round((2 / dpi) * MM_AN_INCH)}
              max={(side / dpi) * MM_AN_INCH}
              step={0.01}
              onChange={(mm) => set({ pitchPx: Math.max(2, (mm * dpi) / MM_AN_INCH) })}
            />{' '}
            mm at <NumberBox label="Dots per inch" value={dpi} min={1} max={2400} step={1} onChange={setDpi} /> dpi,{' '}
            <NumberBox
              label="Marks on the tile"
              value={round(side / settings.pitchPx)}
              min={1}
              max={side / 2}
              step={0.01}
              onChange={(count) => set({ pitchPx: side / count })}
            />{' '}
            on the tile
          </p>
          {offers.length > 0 && (
            <p className="text-13 text-amber" role="status">
              It does not close. These do:{' '}
              {offers.map((offer) => (
                <button
                  key={`${offer.pitchPx} ${offer.angleDeg}`}
                  type="button"
                  className="mr-2 text-saddle underline"
                  onClick={() => set(offer)}
                >
                  {round(offer.pitchPx)} px{offer.angleDeg === 0 ? '' : ` at ${round(offer.angleDeg)}°`}
                </button>
              ))}
            </p>
          )}
          <SettingSlider
            rows={RULE_NUMBERS}
            name="size"
            label={rule === 'fibre' ? 'Drawn out' : undefined}
            of={settings}
            onChange={setSettings}
          />
          {drawsPitch(rule) && (
            <SettingSlider rows={RULE_NUMBERS} name="angleDeg" of={settings} onChange={setSettings} />
          )}
          <TextField
            label="Name"
            value={name}
            maxLength={120}
            placeholder={called}
            onChange={(event) => setName(event.target.value)}
          />
        </div>
        {tile && <TilePicture tile={tile} label="The grain, moved by half" />}
      </div>
      {(error ?? keep.error) && (
        <p role="alert" className="text-13 text-madder">
          {(error ?? keep.error)?.message}
        </p>
      )}
      <Button kind="primary" disabled={!tile || keep.isPending} onClick={() => keep.mutate()}>
        Keep "{called}"
      </Button>
    </Dialog>
  )
}

const round = (value: number) => Math.round(value * 100) / 100

/** What closes next to what is set; nothing where that does. */
function offersOf(
  rule: GrainRule,
  { width, pitchPx, angleDeg }: RuleSettings,
): { pitchPx: number; angleDeg: number }[] {
  if (!drawsPitch(rule)) return []
  if (angleDeg === 0) {
    const fitting = fittingPitches(width, pitchPx)
    return fitting.some((pitch) => Math.abs(pitch - pitchPx) < 0.005)
      ? []
      : fitting.map((pitch) => ({ pitchPx: pitch, angleDeg: 0 }))
  }
  const lattice = fittingLattice(width, pitchPx, angleDeg)
  const isThere = Math.abs(lattice.pitchPx - pitchPx) < 0.005 && Math.abs(lattice.angleDeg - angleDeg) < 0.005
  return isThere ? [] : [lattice]
}
