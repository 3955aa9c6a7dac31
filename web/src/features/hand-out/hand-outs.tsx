import { HandOutForm } from '@satchel/core/forms/hand-out'
import { format, formatDistanceToNow } from 'date-fns'
import { Check, Copy, Link2, MoreHorizontal } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { Refused, useForm } from '../../components/form.tsx'
import { Menu } from '../../components/menu.tsx'
import { giveAgain, type HandOut, handOut, newLink, type Pack, type Release, withdraw } from '../../data/packs.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { usePackChange } from './use-pack-change.ts'

type State = { mark: string; word: string; look: string }

function stateOf({ withdrawnAt, endsAt, downloadLimit, downloads }: HandOut): State {
  if (withdrawnAt) return { mark: '✕', word: 'withdrawn', look: 'text-madder' }
  if (endsAt && new Date(endsAt).getTime() <= Date.now()) return { mark: '◌', word: 'ended', look: 'text-quiet' }
  if (downloadLimit !== null && downloads >= downloadLimit) return { mark: '◌', word: 'used up', look: 'text-quiet' }
  return { mark: '●', word: 'out', look: 'text-moss' }
}

/** Who has which release: each through a link of their own. */
export function HandOuts({ pack, onLink }: { pack: Pack; onLink: (link: { name: string; link: string }) => void }) {
  const change = usePackChange()
  const renew = async (each: HandOut) => {
    const made = await change(() => newLink(each.id))
    if (made) onLink({ name: each.name, link: made.link })
  }
  return (
    <section aria-labelledby="hand-outs" className="grid content-start gap-3">
      <h2 id="hand-outs" className="font-title text-24">
        Hand-outs
      </h2>
      {pack.handOuts.length === 0 && (
        <p className="text-quiet">Nobody has it yet. Hand out a release, and send the link it gives.</p>
      )}
      <ul className="grid gap-2">
        {pack.handOuts.map((each) => {
          const { mark, word, look } = stateOf(each)
          return (
            <li
              key={each.id}
              className="grid grid-cols-[1fr_auto_auto] items-center gap-3 rounded-10 border border-line bg-surface p-3"
            >
              <div className="min-w-0">
                <p className="truncate font-medium">{each.name}</p>
                <p className="text-13 text-quiet">
                  <span className="measure">{each.version}</span>, fetched {each.downloads}
                  {each.downloadLimit !== null && ` of ${each.downloadLimit}`} times
                  {each.lastAt && `, last ${formatDistanceToNow(new Date(each.lastAt), { addSuffix: true })}`}
                  {each.endsAt && `, ends ${format(new Date(each.endsAt), 'd MMM yyyy')}`}
                </p>
              </div>
              <span className={`font-medium ${look}`}>
                <span aria-hidden>{mark}</span> {word}
              </span>
              <Menu
                label={`${each.name}: what to do`}
                trigger={
                  <Button kind="quiet" aria-label={`More for ${each.name}`}>
                    <MoreHorizontal size={18} aria-hidden />
                  </Button>
                }
                items={[
                  { label: 'Make a new link', icon: <Link2 size={18} aria-hidden />, onSelect: () => void renew(each) },
                  each.withdrawnAt
                    ? {
                        label: 'Give it again',
                        onSelect: () =>
                          void change(() => giveAgain(each.id), { text: `The link of "${each.name}" works again.` }),
                      }
                    : {
                        label: 'Withdraw',
                        danger: true,
                        onSelect: () =>
                          void change(() => withdraw(each.id), {
                            text: `The link of "${each.name}" is dead now.`,
                            undo: () => giveAgain(each.id),
                          }),
                      },
                ]}
              />
            </li>
          )
        })}
      </ul>
    </section>
  )
}

type Giving = {
  pack: Pack
  release: Release
  onClose: () => void
  onLink: (link: { name: string; link: string }) => void
}

export function HandOutDialog({ release, ...rest }: Omit<Giving, 'release'> & { release: Release | undefined }) {
  return (
    <Dialog
      open={release !== undefined}
      onOpenChange={(open) => !open && rest.onClose()}
      title={`Hand out ${rest.pack.title} ${release?.version ?? ''}`}
      description="It opens by its link, without an account."
    >
      {release && <HandOutFields {...rest} release={release} />}
    </Dialog>
  )
}

function HandOutFields({ pack, release, onClose, onLink }: Giving) {
  const refresh = useRefresh()
  const { form, field, isSending, refused } = useForm({
    schema: HandOutForm,
    first: { name: '', endsAt: '', downloadLimit: '' },
    async send(wish) {
      const { link } = await handOut(pack.id, { releaseId: release.id, ...wish }).finally(() =>
        refresh('packs', 'pack', 'tally'),
      )
      onClose()
      onLink({ name: wish.name, link })
    },
  })
  return (
    <form {...form} className="grid gap-3">
      <TextField label="For whom" placeholder="A person, or a group" {...field('name')} />
      <TextField label="Ends on (if at all)" type="date" {...field('endsAt')} />
      <TextField label="Most downloads (if limited)" inputMode="numeric" {...field('downloadLimit')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        Make the link
      </Button>
    </form>
  )
}

/** The link is shown this once: only its trace is kept. */
export function LinkDialog({
  shown,
  onClose,
}: {
  shown: { name: string; link: string } | undefined
  onClose: () => void
}) {
  const [copied, setCopied] = useState(false)
  const copy = async () => {
    if (!shown) return
    await navigator.clipboard.writeText(shown.link)
    setCopied(true)
  }
  const close = () => {
    setCopied(false)
    onClose()
  }
  return (
    <Dialog
      open={shown !== undefined}
      onOpenChange={(open) => !open && close()}
      title="The link is ready"
      description={`For ${shown?.name ?? ''}. It is shown only now; if it gets lost, make a new one.`}
    >
      <output data-testid="hand-out-link" className="measure break-all rounded-4 border border-line bg-raised p-3">
        {shown?.link}
      </output>
      <div className="flex justify-end gap-2">
        <Button onClick={() => void copy()}>
          {copied ? <Check size={18} aria-hidden /> : <Copy size={18} aria-hidden />}{' '}
          {copied ? 'Copied' : 'Copy the link'}
        </Button>
        <Button kind="primary" onClick={close}>
          Done
        </Button>
      </div>
    </Dialog>
  )
}
