import { useMutation } from '@tanstack/react-query'
import { Button } from '../../components/button.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { answerFollowed, type FollowedFolder } from '../../data/followed.ts'
import { useRefresh } from '../../data/use-refresh.ts'

type Asked = FollowedFolder['asked'][number]

/** New files that may be some that are gone: asked where what they hold does not say it for sure. */
export function Questions({ folderId, asked }: { folderId: string; asked: readonly Asked[] }) {
  return (
    <ul aria-label="Questions" className="grid gap-2">
      {asked.map((each) => (
        <Question key={`${each.fileId} ${each.brushId}`} folderId={folderId} asked={each} />
      ))}
    </ul>
  )
}

function Question({
  folderId,
  asked: { fileId, path, brush, brushPicture, picture, pictureReading, reading },
}: {
  folderId: string
  asked: Asked
}) {
  const refresh = useRefresh()
  const answer = useMutation({
    mutationFn: (isSame: boolean) => answerFollowed(folderId, { fileId, isSame }),
    onSuccess: async (_, isSame) => {
      await refresh('followed', 'gather', 'brushes', 'brush', 'tally')
      toast(isSame ? `"${brush}" has the pixels of ${path} now.` : `${path} waits in Gather as a brush of its own.`)
    },
    onError: toastError,
  })
  return (
    <li className="flex flex-wrap items-center gap-3 rounded-4 bg-raised p-3">
      {brushPicture && <Picture sha={brushPicture} reading={reading} alt={`"${brush}" as it is`} />}
      {picture && <Picture sha={picture} reading={pictureReading ?? 'dark'} alt={path} />}
      <p className="min-w-60 flex-1">
        Is <strong className="break-all">{path}</strong> what “{brush}” was painted from? It looks like it, and that
        one’s file is gone.
      </p>
      <span className="flex flex-wrap gap-2">
        <Button disabled={answer.isPending} onClick={() => answer.mutate(false)}>
          No, a brush of its own
        </Button>
        <Button kind="primary" disabled={answer.isPending} onClick={() => answer.mutate(true)}>
          Yes, new pixels for it
        </Button>
      </span>
    </li>
  )
}

function Picture({ sha, reading, alt }: { sha: string; reading: string; alt: string }) {
  return (
    <span className="well grid h-11 w-11 shrink-0 place-content-center overflow-clip">
      <img src={`/api/pictures/${sha}/tip.png?reading=${reading}&side=88`} alt={alt} className="max-h-10 max-w-10" />
    </span>
  )
}
