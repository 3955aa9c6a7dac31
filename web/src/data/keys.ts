import type { SatchelEvent } from '@satchel/server/api'

type Topic = SatchelEvent['topic']

/** What each event of the server makes old, by what its key begins with. An event that refreshes nothing does not compile. */
export const MAKES_OLD = {
  job: ['jobs'],
  gather: ['gather', 'tally'],
  library: [
    'brushes', 'brush', 'sets', 'tally', 'facets', 'materials', 'pockets', 'sources', 'source', 'fit-try', 'fit-count',
    'same-marks', 'acts', 'looks', 'brushes-by-look',
    // what a pack holds, and what its check list says
    'pack',
  ],
  pockets: ['pockets'],
  // installs of a pack say which release is the newest
  packs: ['packs', 'pack', 'tally', 'fit', 'fit-count', 'published'],
  parcels: ['parcels'],
  sources: ['sources', 'source', 'brush'],
  // how brushes arrive is part of a check list
  marks: ['same-marks'],
  looks: ['looks', 'brushes-by-look'],
  members: ['members', 'session'],
  presence: ['presence'],
  followed: ['followed', 'acts'],
  fit: ['fit', 'tally', 'fit-count', 'pack'],
} as const satisfies Record<Topic, readonly [string, ...string[]]> // biome-ignore format: a table

/** What no event makes old: named by all that it follows from, or asked for anew whenever it is shown. */
type Untold =
  | 'cover-look'
  | 'exchange'
  | 'exchange-item'
  | 'facts'
  | 'fit-better'
  | 'frame picture'
  | 'frames'
  | 'audit'
  | 'hand-out-page'
  | 'invitation'
  | 'laid-out'
  | 'licences'
  | 'like'
  | 'links'
  | 'mail-templates'
  | 'parcel-look'
  | 'phone-page'
  | 'room'
  | 'sign-ins'
  | 'signing'
  | 'tile'
  | 'whole-library'

/** With what the key of every query begins; the compiler refuses any other. */
export type Root = (typeof MAKES_OLD)[Topic][number] | Untold

declare module '@tanstack/react-query' {
  interface Register {
    queryKey: readonly [Root, ...unknown[]]
  }
}
