import { Toast as Radix } from 'radix-ui'
import { useSyncExternalStore } from 'react'

type Toast = { id: number; text: string; tone: 'plain' | 'bad'; action?: { label: string; run: () => void } }

const SHOWN_MS = 8000
let toasts: readonly Toast[] = []
let nextId = 1
const listeners = new Set<() => void>()

function change(next: readonly Toast[]): void {
  toasts = next
  for (const listener of listeners) listener()
}

/** Says something in the corner, for a while, perhaps with a way back. */
export function toast(text: string, options: { tone?: Toast['tone']; action?: Toast['action'] } = {}): void {
  change([
    ...toasts.slice(-3),
    { id: nextId++, text, tone: options.tone ?? 'plain', ...(options.action ? { action: options.action } : {}) },
  ])
}

export const toastError = (error: unknown): void =>
  toast(error instanceof Error ? error.message : String(error), { tone: 'bad' })

export function Toasts() {
  const shown = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => toasts,
  )
  return (
    <Radix.Provider duration={SHOWN_MS} label="Messages">
      {shown.map(({ id, text, tone, action }) => (
        <Radix.Root
          key={id}
          onOpenChange={(open) => {
            if (!open) change(toasts.filter((each) => each.id !== id))
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
      <Radix.Viewport className="fixed bottom-[72px] left-1/2 z-[60] grid w-[min(560px,calc(100vw-32px))] -translate-x-1/2 gap-2" />
    </Radix.Provider>
  )
}
