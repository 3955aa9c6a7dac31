import * as v from 'valibot'
import { numberIn, type Rows } from '../number-row.ts'

export const WRITTEN_NUMBERS = {
  spacing: { label: 'Between letters', unit: '%', from: -20, to: 100, usual: 0 },
} satisfies Rows

/** Words that a source was written with; their picture is its file. */
export const Written = v.strictObject({
  words: v.pipe(v.string(), v.nonEmpty('words are needed'), v.maxLength(200)),
  /** Which of the letters that come with the product. */
  letters: v.picklist(['serif', 'sans', 'mono']),
  weight: v.pipe(v.number(), v.integer(), v.minValue(100), v.maxValue(900)),
  /** Between letters, in hundredths of their size. */
  spacing: numberIn(WRITTEN_NUMBERS.spacing),
})
export type Written = v.InferOutput<typeof Written>
