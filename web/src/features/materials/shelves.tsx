import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { BrushExample } from '../../components/brush-example.tsx'
import { buttonLook } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { Empty } from '../../components/states.tsx'
import type { Material } from '../../data/materials.ts'
import { exampleQuery } from '../../data/starters.ts'
import { MaterialCard } from './material-card.tsx'

export const of = (materials: readonly Material[], kind: Material['kind']) =>
  materials.filter((each) => each.kind === kind)

export function Counts({ materials }: { materials: readonly Material[] }) {
  return (
    <>
      {plural(of(materials, 'grain').length, 'grain')}, {plural(of(materials, 'strip').length, 'strip')}
    </>
  )
}

export function Shelves({ materials, find }: { materials: readonly Material[]; find: string }) {
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
