import { Toast as Radix } from 'radix-ui'
import { create } from 'zustand'

type Toast = { id: number; text: string; tone: 'plain' | 'bad'; action?: { label: string; run: () => void } }

const SHOWN_MS = 8000
/** As many are shown at once; the oldest give way. */
const SHOWN_MAX = 4
const useToasts = create<{ toasts: readonly Toast[]; nextId: number }>(() => ({ toasts: [], nextId: 1 }))

/** Says something in the corner, for a while, perhaps with a way back. */
export function toast(text: string, { tone = 'plain', action }: Partial<Pick<Toast, 'tone' | 'action'>> = {}): void {
  useToasts.setState(({ toasts, nextId }) => ({
    toasts: [...toasts.slice(1 - SHOWN_MAX), { id: nextId, text, tone, ...(action ? { action } : {}) }],
    nextId: nextId + 1,
  }))
}

const close = (id: number) => useToasts.setState(({ toasts }) => ({ toasts: toasts.filter((each) => each.id !== id) }))

export const toastError = (error: unknown): void =>
  toast(error instanceof Error ? error.message : String(error), { tone: 'bad' })

export function Toasts() {
  const shown = useToasts(({ toasts }) => toasts)
  return (
    <Radix.Provider duration={SHOWN_MS} label="Messages">
      {shown.map(({ id, text, tone, action }) => (
        <Radix.Root
          key={id}
          onOpenChange={(open) => {
            if (!open) close(id)
          }}
          className={`flex items-center gap-3 rounded-10 border bg-raised px-4 py-2.5 shadow-lift ${tone === 'bad' ? 'border-madder' : 'border-line'}`}
        >
          <Radix.Description className="flex-1">
            {tone === 'bad' && <strong className="text-madder">Not done. </strong>}
            {text}
          </Radix.Description>
          {action && (
            <Radix.Action
              altText={action.label}
              onClick={action.run}
              className="font-semibold text-saddle underline underline-offset-2"
            >
              {action.label}
            </Radix.Action>
          )}
          <Radix.Close className="text-13 text-quiet underline underline-offset-2">Close</Radix.Close>
        </Radix.Root>
      ))}
      <Radix.Viewport className="fixed bottom-[72px] print:hidden left-1/2 z-[60] grid w-[min(560px,calc(100vw-32px))] -translate-x-1/2 gap-2" />
    </Radix.Provider>
  )
}
