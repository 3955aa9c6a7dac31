import * as v from 'valibot'

/** Words that a source was written with; their picture is its file. */
export const Written = v.strictObject({
  words: v.pipe(v.string(), v.nonEmpty('words are needed'), v.maxLength(200)),
  /** Which of the letters that come with the product. */
  letters: v.picklist(['serif', 'sans', 'mono']),
  weight: v.pipe(v.number(), v.integer(), v.minValue(100), v.maxValue(900)),
  /** Between letters, in hundredths of their size. */
  spacing: v.pipe(v.number(), v.minValue(-20), v.maxValue(100)),
})
export type Written = v.InferOutput<typeof Written>
