import { useQuery } from '@tanstack/react-query'
import { Signpost } from 'lucide-react'
import { Suspense, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { fetched } from '../../components/fetched.tsx'
import { setupCardsQuery } from '../../data/setup-cards.ts'

const SetUpDialog = fetched(async () => ({ default: (await import('./set-up-dialog.tsx')).SetUpDialog }))

/** Says at the end of the strip that the rack is set up by a card, or was put back: there one sees what that comes to. */
export function SetUp() {
  const { data } = useQuery(setupCardsQuery)
  const [isOpen, setOpen] = useState(false)
  const [first] = data?.cards ?? []
  const [ended] = data?.ended ?? []
  if (!data || (!first && !ended)) return null
  return (
    <>
      <Button className="max-w-56 shrink-0 text-13" onClick={() => setOpen(true)}>
        <Signpost size={18} aria-hidden className="shrink-0" />
        <span className="truncate">{first ? `Set up for ${first.title}` : `${ended?.title} is over`}</span>
      </Button>
      {isOpen && (
        <Suspense>
          <SetUpDialog {...data} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  )
}
