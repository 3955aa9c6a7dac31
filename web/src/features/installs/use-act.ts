import { useMutation } from '@tanstack/react-query'
import { useRefresh } from '../../data/use-refresh.ts'

/** What was said last of an install: on its card, where nothing lies over its buttons. */
export type Word = { text: string; isBad: boolean }
export type Say = (word: Word | undefined) => void

/** Does something with an install, and says on its card in one sentence how it went. */
export function useAct<Wish = undefined, Answer = unknown>(
  act: (wish: Wish) => Promise<Answer>,
  { onSaid, said }: { onSaid: Say; said?: (answer: Answer) => string },
) {
  const refresh = useRefresh()
  return useMutation({
    mutationFn: act,
    onMutate: () => onSaid(undefined),
    onSuccess: (answer) => {
      if (said) onSaid({ text: said(answer), isBad: false })
    },
    onError: (error) => onSaid({ text: error instanceof Error ? error.message : String(error), isBad: true }),
    onSettled: () => refresh('fit'),
  })
}
