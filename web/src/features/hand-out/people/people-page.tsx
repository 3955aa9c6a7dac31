import { Copy, FileSearch, Link2, Mail, Pencil, QrCode as QrIcon, Users } from 'lucide-react'
import { Suspense, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { Button } from '../../../components/button.tsx'
import { fetched } from '../../../components/fetched.tsx'
import { TextField } from '../../../components/field.tsx'
import { plural } from '../../../components/format.ts'
import type { MenuItem } from '../../../components/menu.tsx'
import { toast, toastError } from '../../../components/toasts.tsx'
import { callOffMails, mailsAgain } from '../../../data/mails.ts'
import { type HandOut, newLink, type Pack } from '../../../data/packs.ts'
import { changeHandOuts, type HandOutChange, stateOf, tellLinks } from '../../../data/people.ts'
import { LinkDialog } from '../link-dialog.tsx'
import { usePackChange } from '../use-pack-change.ts'
import { givable, ManyDialog } from './many-dialog.tsx'
import { PeopleTable } from './people-table.tsx'
import { PersonDialog } from './person-dialog.tsx'
import { TermsDialog } from './terms-dialog.tsx'

const MailDialog = fetched(async () => ({ default: (await import('./mail-dialog.tsx')).MailDialog }))
const WhoseCopyDialog = fetched(async () => ({ default: (await import('./whose-copy-dialog.tsx')).WhoseCopyDialog }))

type Asked = 'many' | 'terms' | 'mail' | 'copy' | undefined

/** Everybody who has a pack, and what is done with one or many of them. */
export function PeoplePage({ pack, handOuts }: { pack: Pack; handOuts: readonly HandOut[] }) {
  const change = usePackChange()
  const navigate = useNavigate()
  const [words, setWords] = useState('')
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [asked, setAsked] = useState<Asked>()
  const [person, setPerson] = useState<HandOut>()
  const [link, setLink] = useState<{ name: string; link: string }>()
  const shown = useMemo(() => find(handOuts, words), [handOuts, words])
  const picked = handOuts.filter(({ id }) => chosen.has(id))

  const changeAll = async (which: readonly HandOut[], to: Omit<HandOutChange, 'id'>, says: string) => {
    let before: HandOutChange[] = []
    await change(
      async () => {
        before = await changeHandOuts(
          pack.id,
          which.map(({ id }) => ({ id, ...to })),
        )
      },
      { text: says, undo: () => changeHandOuts(pack.id, before) },
    )
  }
  const withdraw = (which: readonly HandOut[]) =>
    changeAll(
      which,
      { withdrawnAt: new Date().toISOString() },
      which.length === 1 ? `The link of "${which[0]?.name}" is dead now.` : `${which.length} links are dead now.`,
    )
  const giveAgain = (which: readonly HandOut[]) =>
    changeAll(
      which,
      { withdrawnAt: null },
      `${plural(which.length, 'link')} ${which.length === 1 ? 'works' : 'work'} again.`,
    )
  const showLink = async ({ id, name, hasLink }: HandOut) => {
    if (!hasLink) {
      toast('This link was given before links could be told again. Make a new one for it.', { tone: 'bad' })
      return
    }
    const [told] = await tellLinks([id])
    if (told?.link) setLink({ name, link: told.link })
  }
  const copyAll = async (which: readonly HandOut[]) => {
    const links = await tellLinks(which.map(({ id }) => id))
    const byId = new Map(links.map((each) => [each.id, each.link]))
    const lines = which.flatMap(({ id, name, email }) => {
      const told = byId.get(id)
      return told ? [[name, email, told].join('\t')] : []
    })
    await navigator.clipboard.writeText(lines.join('\n'))
    const left = which.length - lines.length
    toast(
      `${plural(lines.length, 'link')} copied, a line each: name, address, link.${left > 0 ? ` ${left} cannot be told again; make new ones.` : ''}`,
    )
  }
  const renew = async ({ id, name }: HandOut) => {
    const made = await change(() => newLink(id))
    if (made) setLink({ name, link: made.link })
  }
  const callOff = ({ id, name }: HandOut) =>
    change(() => callOffMails([id]), { text: `The mail to ${name} is called off.` })
  const mailsFor = ({ recipientId, name }: HandOut) =>
    change(async () => (recipientId ? mailsAgain(recipientId) : undefined), { text: `${name} gets mails again.` })
  const toCards = (which: readonly HandOut[]) =>
    navigate(`/hand-out/${pack.id}/cards`, { state: { ids: which.map(({ id }) => id) } })
  const menuOf = (each: HandOut): MenuItem[] => [
    {
      label: 'Show the link',
      icon: <QrIcon size={18} aria-hidden />,
      onSelect: () => void showLink(each).catch(toastError),
    },
    { label: 'Make a new link', icon: <Link2 size={18} aria-hidden />, onSelect: () => void renew(each) },
    {
      ...{ label: 'Change the person', icon: <Pencil size={18} aria-hidden />, takesFocus: true },
      disabled: each.recipientId === null,
      onSelect: () => setPerson(each),
    },
    ...(each.mail?.state === 'waiting' ? [{ label: 'Call the mail off', onSelect: () => void callOff(each) }] : []),
    ...(each.noMail && each.recipientId
      ? [{ label: 'They want mails after all', onSelect: () => void mailsFor(each) }]
      : []),
    each.withdrawnAt
      ? { label: 'Give it again', onSelect: () => void giveAgain([each]) }
      : { label: 'Withdraw', danger: true, onSelect: () => void withdraw([each]) },
  ]
  const areAllWithdrawn = picked.length > 0 && picked.every(({ withdrawnAt }) => withdrawnAt !== null)
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div className="w-72">
          <TextField
            label="Find"
            type="search"
            placeholder="name, address, edition, state"
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
        </div>
        <p className="text-13 text-quiet">{tally(handOuts)}</p>
        <div className="flex flex-wrap gap-2">
          <Button onClick={() => setAsked('copy')}>
            <FileSearch size={18} aria-hidden /> Whose copy is this?
          </Button>
          <Button kind="primary" disabled={givable(pack).length === 0} onClick={() => setAsked('many')}>
            <Users size={18} aria-hidden /> Hand out to many
          </Button>
        </div>
      </div>
      {picked.length > 0 && (
        <section
          aria-label="What to do with the chosen"
          className="flex flex-wrap items-center gap-2 rounded-10 border border-saddle bg-raised p-3"
        >
          <strong>{picked.length} chosen</strong>
          <Button onClick={() => void copyAll(picked).catch(toastError)}>
            <Copy size={18} aria-hidden /> Copy the links
          </Button>
          <Button onClick={() => void toCards(picked)}>
            <QrIcon size={18} aria-hidden /> Cards to print
          </Button>
          <Button onClick={() => setAsked('mail')}>
            <Mail size={18} aria-hidden /> Write to them
          </Button>
          <Button onClick={() => setAsked('terms')}>Change what they get</Button>
          {areAllWithdrawn ? (
            <Button onClick={() => void giveAgain(picked)}>Give again</Button>
          ) : (
            <Button kind="danger" onClick={() => void withdraw(picked)}>
              Withdraw
            </Button>
          )}
          <Button kind="quiet" onClick={() => setChosen(new Set())}>
            Choose none
          </Button>
        </section>
      )}
      {givable(pack).length === 0 && <p>Release the pack first; then it can be handed out.</p>}
      {handOuts.length === 0 ? (
        <p className="text-quiet">Nobody has it yet. Paste a list of people, and each gets a link of their own.</p>
      ) : (
        <PeopleTable handOuts={shown} chosen={chosen} onChoose={setChosen} menuOf={menuOf} />
      )}
      {handOuts.length > 0 && shown.length === 0 && <p role="status">Nobody here has these words.</p>}
      <ManyDialog
        pack={pack}
        open={asked === 'many'}
        onClose={() => setAsked(undefined)}
        onGiven={(ids) => {
          setWords('')
          setChosen(new Set(ids))
          toast(`${plural(ids.length, 'link')} made, and chosen: copy them, or print them as cards.`)
        }}
      />
      <TermsDialog
        pack={pack}
        chosen={picked}
        open={asked === 'terms'}
        onClose={() => setAsked(undefined)}
        onChange={(to) => changeAll(picked, to, `${plural(picked.length, 'hand-out')} changed.`)}
      />
      <Suspense>
        {asked === 'mail' && (
          <MailDialog pack={pack} chosen={picked} open onClose={() => setAsked(undefined)} onWritten={toast} />
        )}
      </Suspense>
      <Suspense>{asked === 'copy' && <WhoseCopyDialog open onClose={() => setAsked(undefined)} />}</Suspense>
      <PersonDialog handOut={person} onClose={() => setPerson(undefined)} />
      <LinkDialog shown={link} onClose={() => setLink(undefined)} />
    </div>
  )
}

/** Those in which every word is found. */
function find(handOuts: readonly HandOut[], typed: string): HandOut[] {
  const words = typed
    .toLowerCase()
    .split(' ')
    .filter((word) => word !== '')
  return handOuts.filter((each) => {
    const said = [each.name, each.email, each.note, each.version, each.edition ?? '', stateOf(each).word]
      .join(' ')
      .toLowerCase()
    return words.every((word) => said.includes(word))
  })
}

function tally(handOuts: readonly HandOut[]): string {
  const unused = handOuts.filter((each) => each.lastAt === null && stateOf(each).word === 'out').length
  return `${plural(handOuts.length, 'hand-out')}, ${unused} not used so far`
}
