import { type PartName, RECIPE_PARTS, type RecipeGroup } from '@satchel/core/brush/parts'
import { NUMBER_NAMES, type NumberName, RECIPE_NUMBERS, usualNumber } from '@satchel/core/brush/recipe-numbers'
import type { READING_WORDS } from '@satchel/core/brush/recipe-words'
import { type Change, Change as ChangeSchema, LENT_PARTS, type NumberWay } from '@satchel/core/many/change'
import { fromTold, toTold } from '@satchel/core/number-row'
import * as v from 'valibot'
import { toTags } from '../tags.ts'

/** What is being filled in: as it was typed. */
export type Draft =
  | { kind: 'number'; name: NumberName; way: NumberWay; told: string; onlyUsed: boolean }
  | { kind: 'parts'; parts: PartName[]; brushId: string; called: string }
  | { kind: 'reading'; reading: keyof typeof READING_WORDS }
  | { kind: 'pattern'; pattern: string }
  | { kind: 'replace'; find: string; by: string }
  | { kind: 'maker'; maker: string }
  | { kind: 'licence'; licence: string }
  | { kind: 'tags'; add: string; remove: string }
  | { kind: 'thumbnail'; from: 'stroke' | 'frame'; frame: string }
export type DraftKind = Draft['kind']
type Of<Kind extends DraftKind> = Extract<Draft, { kind: Kind }>

/** A number of a recipe with the group it is in, where its label alone says too little. */
export function numberLabel(name: NumberName): string {
  const { label } = RECIPE_NUMBERS[name]
  return name.startsWith('ground.grain.') ? `Grain: ${label.toLowerCase()}` : label
}
/** A part of a recipe, told apart from those of the same name. */
export function partLabel(part: PartName): string {
  const [group, key] = part.split('.') as [RecipeGroup, string]
  const { label } = (RECIPE_PARTS[group] as Record<string, { label: string }>)[key] ?? { label: key }
  return group === 'variation' ? `Variation of ${label.toLowerCase()}` : label
}

/** What can be changed, in groups: each begins with a draft of its own. */
export const CHOICES: readonly { group: string; choices: readonly { value: string; label: string; draft: Draft }[] }[] =
  [
    {
      group: 'A number of the recipe',
      choices: NUMBER_NAMES.map((name) => ({
        value: name,
        label: numberLabel(name),
        draft: {
          ...{ kind: 'number', name, way: 'set', onlyUsed: name !== 'mark.sizePx' },
          told: String(toTold(usualNumber(name), RECIPE_NUMBERS[name])),
        } as Draft,
      })),
    },
    {
      group: 'More of the recipe',
      choices: [
        { value: 'reading', label: 'How pixels become paint', draft: { kind: 'reading', reading: 'dark' } },
        {
          value: 'parts',
          label: 'Parts as in another brush',
          draft: { kind: 'parts', parts: [], brushId: '', called: '' },
        },
      ],
    },
    {
      group: 'What it is called',
      choices: [
        { value: 'pattern', label: 'Names by a pattern', draft: { kind: 'pattern', pattern: '{name} {number}' } },
        { value: 'replace', label: 'Words in names', draft: { kind: 'replace', find: '', by: '' } },
        { value: 'maker', label: 'Maker', draft: { kind: 'maker', maker: '' } },
        { value: 'licence', label: 'Licence', draft: { kind: 'licence', licence: '' } },
        { value: 'tags', label: 'Tags', draft: { kind: 'tags', add: '', remove: '' } },
        { value: 'thumbnail', label: 'Thumbnail', draft: { kind: 'thumbnail', from: 'stroke', frame: '1' } },
      ],
    },
  ]

/** Under which choice a draft stands. */
export const choiceOf = (draft: Draft): string => (draft.kind === 'number' ? draft.name : draft.kind)

/** What each draft means, a row a kind; checked as the server checks it. */
const MEANT: { [Kind in DraftKind]: (draft: Of<Kind>) => unknown } = {
  number: ({ name, way, told, onlyUsed }) => {
    const number = told.trim() === '' ? Number.NaN : Number(told.replace(',', '.'))
    const value = way === 'times' ? number : fromTold(number, RECIPE_NUMBERS[name])
    return { kind: 'number', name, way, value, onlyUsed }
  },
  parts: ({ parts, brushId }) => ({ kind: 'parts', parts: LENT_PARTS.filter((part) => parts.includes(part)), brushId }),
  reading: (draft) => draft,
  pattern: (draft) => draft,
  replace: (draft) => draft,
  maker: (draft) => draft,
  licence: (draft) => draft,
  tags: ({ add, remove }) => ({ kind: 'tags', add: toTags(add), remove: toTags(remove) }),
  thumbnail: ({ from, frame }) => ({ kind: 'thumbnail', frame: from === 'stroke' ? null : Number(frame) }),
}

/** The change that a draft means; nothing while it is none yet. */
export function toChange(draft: Draft): Change | undefined {
  const meant = v.safeParse(ChangeSchema, (MEANT[draft.kind] as (draft: Draft) => unknown)(draft))
  if (!meant.success) return undefined
  const change = meant.output
  return change.kind === 'tags' && change.add.length + change.remove.length === 0 ? undefined : change
}
