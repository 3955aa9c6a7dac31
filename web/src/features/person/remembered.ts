import { create } from 'zustand'
import { persist } from 'zustand/middleware'

/** What any program takes, where no app is named. */
export const OPEN = 'open'

type Remembered = {
  /** The app somebody paints in, by its name, since packs of other makers name the same apps; or the open files. */
  app: string | undefined
  /** Steps that are done, by the link's version and app. */
  done: Record<string, readonly string[]>
}

/** What this device remembers of the person who opens links; nothing of it is sent anywhere. */
export const useRemembered = create(
  persist((): Remembered => ({ app: undefined, done: {} }), { name: 'satchel-person' }),
)

export const rememberApp = (app: string | undefined) => useRemembered.setState({ app })

/** Ticks off a step, or takes the tick back. */
export const markStep = (key: string, step: string, isDone: boolean) =>
  useRemembered.setState(({ done }) => {
    const others = (done[key] ?? []).filter((each) => each !== step)
    return { done: { ...done, [key]: isDone ? [...others, step] : others } }
  })
