import { useMutation } from '@tanstack/react-query'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { formatDay, formatLastDay, plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import { putCardBack, type SetupCards, setCardSeen } from '../../data/setup-cards.ts'
import { useRefresh } from '../../data/use-refresh.ts'

/** A card ends with the last moment of a day: the day that is told is the one before. */

/** By which cards the rack is set up, and what putting each back does: seen before it is done. */
export function SetUpDialog({ cards, ended, onClose }: SetupCards & { onClose: () => void }) {
  const isLast = cards.length + ended.length <= 1
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={cards.length > 0 ? 'How your rack is set up' : 'Your rack is as it was'}
      description={
        cards.length > 0
          ? 'Whatever you have pinned, resized, shown or hidden yourself since then stays as you left it.'
          : 'Whatever you had pinned, resized, shown or hidden yourself has stayed.'
      }
    >
      <ul className="grid gap-4">
        {cards.map((card) => (
          <Card key={card.id} card={card} onDone={isLast ? onClose : () => undefined} />
        ))}
        {ended.map((card) => (
          <Ended key={card.id} card={card} onDone={isLast ? onClose : () => undefined} />
        ))}
      </ul>
    </Dialog>
  )
}

function Card({ card: { id, title, until, plan }, onDone }: { card: SetupCards['cards'][number]; onDone: () => void }) {
  const refresh = useRefresh()
  const back = useMutation({
    mutationFn: () => putCardBack(id),
    onSuccess: async () => {
      await Promise.all([refresh('pockets'), refresh('sets'), refresh('brushes')])
      toast(`Your rack is as it was before ${title}.`)
      onDone()
    },
    onError: toastError,
  })
  return (
    <li className="grid gap-2 rounded-10 border border-line p-3">
      <h3 className="font-title text-15 font-semibold">{title}</h3>
      <p className="text-13 text-quiet">
        {until
          ? `Put back by itself after ${formatLastDay(until)}, or when its class ends. Then, or when you press it now:`
          : 'Put back when you press it, or when its class ends:'}
      </p>
      <ul className="grid gap-1 text-13">
        {plan.shows.length > 0 && (
          <li>
            {plural(plan.shows.length, 'set is', 'sets are')} shown again: {plan.shows.join(', ')}
          </li>
        )}
        {plan.putsAway.map((name) => (
          <li key={name}>The pocket "{name}" is put away</li>
        ))}
        {plan.removes > 0 && <li>{plural(plan.removes, 'brush leaves', 'brushes leave')} its pocket</li>}
        {plan.kept > 0 && (
          <li>
            {plural(plan.kept, 'brush', 'brushes')} of its pocket that you added or changed{' '}
            {plan.kept === 1 ? 'stays' : 'stay'}
          </li>
        )}
        {plan.shows.length + plan.putsAway.length + plan.removes + plan.kept === 0 && (
          <li>Nothing: all of it is as it was already</li>
        )}
      </ul>
      <Button kind="primary" className="justify-self-start" disabled={back.isPending} onClick={() => back.mutate()}>
        As it was before<span className="sr-only"> {title}</span>
      </Button>
    </li>
  )
}

function Ended({
  card: { id, title, putBackAt, shown, kept },
  onDone,
}: {
  card: SetupCards['ended'][number]
  onDone: () => void
}) {
  const refresh = useRefresh()
  const seen = useMutation({
    mutationFn: () => setCardSeen(id),
    onSuccess: async () => {
      await refresh('pockets')
      onDone()
    },
    onError: toastError,
  })
  return (
    <li className="grid gap-2 rounded-10 border border-line p-3">
      <h3 className="font-title text-15 font-semibold">{title} is over</h3>
      <p className="text-13">
        {putBackAt && `Put back on ${formatDay(putBackAt)}. `}
        {shown.length > 0 ? `Shown again: ${shown.join(', ')}.` : 'No set had to be shown again.'}
        {kept > 0 && ` ${plural(kept, 'brush', 'brushes')} of its pocket that you added or changed stayed.`}
      </p>
      <Button className="justify-self-start" disabled={seen.isPending} onClick={() => seen.mutate()}>
        Seen<span className="sr-only">: {title} is over</span>
      </Button>
    </li>
  )
}
