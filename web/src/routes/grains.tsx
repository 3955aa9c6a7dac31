import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, Camera, Grid3x3 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { type Material, materialsQuery } from '../api/materials.ts'
import { exampleQuery } from '../api/starters.ts'
import { BrushExample } from '../components/brush-example.tsx'
import { Button, buttonLook } from '../components/button.tsx'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { useAddress } from '../components/use-address.ts'
import { MaterialCard } from '../features/materials/material-card.tsx'
import { PhotoDialog } from '../features/materials/photo-dialog.tsx'
import { RuleDialog } from '../features/materials/rule-dialog.tsx'

/** The shelf of grains and strips in Sort. */
export function GrainsRoute() {
  const [search, change] = useAddress()
  const materials = useQuery(materialsQuery)
  const [dialog, setDialog] = useState<'rule' | 'photo'>()
  const find = (search.get('q') ?? '').toLowerCase()
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Grains and strips · Gentle Satchel</title>
      <PageTitle
        note={materials.data && <Counts materials={materials.data.materials} />}
        aside={
          <>
            <input
              type="search"
              aria-label="Find grains and strips"
              placeholder="find"
              value={search.get('q') ?? ''}
              onChange={(event) => change({ q: event.target.value })}
              className="rounded-4 border border-line bg-raised px-2.5 py-1.5"
            />
            <Button onClick={() => setDialog('photo')}>
              <Camera size={18} aria-hidden /> From a photograph
            </Button>
            <Button onClick={() => setDialog('rule')}>
              <Grid3x3 size={18} aria-hidden /> Draw a grain
            </Button>
            <Link to="/sort" className={buttonLook()}>
              <ArrowLeft size={18} aria-hidden /> Brushes
            </Link>
          </>
        }
      >
        Grains and strips
      </PageTitle>
      {dialog === 'rule' && <RuleDialog onClose={() => setDialog(undefined)} />}
      {dialog === 'photo' && <PhotoDialog onClose={() => setDialog(undefined)} />}
      {materials.isPending && <Loading what="grains and strips" />}
      {materials.isError && <LoadError error={materials.error} onRetry={() => void materials.refetch()} />}
      {materials.isSuccess && <Shelves materials={materials.data.materials} find={find} />}
    </div>
  )
}

const of = (materials: readonly Material[], kind: Material['kind']) => materials.filter((each) => each.kind === kind)

function Counts({ materials }: { materials: readonly Material[] }) {
  return (
    <>
      {plural(of(materials, 'grain').length, 'grain')}, {plural(of(materials, 'strip').length, 'strip')}
    </>
  )
}

function Shelves({ materials, find }: { materials: readonly Material[]; find: string }) {
  const example = useQuery({ ...exampleQuery('strip'), enabled: materials.length === 0 })
  const found = materials.filter(({ name }) => name.toLowerCase().includes(find))
  if (materials.length === 0)
    return (
      <Empty
        title="No grains and strips yet"
        action={
          <Link to="/gather" className={buttonLook('primary')}>
            Gather some
          </Link>
        }
      >
        A grain is a picture that repeats, and that marks pick up; a strip is the long picture that a ribbon lays along
        a stroke. Drop such pictures under Gather: what looks like one is offered as one.
        <BrushExample brush={example.data}>For example "{example.data?.name}", which lays one strip</BrushExample>
      </Empty>
    )
  if (found.length === 0) return <p className="py-10 text-center text-quiet">Nothing is called like that.</p>
  return (
    <>
      {(['grain', 'strip'] as const).map((kind) => {
        const shelf = of(found, kind)
        if (shelf.length === 0) return null
        return (
          <section key={kind} className="mb-8">
            <h2 className="mb-3 font-title text-24">{kind === 'grain' ? 'Grains' : 'Strips'}</h2>
            <ul
              className={`grid gap-4 ${kind === 'grain' ? 'grid-cols-[repeat(auto-fill,minmax(260px,1fr))]' : 'grid-cols-[repeat(auto-fill,minmax(min(480px,100%),1fr))]'}`}
            >
              {shelf.map((material) => (
                <li key={material.id}>
                  <MaterialCard material={material} />
                </li>
              ))}
            </ul>
          </section>
        )
      })}
    </>
  )
}
