import {
  bandOf,
  COVER,
  COVER_PLACES,
  COVER_STROKES_MAX,
  COVER_TITLE_MAX_CHARS,
  type CoverCrop,
  type CoverPlan,
} from '@satchel/core/cover/cover'
import { useQuery } from '@tanstack/react-query'
import { ImagePlus, Plus, Trash2 } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import ReactCrop, { makeAspectCrop, type PercentCrop } from 'react-image-crop'
import 'react-image-crop/dist/ReactCrop.css'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { SelectField, TextField } from '../../components/field.tsx'
import { LoadError } from '../../components/states.tsx'
import { composeCover, coverLookQuery, type Pack, packBrushesQuery, takeCover } from '../../data/packs.ts'
import { usePackChange } from './use-pack-change.ts'

const PLACE_WORDS: Record<(typeof COVER_PLACES)[number], string> = {
  above: 'above',
  middle: 'in the middle',
  below: 'below',
}
/** Until the pace of sliders lets up: every look is painted. */
const SETTLE_MS = 250
const FIRST_BANDS = [
  { top: 0.55, height: 0.3 },
  { top: 0.8, height: 0.25 },
  { top: 0.3, height: 0.2 },
]

type Props = { pack: Pack; onClose: () => void }

/** A cover is composed here, of strokes as the engine paints them; or it is a part of a picture. */
export function CoverDialog({ pack, onClose }: Props) {
  const brushes = useQuery(packBrushesQuery(pack.id))
  const change = usePackChange()
  const [plan, setPlan] = useState<CoverPlan>(pack.cover ?? firstPlan(pack))
  const [file, setFile] = useState<File>()
  const input = useRef<HTMLInputElement>(null)
  const choices = (brushes.data?.brushes ?? []).map(({ id, name }) => ({ value: id, label: name }))
  const keep = async () => {
    if (await change(() => composeCover(pack.id, plan))) onClose()
  }
  const setStroke = (at: number, part: Partial<CoverPlan['strokes'][number]>) =>
    setPlan({ ...plan, strokes: plan.strokes.map((stroke, i) => (i === at ? { ...stroke, ...part } : stroke)) })
  if (file) return <CropDialog pack={pack} file={file} onBack={() => setFile(undefined)} onClose={onClose} />
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title="Cover" shape="wide">
      <Look packId={pack.id} plan={plan} />
      <div className="grid gap-3 sm:grid-cols-[minmax(0,1fr)_150px_auto_auto]">
        <TextField
          label="Title on it"
          value={plan.title}
          maxLength={COVER_TITLE_MAX_CHARS}
          onChange={(event) => setPlan({ ...plan, title: event.target.value })}
        />
        <SelectField
          label="It stands"
          value={plan.titlePlace}
          choices={COVER_PLACES.map((value) => ({ value, label: PLACE_WORDS[value] }))}
          onChange={(event) => {
            const titlePlace = COVER_PLACES.find((place) => place === event.target.value)
            if (titlePlace) setPlan({ ...plan, titlePlace })
          }}
        />
        <ColourField
          label="Letters"
          value={plan.titleColour}
          onChange={(titleColour) => setPlan({ ...plan, titleColour })}
        />
        <ColourField label="Ground" value={plan.ground} onChange={(ground) => setPlan({ ...plan, ground })} />
      </div>
      <ul className="grid gap-2">
        {plan.strokes.map((stroke, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a stroke is where it stands, and nothing else names it
          <li key={at} className="grid items-end gap-3 sm:grid-cols-[minmax(0,1fr)_auto_120px_120px_auto]">
            <SelectField
              label={`Stroke ${at + 1}`}
              value={stroke.brushId}
              choices={choices}
              onChange={(event) => setStroke(at, { brushId: event.target.value })}
            />
            <ColourField label="Colour" value={stroke.colour} onChange={(colour) => setStroke(at, { colour })} />
            <RangeField
              label="Height"
              value={stroke.height}
              min={0.05}
              onChange={(height) => setStroke(at, { height })}
            />
            <RangeField label="From above" value={stroke.top} min={0} onChange={(top) => setStroke(at, { top })} />
            <Button
              kind="quiet"
              aria-label={`Take stroke ${at + 1} away`}
              onClick={() => setPlan({ ...plan, strokes: plan.strokes.filter((_, i) => i !== at) })}
            >
              <Trash2 size={18} aria-hidden /> Away
            </Button>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-2">
        <Button
          disabled={plan.strokes.length >= COVER_STROKES_MAX || choices.length === 0}
          onClick={() => setPlan({ ...plan, strokes: [...plan.strokes, nextStroke(plan, choices)] })}
        >
          <Plus size={18} aria-hidden /> Another stroke
        </Button>
        <input
          ref={input}
          type="file"
          accept="image/png,image/jpeg,image/webp"
          aria-label="A picture for the cover"
          className="sr-only"
          onChange={(event) => setFile(event.target.files?.[0])}
        />
        <Button kind="quiet" onClick={() => input.current?.click()}>
          <ImagePlus size={18} aria-hidden /> A picture of your own instead
        </Button>
        <Button kind="primary" className="ml-auto" onClick={() => void keep()}>
          Take this cover
        </Button>
      </div>
    </Dialog>
  )
}

const firstPlan = ({ title, coverBrushId }: Pack): CoverPlan => ({
  ground: '#f2ede1',
  title,
  titleColour: '#1e2d2b',
  titlePlace: 'above',
  strokes: coverBrushId ? [{ brushId: coverBrushId, colour: '#9c4a21', top: 0.7, height: 0.4 }] : [],
})

function nextStroke({ strokes }: CoverPlan, choices: readonly { value: string }[]): CoverPlan['strokes'][number] {
  const brushId = choices[strokes.length % Math.max(1, choices.length)]?.value ?? ''
  return {
    brushId,
    colour: '#1e2d2b',
    ...(FIRST_BANDS[strokes.length % FIRST_BANDS.length] ?? { top: 0.5, height: 0.3 }),
  }
}

function ColourField({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  return (
    <label className="grid gap-1 text-13 text-quiet">
      {label}
      <input
        type="color"
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="h-9 w-14 rounded-4 border border-line bg-raised"
      />
    </label>
  )
}

type RangeProps = { label: string; value: number; min: number; onChange: (value: number) => void }
function RangeField({ label, value, min, onChange }: RangeProps) {
  return (
    <label className="grid gap-1 text-13 text-quiet">
      {label}
      <input
        type="range"
        min={min}
        max={1}
        step={0.01}
        value={value}
        onChange={(event) => onChange(Number(event.target.value))}
      />
    </label>
  )
}

/** The cover as the server paints it, once the sliders rest; the one before stays until then. */
function Look({ packId, plan }: { packId: string; plan: CoverPlan }) {
  const [settled, setSettled] = useState(plan)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(plan), SETTLE_MS)
    return () => clearTimeout(timer)
  }, [plan])
  const look = useQuery(coverLookQuery(packId, settled))
  const [shown, setShown] = useState<string>()
  useEffect(() => {
    if (!look.data) return
    const url = URL.createObjectURL(look.data)
    setShown(url)
    return () => URL.revokeObjectURL(url)
  }, [look.data])
  if (look.isError) return <LoadError error={look.error} onRetry={() => void look.refetch()} />
  return (
    <div className="well mx-auto aspect-video max-h-[38vh] max-w-full overflow-clip" aria-busy={look.isFetching}>
      {shown && <img src={shown} alt={`The cover: ${describe(plan)}`} className="h-full w-full" />}
    </div>
  )
}

const describe = ({ title, strokes }: CoverPlan) =>
  [
    title || 'no title',
    ...strokes.map((stroke) => `a stroke ${Math.round((bandOf(stroke).height / COVER.height) * 100)} % high`),
  ].join(', ')

type CropProps = { pack: Pack; file: File; onBack: () => void; onClose: () => void }

/** Which part of a picture becomes the cover. */
function CropDialog({ pack, file, onBack, onClose }: CropProps) {
  const change = usePackChange()
  const [url, setUrl] = useState<string>()
  const [crop, setCrop] = useState<PercentCrop>()
  useEffect(() => {
    const made = URL.createObjectURL(file)
    setUrl(made)
    return () => URL.revokeObjectURL(made)
  }, [file])
  const take = async () => {
    const { x, y, width, height } = crop ?? { x: 0, y: 0, width: 100, height: 100 }
    const part: CoverCrop = { left: x / 100, top: y / 100, width: width / 100, height: height / 100 }
    if (await change(() => takeCover(pack.id, file, part))) onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="A picture as cover"
      description="Choose the part that stands for the pack; it becomes 1600 × 900 px."
      shape="wide"
    >
      {url && (
        <ReactCrop
          {...(crop ? { crop } : {})}
          aspect={COVER.width / COVER.height}
          keepSelection
          onChange={(_, percent) => setCrop(percent)}
        >
          <img
            src={url}
            alt={file.name}
            className="max-h-[50vh]"
            onLoad={({ currentTarget: { naturalWidth, naturalHeight } }) =>
              setCrop(
                makeAspectCrop({ unit: '%', width: 100 }, COVER.width / COVER.height, naturalWidth, naturalHeight),
              )
            }
          />
        </ReactCrop>
      )}
      <div className="flex justify-between gap-2">
        <Button kind="quiet" onClick={onBack}>
          Back to composing
        </Button>
        <Button kind="primary" onClick={() => void take()}>
          Take this part
        </Button>
      </div>
    </Dialog>
  )
}
