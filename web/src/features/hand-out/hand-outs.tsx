import { HandOutForm } from '@satchel/core/forms/hand-out'
import { format, formatDistanceToNow } from 'date-fns'
import { Link2, MoreHorizontal } from 'lucide-react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { SelectField, TextField } from '../../components/field.tsx'
import { Refused, useForm } from '../../components/form.tsx'
import { Menu } from '../../components/menu.tsx'
import { giveAgain, type HandOut, handOut, newLink, type Pack, type Release, withdraw } from '../../data/packs.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { EditionField } from './edition-field.tsx'
import { StateMark } from './state-mark.tsx'
import { usePackChange } from './use-pack-change.ts'

/** Who got a release last: each through a link of their own. */
export function HandOuts({ pack, onLink }: { pack: Pack; onLink: (link: { name: string; link: string }) => void }) {
  const change = usePackChange()
  const renew = async (each: HandOut) => {
    const made = await change(() => newLink(each.id))
    if (made) onLink({ name: each.name, link: made.link })
  }
  return (
    <section aria-labelledby="hand-outs" className="grid content-start gap-3">
      <div className="flex items-baseline justify-between gap-3">
        <h2 id="hand-outs" className="font-title text-24">
          Hand-outs
        </h2>
        <span className="flex gap-4 text-13">
          <Link to={`/hand-out/${pack.id}/editions`} className="text-saddle underline underline-offset-2">
            Editions
          </Link>
          <Link to={`/hand-out/${pack.id}/figures`} className="text-saddle underline underline-offset-2">
            Figures
          </Link>
          <Link to={`/hand-out/${pack.id}/people`} className="text-saddle underline underline-offset-2">
            {pack.handOutCount > pack.handOuts.length ? `People: all ${pack.handOutCount}` : 'People'}
          </Link>
        </span>
      </div>
      {pack.handOuts.length === 0 && (
        <p className="text-quiet">Nobody has it yet. Hand out a release, and send the link it gives.</p>
      )}
      <ul className="grid gap-2">
        {pack.handOuts.map((each) => {
          return (
            <li
              key={each.id}
              className="grid grid-cols-[1fr_auto_auto] items-center gap-3 rounded-10 border border-line bg-surface p-3"
            >
              <div className="min-w-0">
                <p className="truncate font-medium">{each.name}</p>
                <p className="text-13 text-quiet">
                  {each.edition && `${each.edition}, `}
                  <span className="measure">{each.version}</span>
                  {each.follows && ' and newer ones'}, fetched {each.downloads}
                  {each.downloadLimit !== null && ` of ${each.downloadLimit}`} times
                  {each.lastAt && `, last ${formatDistanceToNow(new Date(each.lastAt), { addSuffix: true })}`}
                  {each.endsAt && `, ends ${format(new Date(each.endsAt), 'd MMM yyyy')}`}
                </p>
              </div>
              <StateMark handOut={each} />
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

/** Whoever hands out an older release means that one. */
const isNewest = ({ releases }: Pack, { id }: Release) =>
  releases.find(({ state, recalledAt }) => state === 'ready' && recalledAt === null)?.id === id

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
    first: {
      name: '',
      editionId: '',
      newer: isNewest(pack, release) ? 'follow' : 'stay',
      endsAt: '',
      downloadLimit: '',
    },
    async send({ newer, ...wish }) {
      const follows = newer === 'follow'
      const { link } = await handOut(pack.id, { releaseId: release.id, follows, ...wish }).finally(() =>
        refresh('packs', 'pack', 'tally'),
      )
      onClose()
      onLink({ name: wish.name, link })
    },
  })
  return (
    <form {...form} className="grid gap-3">
      <TextField label="For whom" placeholder="A person, or a group" {...field('name')} />
      <EditionField packId={pack.id} {...field('editionId')} />
      <SelectField
        label="When a newer one is out"
        choices={[
          { value: 'follow', label: 'the link gives the newest one' },
          { value: 'stay', label: `it goes on giving ${release.version}` },
        ]}
        {...field('newer')}
      />
      <TextField label="Ends on (if at all)" type="date" {...field('endsAt')} />
      <TextField label="Most downloads (if limited)" inputMode="numeric" {...field('downloadLimit')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        Make the link
      </Button>
    </form>
  )
}
