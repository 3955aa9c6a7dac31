import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, Camera, Grid3x3 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { useAddress } from '../components/use-address.ts'
import { materialsQuery } from '../data/materials.ts'
import { PhotoDialog } from '../features/materials/photo-dialog.tsx'
import { RuleDialog } from '../features/materials/rule-dialog.tsx'
import { Counts, Shelves } from '../features/materials/shelves.tsx'

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
