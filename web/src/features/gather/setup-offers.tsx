import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { formatCount, formatLastDay, plural } from '../../components/format.ts'
import { toastError } from '../../components/toasts.tsx'
import { chooseCard, type Ledger, ledgerQuery } from '../../data/gather.ts'
import { useRefresh } from '../../data/use-refresh.ts'

type Card = Ledger['cards'][number]

/** Setup cards that came with packs. Each is offered: what it does is said, and nothing of it is done unless it is ticked. */
export function SetupOffers({ ledger: { id, cards } }: { ledger: Ledger }) {
  return (
    <section aria-label="Setup cards" className="mb-3 grid max-h-40 gap-2 overflow-auto">
      {cards.map((card) => (
        <SetupOffer key={`${card.fileId} ${card.key}`} ledgerId={id} card={card} />
      ))}
    </section>
  )
}

function SetupOffer({ ledgerId, card }: { ledgerId: string; card: Card }) {
  const { fileId, key, title } = card
  const refresh = useRefresh()
  /** What was pressed last, at once: the ledger says the same once it has it. */
  const [pressed, setPressed] = useState<boolean>()
  const choose = useMutation({
    mutationFn: (isChosen: boolean) => chooseCard(ledgerId, { fileId, key, isChosen }),
    onSettled: () => refresh(ledgerQuery(ledgerId).queryKey),
    onError: toastError,
    // pressed twice, the second goes after the first
    scope: { id: `setup ${ledgerId} ${fileId} ${key}` },
  })
  const isTicked = pressed ?? card.isChosen
  const press = () => {
    setPressed(!isTicked)
    choose.mutate(!isTicked, { onSettled: () => setPressed(undefined) })
  }
  return (
    <label className="flex items-start gap-3 rounded-10 border border-line bg-surface px-3 py-2 text-13">
      <input type="checkbox" className="mt-1" checked={isTicked} onChange={press} />
      <span>
        <strong className="font-title text-15">Set up by the card of {title}</strong>
        <span className="block text-quiet">{tellCard(card)}</span>
      </span>
    </label>
  )
}

function tellCard({ pockets, setup }: Card): string {
  const told = pockets.map(
    ({ name, entries }) => `a pocket "${name}" with ${plural(entries, 'brush', 'brushes')} at fixed sizes`,
  )
  const hidden = setup?.hidden ?? []
  if (hidden.length > 0) told.push(`${formatCount(hidden.length)} of its sets out of sight (${hidden.join(', ')})`)
  if (setup?.hidesOthers) told.push('all of your other sets out of sight')
  const back = setup?.until
    ? `put back as it was after ${formatLastDay(setup.until)}, or whenever you like`
    : 'put back as it was whenever you like'
  return `Adds ${told.join(', ')}; ${back}.`
}
