import { useQuery } from '@tanstack/react-query'
import * as v from 'valibot'
import { Dialog } from '../../components/dialog.tsx'
import { SelectField, TextArea, TextField } from '../../components/field.tsx'
import { FormEnd, useForm } from '../../components/form.tsx'
import { toast } from '../../components/toasts.tsx'
import { exchangesQuery, publishRelease } from '../../data/exchanges.ts'
import type { Pack, Release } from '../../data/packs.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const Text = v.pipe(v.string(), v.maxLength(2_000, 'at most 2,000 characters'))
const PublishForm = v.object({ host: v.string(), about: Text, notes: Text, tags: v.pipe(v.string(), v.maxLength(500)) })

type Props = { pack: Pack; release: Release; onClose: () => void }

/** Publishes a release at an exchange, where strangers take it; a later one of the same pack stands in its place there. */
export function PublishDialog({ pack, release, onClose }: Props) {
  const exchanges = useQuery(exchangesQuery).data?.exchanges ?? []
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Publish ${release.version}`}
      description={`Anybody who comes to the exchange can take "${pack.title}", under ${pack.licence || 'no licence, which lets nobody use it'}. Only this workspace's key can bring a newer release, or take it away.`}
    >
      {exchanges[0] && <PublishFields hosts={exchanges.map(({ host }) => host)} {...{ pack, release, onClose }} />}
    </Dialog>
  )
}

function PublishFields({ hosts, release, onClose }: Props & { hosts: string[] }) {
  const refresh = useRefresh()
  const { form, field, isSending, refused } = useForm({
    schema: PublishForm,
    first: { host: hosts[0] ?? '', about: '', notes: release.notes, tags: '' },
    async send({ tags, ...said }) {
      const all = tags.split(',').map((tag) => tag.trim()).filter(Boolean) // biome-ignore format: one list
      await publishRelease({ releaseId: release.id, ...said, tags: all })
      await refresh('jobs')
      toast(`${release.version} is on its way to ${said.host}; the ring above shows how far.`)
      onClose()
    },
  })
  return (
    <form {...form} className="grid gap-3">
      <SelectField label="Exchange" choices={hosts.map((host) => ({ value: host, label: host }))} {...field('host')} />
      <TextArea label="What it is, for strangers" rows={3} {...field('about')} />
      <TextArea label="What is new" rows={2} {...field('notes')} />
      <TextField label="Tags" hint="With commas between." {...field('tags')} />
      <FormEnd refused={refused} isSending={isSending} send="Publish it" sending="Publishing …" />
    </form>
  )
}
