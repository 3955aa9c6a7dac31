import { useMutation, useQuery } from '@tanstack/react-query'
import { FolderSync } from 'lucide-react'
import { Button } from '../../components/button.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { followFolder } from '../../data/followed.ts'
import { sessionQuery } from '../../data/session.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { lookNow } from '../../real-folder/follow-here.ts'
import { rememberFollowed } from '../../real-folder/followed-here.ts'
import { canPickFolder, pickFolder } from '../../real-folder/pick-folder.ts'

/** Begins to follow a folder of this computer, where the browser gives such. */
export function FollowButton() {
  const refresh = useRefresh()
  const session = useQuery(sessionQuery).data
  const workspaceId = session?.signedIn ? session.workspaceId : undefined
  const follow = useMutation({
    async mutationFn() {
      const folder = await pickFolder('read')
      if (!folder || workspaceId === undefined) return
      const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
      const { id, isNew } = await followFolder({ name: folder.name, by: 'page', zone })
      await rememberFollowed({ id, workspaceId, folder, name: folder.name })
      lookNow()
      await refresh('followed')
      toast(
        isNew ? `"${folder.name}" is followed for as long as this page is open.` : `"${folder.name}" is followed on.`,
      )
    },
    onError: toastError,
  })
  if (!canPickFolder()) return null
  return (
    <Button kind="primary" disabled={follow.isPending} onClick={() => follow.mutate()}>
      <FolderSync size={18} aria-hidden /> Follow a folder
    </Button>
  )
}
