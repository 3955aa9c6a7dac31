/** Marks that tell sets apart at a glance, without colour: what each is called. None is the eyelet of its label. */
export const SET_MARKS = {
  wave: 'waves',
  leaf: 'a leaf',
  drop: 'a drop',
  shell: 'a shell',
  pebbles: 'two pebbles',
  rope: 'a twist of rope',
  reed: 'a reed',
  knot: 'a knot',
  slab: 'a slab',
  sun: 'a low sun',
} as const satisfies Record<string, string>
export type SetMark = keyof typeof SET_MARKS
export const SET_MARK_NAMES = Object.keys(SET_MARKS) as [SetMark, ...SetMark[]]

/** Signs of a set's note. */
export const SET_NOTE_MAX_CHARS = 600
