import { useMutation, useQueryClient } from '@tanstack/react-query'
import { toastError } from '../../components/toasts.tsx'
import { type Picture, replaceFile, type Source, sourceQuery } from './queries.ts'

/** Another picture for the same steps, on top of what is saved. */
export function useReplace(source: Source, save: () => Promise<boolean>, revision: () => number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (picture: Picture) => {
      if (await save()) await replaceFile(source.id, picture, revision())
    },
    onSuccess: () => client.invalidateQueries({ queryKey: sourceQuery(source.id).queryKey }),
    onError: toastError,
  })
}
