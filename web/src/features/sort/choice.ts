/**
 * Which lines are chosen, where the cursor stands, and where a range would start. Lines that are not on the page are
 * asked for: `asking` counts what has not come yet. `round` goes up where nothing asked for before may be chosen any more:
 * with another list, with none, and where something could not be had.
 */
export type Choice = { chosen: ReadonlySet<string>; at: number; anchor: number; asking: number; round: number }

/** What can be done with all that is chosen. */
export type ChosenAct = 'copy' | 'move' | 'tag' | 'change' | 'pin' | 'bin' | 'bringBack' | 'takeOut'

export type ChoiceAction =
  | { type: 'move'; to: number }
  | { type: 'toggle'; index: number; id: string }
  | { type: 'only'; index: number; id: string }
  | { type: 'range'; ids: readonly string[] }
  | { type: 'ask' }
  /** What was asked for; without ids where it could not be had. */
  | { type: 'answer'; round: number; how: 'range' | 'all'; ids: readonly string[] | undefined }
  | { type: 'none' }
  | { type: 'reset' }

export const NO_CHOICE: Choice = { chosen: new Set(), at: 0, anchor: 0, asking: 0, round: 0 }

/** `range` takes the ids from the anchor to where one moved, both included, and chooses them too. */
export function choose(choice: Choice, action: ChoiceAction): Choice {
  switch (action.type) {
    case 'move':
      return { ...choice, at: action.to }
    case 'toggle': {
      const chosen = new Set(choice.chosen)
      if (!chosen.delete(action.id)) chosen.add(action.id)
      return { ...choice, chosen, at: action.index, anchor: action.index }
    }
    case 'only':
      return { ...choice, chosen: new Set([action.id]), at: action.index, anchor: action.index }
    case 'range':
      // where the cursor stands is not touched: these ids may come after it has moved on
      return { ...choice, chosen: new Set([...choice.chosen, ...action.ids]) }
    case 'ask':
      return { ...choice, asking: choice.asking + 1 }
    case 'answer': {
      if (action.round !== choice.round) return choice
      if (!action.ids) return { ...choice, asking: 0, round: choice.round + 1 }
      const kept = action.how === 'range' ? choice.chosen : []
      return { ...choice, chosen: new Set([...kept, ...action.ids]), asking: choice.asking - 1 }
    }
    case 'none':
      // what is still asked for is not wanted any more
      return { ...choice, chosen: new Set(), asking: 0, round: choice.round + 1 }
    case 'reset':
      return { ...NO_CHOICE, round: choice.round + 1 }
  }
}
