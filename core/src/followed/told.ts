/** What a day of following has brought. */
export type DayCounts = {
  /** Brushes that have new pixels. */
  changed: number
  /** New ones that came into the ledger. */
  fresh: number
  /** Files that were found to be brushes of the library. */
  found: number
  /** Files that go by another name. */
  renamed: number
  /** Files that are not there any more. */
  gone: number
  /** Files that could not be read. */
  refused: number
}
export const NOTHING_TOLD: DayCounts = { changed: 0, fresh: 0, found: 0, renamed: 0, gone: 0, refused: 0 }

const PARTS: { [Kind in keyof DayCounts]: (n: number) => string } = {
  changed: (n) => (n === 1 ? '1 brush has new pixels' : `${n} brushes have new pixels`),
  fresh: (n) => (n === 1 ? '1 new one waits in the ledger' : `${n} new ones wait in the ledger`),
  found: (n) => (n === 1 ? '1 was in the library already' : `${n} were in the library already`),
  renamed: (n) => (n === 1 ? '1 goes by another name' : `${n} go by other names`),
  gone: (n) =>
    n === 1 ? '1 is gone from the folder, its brush stays' : `${n} are gone from the folder, their brushes stay`,
  refused: (n) => (n === 1 ? '1 could not be read' : `${n} could not be read`),
}
export const COUNTED = Object.keys(PARTS) as (keyof DayCounts)[]

/** What a day has brought, as one line. */
export function tellDay(counts: DayCounts): string {
  const parts = COUNTED.flatMap((kind) => (counts[kind] > 0 ? PARTS[kind](counts[kind]) : []))
  return parts.length === 0 ? 'Nothing changed.' : `${parts.join('; ')}.`
}

/** Whether a day has brought nothing at all. */
export const isQuiet = (counts: DayCounts): boolean => COUNTED.every((kind) => counts[kind] === 0)
