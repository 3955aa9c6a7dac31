import { FINDERS } from './finders.ts'
import { RULE_NAMES, RULES, type RuleName, WEIGHTS, type Weight } from './rules.ts'
import type { Subject } from './subject.ts'

/** Something that the check list has to say about a brush, or about the pack. */
export type Finding = {
  /**
   * Names it for as long as it says the same, however often the list is made: what is let pass is known by it, so that a reason
   * goes for what was read, and not for what becomes of it.
   */
  key: string
  rule: RuleName
  weight: Weight
  /** Absent of what is about the pack. */
  brushId: string | undefined
  sentence: string
}

/** Everything the check list has to say about a pack, what matters most first; within a weight in the order of the rules. */
export function checkPack(subject: Subject): Finding[] {
  const found = RULE_NAMES.flatMap((rule) => {
    const { weight } = RULES[rule]
    return FINDERS[rule](subject).map(({ brushId, about, sentence }) => ({
      key: [rule, brushId ?? '', about ?? '', sentence].join(' '),
      rule,
      weight,
      brushId,
      sentence,
    }))
  })
  return WEIGHTS.flatMap((weight) => found.filter((finding) => finding.weight === weight))
}
