import { tzOffset } from '@date-fns/tz'
import * as v from 'valibot'

/** A day of the calendar, YYYY-MM-DD, and a time of it, HH:mm, as somebody says them who is there. */
export type Wall = { day: string; at: string }

const DAY = /^(\d{4})-(\d{2})-(\d{2})$/
const TIME = /^([01]\d|2[0-3]):([0-5]\d)$/
const MINUTE_MS = 60_000
const DAY_MS = 24 * 60 * MINUTE_MS
/** No class is planned for other years; beyond them calendars and zones are guesses. */
const YEARS = { first: 2000, last: 2199 }

export const Day = v.pipe(v.string(), v.check(isDay, 'a day is needed, like 2026-10-05'))
export const TimeOfDay = v.pipe(v.string(), v.regex(TIME, 'a time is needed, like 18:30'))

const ZONE_NAME = /^[A-Za-z][A-Za-z0-9_+/-]*$/
/** A time zone that the platform knows, by its name: offsets would be counted the other way by some. */
export const Zone = v.pipe(v.string(), v.maxLength(60), v.check(isZone, 'a time zone is needed, like Europe/Oslo'))

function isZone(name: string): boolean {
  if (!ZONE_NAME.test(name)) return false
  try {
    return new Intl.DateTimeFormat('en', { timeZone: name }).resolvedOptions().timeZone !== ''
  } catch {
    return false
  }
}

function isDay(text: string): boolean {
  const [, year, month, day] = (DAY.exec(text) ?? []).map(Number)
  if (year === undefined || month === undefined || day === undefined) return false
  if (year < YEARS.first || year > YEARS.last) return false
  const date = new Date(Date.UTC(year, month - 1, day))
  return date.getUTCMonth() === month - 1 && date.getUTCDate() === day
}

/**
 * When a clock on the wall of a place shows a day and a time, by the platform's own tables of time zones. A time that is left
 * out when clocks go forward counts as if they had not gone yet; of one that comes twice the first is meant.
 * @param zone The place's time zone, by its name in the IANA database.
 */
export function momentOf({ day, at }: Wall, zone: string): Date {
  const wall = Date.parse(`${day}T${at}:00Z`)
  const offsetAt = (ms: number) => tzOffset(zone, new Date(ms)) * MINUTE_MS
  // clocks change once in two days at most: one of both offsets holds, unless the time is left out
  const [before, after] = [wall - offsetAt(wall - DAY_MS), wall - offsetAt(wall + DAY_MS)]
  const isShown = (ms: number) => ms + offsetAt(ms) === wall
  return new Date(isShown(before) || !isShown(after) ? before : after)
}

/** The moment a day is over at a place: the first one of the next day. */
export const endOfDay = (day: string, zone: string): Date => momentOf({ day: moveDay(day, 1), at: '00:00' }, zone)

const wallText = (moment: Date, zone: string) =>
  new Date(moment.getTime() + tzOffset(zone, moment) * MINUTE_MS).toISOString()

/** What day it is at a place. */
export const dayAt = (moment: Date, zone: string): string => wallText(moment, zone).slice(0, 10)
/** What time of the day it is at a place, to the minute. */
export const timeAt = (moment: Date, zone: string): string => wallText(moment, zone).slice(11, 16)

const toMs = (day: string) => Date.parse(`${day}T00:00:00Z`)
export const daysBetween = (from: string, to: string): number => Math.round((toMs(to) - toMs(from)) / DAY_MS)
export const moveDay = (day: string, days: number): string =>
  new Date(toMs(day) + days * DAY_MS).toISOString().slice(0, 10)
