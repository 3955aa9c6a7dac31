import { NewToken } from '@satchel/core/forms/members'
import { TOKEN_DAYS, TOKEN_SCOPE_NAMES, TOKEN_SCOPES } from '@satchel/core/members/tokens'
import { useQuery } from '@tanstack/react-query'
import { format, formatDistanceToNowStrict } from 'date-fns'
import { KeySquare } from 'lucide-react'
import { useState } from 'react'
import * as v from 'valibot'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { SelectField, TextField } from '../../components/field.tsx'
import { FormEnd, useForm } from '../../components/form.tsx'
import { plural } from '../../components/format.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { endToken, makeToken, type Token, tokensQuery } from '../../data/members.ts'
import { ShownOnce } from './shown-once.tsx'
import { useMemberChange } from './use-member-change.ts'

/** Tokens by which programs come in somebody's name. @param ofAll Whether those of all members are listed. */
export function Tokens({ ofAll }: { ofAll: boolean }) {
  const tokens = useQuery(tokensQuery)
  const [making, setMaking] = useState(false)
  return (
    <section aria-label="Tokens" className="grid gap-2">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="font-title text-20">Tokens</h2>
        <Button onClick={() => setMaking(true)}>
          <KeySquare size={18} aria-hidden /> New token
        </Button>
      </div>
      {tokens.isPending && <Loading what="the tokens" />}
      {tokens.isError && <LoadError error={tokens.error} onRetry={() => void tokens.refetch()} />}
      {tokens.data?.tokens.length === 0 && (
        <p className="text-quiet">None. By a token a program works here in your name, until it ends.</p>
      )}
      {tokens.data && tokens.data.tokens.length > 0 && (
        <ul className="rounded-10 border border-line bg-surface">
          {tokens.data.tokens.map((token) => (
            <Line key={token.id} token={token} ofAll={ofAll} />
          ))}
        </ul>
      )}
      {making && <TokenDialog onClose={() => setMaking(false)} />}
    </section>
  )
}

function Line({ token: { id, name, scope, person, expiresAt, usedAt }, ofAll }: { token: Token; ofAll: boolean }) {
  const change = useMemberChange()
  return (
    <li className="flex items-center justify-between gap-3 border-b border-line px-3 py-2 last:border-b-0">
      <div className="min-w-0">
        <p className="truncate">{name}</p>
        <p className="text-13 text-quiet">
          {TOKEN_SCOPES[scope].called}
          {ofAll && `, of ${person}`}, until {format(new Date(expiresAt), 'd MMM yyyy')},{' '}
          {usedAt ? `used ${formatDistanceToNowStrict(new Date(usedAt), { addSuffix: true })}` : 'never used'}
        </p>
      </div>
      <Button
        aria-label={`End the token ${name}`}
        onClick={() => void change(() => endToken(id), `"${name}" opens nothing any more.`)}
      >
        End
      </Button>
    </li>
  )
}

const DAYS = [TOKEN_DAYS.least, 7, 30, TOKEN_DAYS.usual, TOKEN_DAYS.most].map(String)
/** In a form everything is text. */
const TokenForm = v.object({ ...NewToken.entries, days: v.picklist(DAYS) })

function TokenDialog({ onClose }: { onClose: () => void }) {
  const change = useMemberChange()
  const [token, setToken] = useState<string>()
  const { form, field, isSending, refused } = useForm({
    schema: TokenForm,
    first: { name: '', scope: 'work', days: String(TOKEN_DAYS.usual) },
    async send({ days, ...wish }) {
      setToken((await makeToken({ ...wish, days: Number(days) })).token)
      await change(async () => undefined)
    },
  })
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="New token"
      description="A program that holds it works here in your name. It can neither invite nor make other tokens."
    >
      {token === undefined ? (
        <form {...form} className="grid gap-3">
          <TextField label="What it is for" hint="So that you know later which one to end." {...field('name')} />
          <SelectField
            label="What it may do"
            choices={TOKEN_SCOPE_NAMES.map((scope) => ({
              value: scope,
              label: `${TOKEN_SCOPES[scope].called}: ${TOKEN_SCOPES[scope].does}`,
            }))}
            {...field('scope')}
          />
          <SelectField
            label="It ends after"
            choices={DAYS.map((days) => ({ value: days, label: plural(Number(days), 'day') }))}
            {...field('days')}
          />
          <FormEnd refused={refused} isSending={isSending} send="Make the token" sending="Making it …" />
        </form>
      ) : (
        <ShownOnce
          what="token"
          secret={token}
          words="This token is shown once. Send it as “Authorization: Bearer …” with each request."
          onDone={onClose}
        />
      )}
    </Dialog>
  )
}
