import {
  type CONTAINERS,
  type Destination,
  type GRAIN_PLACES,
  problemsOf,
  type SEVERAL,
} from '@satchel/core/destinations/destination'
import { useMemo } from 'react'
import { choicesOf } from '../../components/controls.tsx'
import { SelectField, TextArea, TextField } from '../../components/field.tsx'
import { NumberBox } from '../../components/range-slider.tsx'
import { DestinationParts } from './destination-parts.tsx'

type Props = { value: Destination; onChange: (value: Destination) => void }

const CONTAINER_WORDS: Record<(typeof CONTAINERS)[number], string> = {
  png: 'PNG', gbr: 'open brush (GBR)', openraster: 'OpenRaster', svg: 'SVG', satchel: 'Satchel pack',
} // biome-ignore format: a table
const SEVERAL_WORDS: Record<(typeof SEVERAL)[number], string> = {
  gih: 'an open animated brush (GIH)', apng: 'an animated PNG', layers: 'layers of an OpenRaster', satchel: 'a Satchel pack', oneEach: 'a brush each', first: 'the first alone',
} // biome-ignore format: a table
const GRAIN_WORDS: Record<(typeof GRAIN_PLACES)[number], string> = {
  inside: 'inside the settings', beside: 'a file beside', path: 'a file, by its path', none: 'nowhere',
} // biome-ignore format: a table

const FLAGS = {
  colour: 'takes colours', square: 'square', powersOfTwo: 'sides are powers of two', circle: 'cut to a circle', isOwnSize: 'paints as large as the picture',
} as const // biome-ignore format: a table

/** The description of a painting app, as a form. */
export function DestinationForm({ value, onChange }: Props) {
  const problems = useMemo(() => problemsOf(value), [value])
  /** What is wrong with a part, where it is set. */
  const wrong = (part: string) => {
    const [, said] = [...problems].find(([path]) => path === part || path.startsWith(`${part}.`)) ?? []
    return said && `${said.charAt(0).toUpperCase()}${said.slice(1)}.`
  }
  const { files, pictures, names } = value
  const setFiles = (change: Partial<Destination['files']>) => onChange({ ...value, files: { ...files, ...change } })
  const setPictures = (change: Partial<Destination['pictures']>) =>
    onChange({ ...value, pictures: { ...pictures, ...change } })
  const setNames = (change: Partial<Destination['names']>) => onChange({ ...value, names: { ...names, ...change } })
  return (
    <div className="grid gap-5">
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField label="Name" error={wrong('name')} value={value.name} maxLength={120} onChange={(event) => onChange({ ...value, name: event.target.value })} />
        <TextField label="Its version" error={wrong('appVersion')} value={value.appVersion} maxLength={20} onChange={(event) => onChange({ ...value, appVersion: event.target.value })} />
      </div>
      <section className="grid items-start gap-3 sm:grid-cols-2" aria-label="Files">
        <SelectField label="A brush of one picture is" value={files.single} choices={choicesOf(CONTAINER_WORDS)} onChange={(event) => setFiles({ single: event.target.value as typeof files.single })} />
        <SelectField label="Several pictures become" value={files.several} choices={choicesOf(SEVERAL_WORDS)} onChange={(event) => setFiles({ several: event.target.value as typeof files.several })} />
        <TextField label="Folder" error={wrong('files.folder')} hint="{app}, {library} and {set} stand for their names" value={files.folder} onChange={(event) => setFiles({ folder: event.target.value })} />
        <TextField label="Extension of settings beside, if any" error={wrong('files.settings')} value={files.settings ?? ''} onChange={(event) => setFiles({ settings: event.target.value || undefined })} />
        <SelectField label="Grains lie" value={value.grain} choices={choicesOf(GRAIN_WORDS)} onChange={(event) => onChange({ ...value, grain: event.target.value as typeof value.grain })} />
        <TextField label="Folder of grains" error={wrong('files.grainFolder')} value={files.grainFolder} onChange={(event) => setFiles({ grainFolder: event.target.value })} />
      </section>
      <section className="grid gap-2 text-13" aria-label="Pictures">
        <h3 className="font-semibold">Pictures</h3>
        <p className="flex flex-wrap items-center gap-1">
          from <NumberBox label="Least side" value={pictures.leastPx} min={1} max={pictures.mostPx} step={1} onChange={(leastPx) => setPictures({ leastPx })} /> to{' '}
          <NumberBox label="Largest side" value={pictures.mostPx} min={pictures.leastPx} max={16_384} step={1} onChange={(mostPx) => setPictures({ mostPx })} /> px
        </p>
        <p className="flex flex-wrap gap-x-4 gap-y-1">
          {(Object.keys(FLAGS) as (keyof typeof FLAGS)[]).map((flag) => (
            <label key={flag} className="flex items-center gap-1.5">
              <input type="checkbox" checked={pictures[flag]} onChange={(event) => setPictures({ [flag]: event.target.checked })} className="h-5 w-5" />
              {FLAGS[flag]}
            </label>
          ))}
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={pictures.depth === 16} onChange={(event) => setPictures({ depth: event.target.checked ? 16 : 8 })} className="h-5 w-5" />
            greys of 16 bits
          </label>
        </p>
      </section>
      <section className="grid gap-2 text-13" aria-label="Names">
        <h3 className="font-semibold">Names</h3>
        <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
          <span className="flex items-center gap-1">
            at most <NumberBox label="Characters of a name" value={names.mostChars} min={4} max={120} step={1} onChange={(mostChars) => setNames({ mostChars })} /> characters
          </span>
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={names.letters === 'plain'} onChange={(event) => setNames({ letters: event.target.checked ? 'plain' : 'any' })} className="h-5 w-5" />
            plain letters alone
          </label>
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={names.letterCase === 'lower'} onChange={(event) => setNames({ letterCase: event.target.checked ? 'lower' : 'any' })} className="h-5 w-5" />
            small letters alone
          </label>
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={names.unique === 'everywhere'} onChange={(event) => setNames({ unique: event.target.checked ? 'everywhere' : 'folder' })} className="h-5 w-5" />
            no name twice, in any folder
          </label>
        </p>
      </section>
      <section aria-label="What it knows of a recipe">
        <h3 className="mb-1 text-13 font-semibold">What it knows of a recipe</h3>
        <DestinationParts knows={value.knows} onChange={(knows) => onChange({ ...value, knows })} />
      </section>
      <TextArea
        label="What must be pressed after copying, a line each"
        error={wrong('afterCopying')}
        value={value.afterCopying.join('\n')}
        onChange={(event) => onChange({ ...value, afterCopying: event.target.value.split('\n').slice(0, 8) })}
      />
    </div>
  )
} // biome-ignore format: one control a line
