import { useMutation } from '@tanstack/react-query'
import { formatCount, plural } from '../../components/format.ts'
import { toastError } from '../../components/toasts.tsx'
import { chooseCard, type Ledger, ledgerQuery } from '../../data/gather.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })

/** Setup cards that came with packs. Each is offered: what it does is said, and nothing of it is done unless it is ticked. */
export function SetupOffers({ ledger: { id, cards } }: { ledger: Ledger }) {
  const refresh = useRefresh()
  const choose = useMutation({
    mutationFn: (choice: Parameters<typeof chooseCard>[1]) => chooseCard(id, choice),
    onSettled: () => refresh(ledgerQuery(id).queryKey),
    onError: toastError,
  })
  return (
    <section aria-label="Setup cards" className="mb-3 grid max-h-40 gap-2 overflow-auto">
      {cards.map((card) => {
        const { fileId, key, title, isChosen } = card
        const pressed =
          choose.isPending && choose.variables.fileId === fileId && choose.variables.key === key
            ? choose.variables.isChosen
            : isChosen
        return (
          <label
            key={`${fileId} ${key}`}
            className="flex items-start gap-3 rounded-10 border border-line bg-surface px-3 py-2 text-13"
          >
            <input
              type="checkbox"
              className="mt-1"
              checked={pressed}
              onChange={() => choose.mutate({ fileId, key, isChosen: !pressed })}
            />
            <span>
              <strong className="font-title text-15">Set up by the card of {title}</strong>
              <span className="block text-quiet">{tellCard(card)}</span>
            </span>
          </label>
        )
      })}
    </section>
  )
}

function tellCard({ pockets, setup }: Ledger['cards'][number]): string {
  const told = pockets.map(
    ({ name, entries }) => `a pocket "${name}" with ${plural(entries, 'brush', 'brushes')} at fixed sizes`,
  )
  const hidden = setup?.hidden ?? []
  if (hidden.length > 0) told.push(`${formatCount(hidden.length)} of its sets out of sight (${hidden.join(', ')})`)
  if (setup?.hidesOthers) told.push('all of your other sets out of sight')
  const back = setup?.until
    ? `put back as it was after ${DAY.format(new Date(new Date(setup.until).getTime() - 1))}, or whenever you like`
    : 'put back as it was whenever you like'
  return `Adds ${told.join(', ')}; ${back}.`
}
