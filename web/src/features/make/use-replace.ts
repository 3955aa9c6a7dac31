import { useMutation } from '@tanstack/react-query'
import type { Ahead } from '../../ahead/use-ahead.ts'
import { toastError } from '../../components/toasts.tsx'
import { type Picture, replaceFile, type Source } from '../../data/sources.ts'

/** Another picture for the same steps, on top of what is saved. */
export function useReplace({ id }: Source, { make }: Pick<Ahead<unknown>, 'make'>) {
  return useMutation({
    mutationFn: (picture: Picture) => make((from) => replaceFile(id, picture, from)),
    onError: toastError,
  })
}
