import { useMutation, useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { Button, buttonLook } from '../../../components/button.tsx'
import { plural } from '../../../components/format.ts'
import { toast, toastError } from '../../../components/toasts.tsx'
import { foldersQuery, takeOutOfFolders } from '../../../data/editions.ts'
import { useRefresh } from '../../../data/use-refresh.ts'

const DAY = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeZone: 'UTC' })

/** What lies in folders because of an edition: what its end takes out, seen before, and done at any time. */
export function ClassFolders({ editionId, lastDay }: { editionId: string; lastDay: string | null }) {
  const folders = useQuery(foldersQuery(editionId))
  const refresh = useRefresh()
  const back = useMutation({
    mutationFn: () => takeOutOfFolders(editionId),
    onSuccess: async ({ takenOut, failed }) => {
      await refresh('fit')
      if (failed.length > 0)
        toastError(new Error(`Not taken out: ${failed.join(', ')}. Try again, or look at it under Fit, Installs.`))
      if (takenOut.length === 0) return
      const stayed = takenOut.reduce((sum, each) => sum + each.stayed, 0)
      toast(
        `${plural(takenOut.length, 'folder is', 'folders are')} as before.${stayed > 0 ? ` ${plural(stayed, 'file was', 'files were')} changed there, and stayed.` : ''}`,
      )
    },
    onError: toastError,
  })
  if (!folders.data) return null
  const ours = folders.data.filter(({ isOurs }) => isOurs)
  const elsewhere = folders.data.filter(({ isOurs }) => !isOurs)
  return (
    <section aria-labelledby="folders-of" className="grid content-start gap-2">
      <h2 id="folders-of" className="font-title text-24">
        In apps
      </h2>
      {folders.data.length === 0 && (
        <p className="text-13 text-quiet">
          It lies in no folder of an app. Under{' '}
          <Link to="/fit/installs" className="text-saddle underline underline-offset-2">
            Fit, Installs
          </Link>{' '}
          a pack can be put in as this edition gives it; its end takes it out again.
        </p>
      )}
      {ours.length > 0 && (
        <>
          <p className="text-13 text-quiet">
            {lastDay
              ? `Taken out after ${DAY.format(new Date(`${lastDay}T00:00:00Z`))}, or when you end it: `
              : 'Taken out when you end it: '}
            what was covered comes back, what somebody changed there stays.
          </p>
          <ul className="grid gap-1">
            {ours.map(({ id, name, app }) => (
              <li key={id}>
                "{name}" in {app}
              </li>
            ))}
          </ul>
          <Button className="justify-self-start" disabled={back.isPending} onClick={() => back.mutate()}>
            As it was before
          </Button>
        </>
      )}
      {elsewhere.map(({ id, name, app, elsewhere: folder }) => (
        <p key={id} className="text-13">
          "{name}" lies in the folder "{folder}" of a computer, for {app}. Only that computer's browser can take it out:{' '}
          <Link to="/fit/installs" className={buttonLook()}>
            to Installs
          </Link>
        </p>
      ))}
    </section>
  )
}
