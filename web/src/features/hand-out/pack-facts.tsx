import { useQueries, useQuery } from '@tanstack/react-query'
import { Palette } from 'lucide-react'
import { type ComponentProps, Suspense, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { fetched } from '../../components/fetched.tsx'
import { SelectField } from '../../components/field.tsx'
import { HelpText } from '../../components/help-text.tsx'
import { LicenceField } from '../../components/licence-field.tsx'
import { LoadError } from '../../components/states.tsx'
import { licencesQuery } from '../../data/licences.ts'
import {
  coverPicture,
  laidOutQuery,
  leaveCover,
  type Pack,
  type PackFacts,
  type PackTexts,
  setBrushesQuery,
  updatePack,
} from '../../data/packs.ts'
import type { CoverDialog as CoverComposer } from './cover-dialog.tsx'
import { Kept } from './kept-text.tsx'
import { usePackChange } from './use-pack-change.ts'

const OWN = 'own words'
/** What crops and composes is fetched when it is asked for. */
const CoverDialog = fetched<ComponentProps<typeof CoverComposer>>(async () => ({
  default: (await import('./cover-dialog.tsx')).CoverDialog,
}))

/** Title, maker, licence, help and cover; each is saved when one leaves it. */
export function PackFactsForm({ pack }: { pack: Pack }) {
  const change = usePackChange()
  const licences = useQuery(licencesQuery).data
  const save = (facts: PackFacts, was?: PackTexts) => void change(() => updatePack(pack.id, facts, was))
  const isOwn = pack.licence !== '' && licences !== undefined && licences.names[pack.licence] === undefined
  return (
    <section aria-labelledby="pack-facts" className="grid content-start gap-3">
      <h2 id="pack-facts" className="font-title text-24">
        About it
      </h2>
      <Kept label="Title" value={pack.title} required onKeep={(title, was) => save({ title }, { title: was })} />
      <Kept label="Maker" value={pack.maker} onKeep={(maker, was) => save({ maker }, { maker: was })} />
      <LicenceField value={pack.licence} licences={licences} ownWords={OWN} onChange={(licence) => save({ licence })} />
      {isOwn && (
        <Kept
          area
          label="The licence in your words"
          value={pack.licenceText}
          onKeep={(licenceText, was) => save({ licenceText }, { licenceText: was })}
        />
      )}
      <Kept
        area
        label="Help for those who get it"
        value={pack.help}
        onKeep={(help, was) => save({ help }, { help: was })}
      />
      <AsItArrives help={pack.help} />
      <CoverChoice pack={pack} onChoose={(coverBrushId) => save({ coverBrushId })} />
    </section>
  )
}

/** The help laid out as those who get it will see it. */
function AsItArrives({ help }: { help: string }) {
  const laidOut = useQuery({ ...laidOutQuery(help), enabled: help.trim() !== '' })
  if (help.trim() === '')
    return <p className="text-13 text-quiet">Write it in Markdown: # for a heading, - for a list, *so* for weight.</p>
  return (
    <details className="rounded-6 border border-line bg-surface px-3 py-2">
      <summary className="cursor-pointer text-13 text-quiet">As it arrives</summary>
      {laidOut.isError && <LoadError error={laidOut.error} onRetry={() => void laidOut.refetch()} />}
      {laidOut.data && <HelpText nodes={laidOut.data} under={2} />}
    </details>
  )
}

/** What stands for the pack: a cover, or the stroke of one of its brushes as long as there is none. */
function CoverChoice({ pack, onChoose }: { pack: Pack; onChoose: (id: string | null) => void }) {
  const change = usePackChange()
  const [composing, setComposing] = useState(false)
  return (
    <div className="grid gap-2">
      <h3 className="text-13 text-quiet">Cover</h3>
      {pack.coverSha ? (
        <img
          src={coverPicture(pack.id, pack.coverSha)}
          alt="The cover"
          className="aspect-video w-full rounded-6 border border-line"
        />
      ) : (
        <StrokeAsCover pack={pack} onChoose={onChoose} />
      )}
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => setComposing(true)}>
          <Palette size={18} aria-hidden /> {pack.coverSha ? 'Another cover' : 'Compose a cover'}
        </Button>
        {pack.coverSha && (
          <Button kind="quiet" onClick={() => void change(() => leaveCover(pack.id))}>
            No cover
          </Button>
        )}
      </div>
      <Suspense>{composing && <CoverDialog pack={pack} onClose={() => setComposing(false)} />}</Suspense>
    </div>
  )
}

function StrokeAsCover({ pack, onChoose }: { pack: Pack; onChoose: (id: string | null) => void }) {
  const lists = useQueries({ queries: pack.sets.map((set) => setBrushesQuery(set.id)) })
  const brushes = new Map(lists.flatMap((list) => list.data?.brushes ?? []).map((brush) => [brush.id, brush.name]))
  return (
    <div className="grid gap-2">
      <SelectField
        label="The stroke of"
        value={pack.coverBrushId ?? ''}
        choices={[{ value: '', label: 'no brush' }, ...[...brushes].map(([value, label]) => ({ value, label }))]}
        onChange={(event) => onChoose(event.target.value || null)}
      />
      {pack.coverBrushId && (
        <div className="well grid h-20 place-content-center overflow-clip">
          <img
            src={`/api/brushes/${pack.coverBrushId}/stroke.png?size=cover`}
            alt={`Stroke of ${brushes.get(pack.coverBrushId) ?? 'the cover'}`}
            className="h-18"
          />
        </div>
      )}
    </div>
  )
}
