import { format, formatDistanceToNow } from 'date-fns'
import { MoreHorizontal } from 'lucide-react'
import { Button } from '../../../components/button.tsx'
import { Menu, type MenuItem } from '../../../components/menu.tsx'
import { VirtualList } from '../../../components/virtual-list.tsx'
import type { HandOut } from '../../../data/packs.ts'
import { StateMark } from '../state-mark.tsx'

const LINE_PX = 60
const COLUMNS =
  'grid grid-cols-[auto_minmax(0,1fr)_auto_auto] items-center gap-x-4 px-3 wide:grid-cols-[auto_minmax(0,1.4fr)_minmax(0,1fr)_minmax(0,1.2fr)_7rem_auto]'

type Props = {
  handOuts: readonly HandOut[]
  chosen: ReadonlySet<string>
  onChoose: (ids: ReadonlySet<string>) => void
  menuOf: (handOut: HandOut) => MenuItem[]
}

/** Who has a pack: a line a hand-out, to be chosen one by one or all together. */
export function PeopleTable({ handOuts, chosen, onChoose, menuOf }: Props) {
  const areAll = handOuts.length > 0 && handOuts.every(({ id }) => chosen.has(id))
  const toggle = (id: string) => {
    const next = new Set(chosen)
    if (!next.delete(id)) next.add(id)
    onChoose(next)
  }
  return (
    <div className="overflow-clip rounded-10 border border-line bg-surface">
      <div
        className={`${COLUMNS} overflow-y-hidden border-b border-line py-2 text-13 text-quiet [scrollbar-gutter:stable]`}
      >
        <input
          type="checkbox"
          aria-label="Choose all that are shown"
          checked={areAll}
          onChange={() => onChoose(areAll ? new Set() : new Set(handOuts.map(({ id }) => id)))}
        />
        <span>Who</span>
        <span className="hidden wide:block">Gets</span>
        <span className="hidden wide:block">Fetched</span>
        <span>State</span>
        <span aria-hidden className="w-9" />
      </div>
      <VirtualList
        items={handOuts}
        keyOf={({ id }) => id}
        linePx={LINE_PX}
        label="Hand-outs"
        className="max-h-[calc(100dvh-410px)] [scrollbar-gutter:stable]"
        lineClassName={`${COLUMNS} py-1.5`}
      >
        {(each) => (
          <>
            <input
              type="checkbox"
              aria-label={`Choose ${each.name}`}
              checked={chosen.has(each.id)}
              onChange={() => toggle(each.id)}
            />
            <span className="min-w-0">
              <span className="block truncate font-medium">{each.name}</span>
              <span className="block truncate text-13 text-quiet">
                {[each.email, each.note].filter((text) => text !== '').join(', ') || 'no address'}
                <MailMark {...each} />
                <Bought {...each} />
              </span>
            </span>
            <span className="hidden min-w-0 wide:block">
              <span className="measure">{each.version}</span>
              {each.follows && <span className="text-13 text-quiet"> and newer ones</span>}
              <span className="block truncate text-13 text-quiet">
                {[each.edition, limitsOf(each)].filter(Boolean).join(', ')}
              </span>
            </span>
            <span className="hidden min-w-0 wide:block">{fetchedOf(each)}</span>
            <StateMark handOut={each} />
            <Menu
              label={`${each.name}: what to do`}
              trigger={
                <Button kind="quiet" aria-label={`More for ${each.name}`}>
                  <MoreHorizontal size={18} aria-hidden />
                </Button>
              }
              items={menuOf(each)}
            />
          </>
        )}
      </VirtualList>
    </div>
  )
}

/** How the last mail to somebody stands. */
const MAIL_SAID: Record<NonNullable<HandOut['mail']>['state'], { text: string; look: string }> = {
  waiting: { text: 'mail waits', look: '' },
  sending: { text: 'mail on its way', look: '' },
  sent: { text: 'mailed', look: 'text-moss' },
  refused: { text: 'mail came back', look: 'text-madder' },
  unsure: { text: 'mail perhaps not arrived', look: 'text-amber' },
  'called off': { text: 'mail called off', look: '' },
}

/** Where it was bought, and whether the money went back. */
function Bought({ bought }: Pick<HandOut, 'bought'>) {
  if (!bought) return null
  return (
    <span className={bought.refundedAt ? 'text-madder' : ''}>
      {`, bought at ${bought.shop}`}
      {bought.at && ` ${format(new Date(bought.at), 'd MMM')}`}
      {bought.refundedAt && ', money back'}
    </span>
  )
}

function MailMark({ mail, noMail }: Pick<HandOut, 'mail' | 'noMail'>) {
  const said = mail && MAIL_SAID[mail.state]
  return (
    <>
      {said && (
        <span className={said.look} title={mail.said}>
          {', '}
          {said.text}
          {mail.state === 'sent' && ` ${format(new Date(mail.at), 'd MMM')}`}
          {mail.state === 'refused' && `: ${mail.said}`}
        </span>
      )}
      {noMail && ', wants no mails'}
    </>
  )
}

const limitsOf = ({ endsAt, downloadLimit, downloads }: HandOut): string =>
  [
    endsAt ? `until ${format(new Date(endsAt), 'd MMM yyyy')}` : '',
    downloadLimit === null ? '' : `${downloads} of ${downloadLimit} downloads`,
  ]
    .filter((text) => text !== '')
    .join(', ') || 'without an end'

function fetchedOf({ lastVersion, lastAt, version, downloads }: HandOut) {
  if (!lastAt) return <span className="text-quiet">not yet</span>
  const isOld = lastVersion !== null && lastVersion !== version
  return (
    <>
      <span className="measure">{lastVersion ?? ''}</span>
      {downloads > 1 && `, ${downloads} times`}
      {isOld && <span className="text-saddle"> has not fetched {version}</span>}
      <span className="block truncate text-13 text-quiet">
        {formatDistanceToNow(new Date(lastAt), { addSuffix: true })}
      </span>
    </>
  )
}
