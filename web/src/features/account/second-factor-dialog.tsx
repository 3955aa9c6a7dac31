import { KnownOnly, SecondFactorCode } from '@satchel/core/forms/account'
import { Copy } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { FormEnd, useForm } from '../../components/form.tsx'
import { QrCode } from '../../components/qr-code.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { beginSecond, confirmSecond, endSecond, newCodes } from '../../data/account.ts'
import { useRefresh } from '../../data/use-refresh.ts'

type Begun = { uri: string; codes: string[] }

/** Codes of an app beside the password: begun, shown that they are right, and ended again. */
export function SecondFactorDialog({ isOn, onClose }: { isOn: boolean; onClose: () => void }) {
  const [begun, setBegun] = useState<Begun>()
  const [codes, setCodes] = useState<string[]>()
  const refresh = useRefresh()
  // what is said first stays, though it is on by then
  const [wasOn] = useState(isOn)
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Second step of signing in"
      description={
        wasOn
          ? 'Besides the password, a code of your app is asked for.'
          : 'Besides the password, a code is asked for then that an app on your phone shows: any app that knows one-time codes (TOTP).'
      }
    >
      {codes ? (
        <RecoveryCodes codes={codes} onDone={onClose} />
      ) : begun ? (
        <Confirm
          begun={begun}
          onConfirmed={async () => {
            setCodes(begun.codes)
            await refresh('session')
          }}
        />
      ) : wasOn ? (
        <Manage
          onCodes={setCodes}
          onEnded={async () => {
            await refresh('session')
            toast('From now on the password is enough.')
            onClose()
          }}
        />
      ) : (
        <WithPassword act="Go on" onSend={async (password) => setBegun(await beginSecond(password))} />
      )}
    </Dialog>
  )
}

function WithPassword({ act, onSend }: { act: string; onSend: (password: string) => Promise<unknown> }) {
  const { form, field, isSending, refused } = useForm({
    schema: KnownOnly,
    first: { password: '' },
    send: ({ password }) => onSend(password),
  })
  return (
    <form {...form} className="grid gap-3">
      <TextField label="Your password" type="password" autoComplete="current-password" {...field('password')} />
      <FormEnd refused={refused} isSending={isSending} send={act} />
    </form>
  )
}

function Confirm({ begun: { uri }, onConfirmed }: { begun: Begun; onConfirmed: () => Promise<unknown> }) {
  const { form, field, isSending, refused } = useForm({
    schema: SecondFactorCode,
    first: { code: '' },
    async send({ code }) {
      await confirmSecond(code)
      await onConfirmed()
    },
  })
  const secret = new URL(uri).searchParams.get('secret') ?? ''
  return (
    <form {...form} className="grid gap-3">
      <div className="flex flex-wrap items-start gap-4">
        <QrCode
          text={uri}
          label="What your app has to know, as a picture for its camera"
          className="h-44 w-44 shrink-0"
        />
        <div className="grid min-w-0 flex-1 basis-52 gap-2">
          <p>Let the app read the picture, or type this into it:</p>
          <p
            className="measure select-all break-all rounded-4 border border-line bg-raised p-2 text-13"
            data-testid="secret"
          >
            {secret}
          </p>
        </div>
      </div>
      <TextField
        label="Code that the app shows now"
        inputMode="numeric"
        autoComplete="one-time-code"
        hint="It changes every half minute."
        {...field('code')}
      />
      <FormEnd refused={refused} isSending={isSending} send="Turn it on" />
    </form>
  )
}

function Manage({ onCodes, onEnded }: { onCodes: (codes: string[]) => void; onEnded: () => Promise<unknown> }) {
  const [wish, setWish] = useState<'codes' | 'end'>()
  if (wish === 'codes')
    return (
      <>
        <p>New recovery codes end the ones you have.</p>
        <WithPassword act="Make new codes" onSend={async (password) => onCodes((await newCodes(password)).codes)} />
      </>
    )
  if (wish === 'end')
    return (
      <>
        <p>Whoever knows your password can sign in then.</p>
        <WithPassword
          act="Turn it off"
          onSend={async (password) => {
            await endSecond(password)
            await onEnded()
          }}
        />
      </>
    )
  return (
    <div className="flex flex-wrap gap-3">
      <Button onClick={() => setWish('codes')}>New recovery codes</Button>
      <Button kind="danger" onClick={() => setWish('end')}>
        Turn it off
      </Button>
    </div>
  )
}

function RecoveryCodes({ codes, onDone }: { codes: readonly string[]; onDone: () => void }) {
  const text = codes.join('\n')
  return (
    <>
      <p>Keep these where you keep keys. Each lets you in once when the app is lost; they are not shown again.</p>
      <ul
        className="measure grid grid-cols-2 gap-x-6 gap-y-1 rounded-4 border border-line bg-raised p-3"
        data-testid="codes"
      >
        {codes.map((code) => (
          <li key={code} className="select-all">
            {code}
          </li>
        ))}
      </ul>
      <div className="flex justify-end gap-3">
        <Button
          onClick={() =>
            void navigator.clipboard.writeText(text).then(() => toast('The codes are copied.'), toastError)
          }
        >
          <Copy size={18} aria-hidden /> Copy them
        </Button>
        <Button kind="primary" onClick={onDone}>
          I have kept them
        </Button>
      </div>
    </>
  )
}
