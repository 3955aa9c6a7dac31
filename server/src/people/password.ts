import { zxcvbn, zxcvbnOptions } from '@zxcvbn-ts/core'
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common'

zxcvbnOptions.setOptions({ dictionary, graphs: adjacencyGraphs })

/** The least of the estimator's scores 0 … 4 that is taken: 10⁶ guesses and more. */
const SCORE_MIN = 2
const ESTIMATED_CHARS = 64 // its time grows with the length; what is longer is not guessed by words

/** Whether a password would be among the first that somebody tries, also because it is made of what is known of a person. */
export const isEasyToGuess = (password: string, known: readonly string[]): boolean =>
  zxcvbn(password.slice(0, ESTIMATED_CHARS), [...known]).score < SCORE_MIN
