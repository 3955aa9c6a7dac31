import { useQuery } from '@tanstack/react-query'
import { Plus, Store } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { BrushExample } from '../components/brush-example.tsx'
import { Button } from '../components/button.tsx'
import { Dialog } from '../components/dialog.tsx'
import { TextField } from '../components/field.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { createPack, packsQuery } from '../data/packs.ts'
import { exampleQuery } from '../data/starters.ts'
import { PackLabel } from '../features/hand-out/pack-label.tsx'
import { usePackChange } from '../features/hand-out/use-pack-change.ts'

export function HandOutRoute() {
  const packs = useQuery(packsQuery)
  const navigate = useNavigate()
  const change = usePackChange()
  const [naming, setNaming] = useState(false)
  const isEmpty = packs.data?.packs.length === 0
  const example = useQuery({ ...exampleQuery('pack'), enabled: isEmpty })
  const make = async (title: string) => {
    const made = await change(() => createPack(title))
    if (made) await navigate(`/hand-out/${made.id}`)
  }
  const newPack = (
    <Button kind="primary" onClick={() => setNaming(true)}>
      <Plus size={18} aria-hidden /> New pack
    </Button>
  )
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Hand out · Gentle Satchel</title>
      <PageTitle
        note="packs, their releases, and who has them"
        aside={
          <>
            <Link
              to="/hand-out/shops"
              className="inline-flex items-center gap-1 text-saddle underline underline-offset-2"
            >
              <Store size={18} aria-hidden /> Shops
            </Link>
            {newPack}
          </>
        }
      >
        Hand out
      </PageTitle>
      {packs.isPending && <Loading what="packs" />}
      {packs.isError && <LoadError error={packs.error} onRetry={() => void packs.refetch()} />}
      {isEmpty && (
        <Empty title="No pack yet" action={newPack}>
          A pack is some of your sets with a title, a licence and a page of help. Release it, and give each person a
          link of their own.
          <BrushExample brush={example.data}>
            For example eight like "{example.data?.name}", as release 1.0.0 for an evening class
          </BrushExample>
        </Empty>
      )}
      <ul className="grid gap-5 sm:grid-cols-[repeat(auto-fill,minmax(360px,1fr))]">
        {packs.data?.packs.map((pack) => (
          <li key={pack.id}>
            <PackLabel pack={pack} />
          </li>
        ))}
      </ul>
      <Dialog open={naming} onOpenChange={setNaming} title="New pack">
        <form
          className="grid gap-4"
          onSubmit={(event) => {
            event.preventDefault()
            void make(String(new FormData(event.currentTarget).get('title')))
          }}
        >
          <TextField label="Title" name="title" required maxLength={120} placeholder="What people will see first" />
          <Button kind="primary" type="submit">
            Make the pack
          </Button>
        </form>
      </Dialog>
    </div>
  )
}
