/** Which lines are chosen, where the cursor stands, and where a range would start. */
export type Choice = { chosen: ReadonlySet<string>; at: number; anchor: number }

export type ChoiceAction =
  | { type: 'move'; to: number }
  | { type: 'toggle'; index: number; id: string }
  | { type: 'only'; index: number; id: string }
  | { type: 'range'; ids: readonly string[] }
  | { type: 'all'; ids: readonly string[] }
  | { type: 'none' }
  | { type: 'reset' }

export const NO_CHOICE: Choice = { chosen: new Set(), at: 0, anchor: 0 }

/** `range` takes the ids from the anchor to where one moved, both included, and chooses them too. */
export function choose(choice: Choice, action: ChoiceAction): Choice {
  switch (action.type) {
    case 'move':
      return { ...choice, at: action.to }
    case 'toggle': {
      const chosen = new Set(choice.chosen)
      if (!chosen.delete(action.id)) chosen.add(action.id)
      return { chosen, at: action.index, anchor: action.index }
    }
    case 'only':
      return { chosen: new Set([action.id]), at: action.index, anchor: action.index }
    case 'range':
      // where the cursor stands is not touched: these ids may come after it has moved on
      return { ...choice, chosen: new Set([...choice.chosen, ...action.ids]) }
    case 'all':
      return { ...choice, chosen: new Set(action.ids) }
    case 'none':
      return { ...choice, chosen: new Set() }
    case 'reset':
      return NO_CHOICE
  }
}
