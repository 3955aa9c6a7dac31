/** What is changed ahead of the server, and the version it was changed from. */
export type Draft<Value> = { value: Value; base: number }

/** Why a draft is not saved. */
export type Trouble =
  /** The server did not answer, or failed: tried again by itself, so many times now. */
  | { kind: 'waiting'; sentence: string; tries: number }
  /** The server said no: tried again when it is changed, or by hand. */
  | { kind: 'refused'; sentence: string }
  /** Another page saved a version meanwhile: it is for the curator to say which one goes on top. */
  | { kind: 'overtaken' }

export type AheadState<Value> = {
  draft: Draft<Value> | undefined
  /** Counts changes, so that one made during a save is told from what that save took along. */
  changes: number
  isSaving: boolean
  trouble: Trouble | undefined
}

export type AheadAction<Value> =
  /** @param version The version that is shown, for a first change. */
  | { type: 'change'; value: Value; version: number }
  | { type: 'begin' }
  | { type: 'saved'; version: number; changes: number }
  | { type: 'refused'; sentence: string }
  | { type: 'waiting'; sentence: string }
  | { type: 'overtaken' }
  /** The draft goes on top of what was saved elsewhere. */
  | { type: 'onTop'; version: number }
  | { type: 'drop' }

export const NOTHING_CHANGED = { draft: undefined, changes: 0, isSaving: false, trouble: undefined } as const

/** A draft is only ever given up when it is saved, or by hand. */
export function aheadReducer<Value>(state: AheadState<Value>, action: AheadAction<Value>): AheadState<Value> {
  switch (action.type) {
    case 'change': {
      const { value, version } = action
      const trouble = state.trouble?.kind === 'overtaken' ? state.trouble : undefined
      return { ...state, draft: { value, base: state.draft?.base ?? version }, changes: state.changes + 1, trouble }
    }
    case 'begin':
      return { ...state, isSaving: true }
    case 'saved': {
      const draft =
        state.draft && state.changes !== action.changes ? { ...state.draft, base: action.version } : undefined
      return { ...state, draft, isSaving: false, trouble: undefined }
    }
    case 'refused':
      return { ...state, isSaving: false, trouble: { kind: 'refused', sentence: action.sentence } }
    case 'waiting': {
      const tries = state.trouble?.kind === 'waiting' ? state.trouble.tries + 1 : 1
      return { ...state, isSaving: false, trouble: { kind: 'waiting', sentence: action.sentence, tries } }
    }
    case 'overtaken':
      return { ...state, isSaving: false, trouble: { kind: 'overtaken' } }
    case 'onTop':
      return { ...state, draft: state.draft && { ...state.draft, base: action.version }, trouble: undefined }
    case 'drop':
      return { ...state, draft: undefined, trouble: undefined }
  }
}

export type SavePhase = 'saved' | 'changed' | 'saving' | Trouble['kind']

/** Where saving stands. A change made while something else is saved counts as being saved. */
export function phaseOf({ draft, isSaving, trouble }: AheadState<unknown>): SavePhase {
  if (isSaving) return 'saving'
  if (trouble) return trouble.kind
  return draft ? 'changed' : 'saved'
}

/** Said in the page's title line. */
export const PHASE_WORD: Record<SavePhase, string> = {
  saved: 'saved',
  changed: 'changed',
  saving: 'saving …',
  waiting: 'not saved yet',
  refused: 'not saved',
  overtaken: 'not saved',
}
