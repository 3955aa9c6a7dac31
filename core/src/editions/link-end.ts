import { endOf } from './lessons.ts'
import { dayAt } from './moments.ts'
import type { ClassKit } from './plan.ts'

/** When a link ends: by itself, or with its class, whichever comes first; and the last day that it works, in words. */
export function linkEnd(
  endsAt: Date | null,
  kit: ClassKit | null | undefined,
  zone: string,
): { at: Date; lastDay: string } | undefined {
  const classEnd = kit ? endOf(kit) : undefined
  if (classEnd && kit?.lastDay && (endsAt === null || classEnd <= endsAt))
    return { at: classEnd, lastDay: inWords(kit.lastDay) }
  return endsAt === null ? undefined : { at: endsAt, lastDay: inWords(dayAt(endsAt, zone)) }
}

const inWords = (day: string) =>
  new Date(`${day}T00:00:00Z`).toLocaleDateString('en-GB', { dateStyle: 'long', timeZone: 'UTC' })
