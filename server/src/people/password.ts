import { zxcvbn, zxcvbnOptions } from '@zxcvbn-ts/core'
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common'
import { Refusal } from '../errors.ts'

zxcvbnOptions.setOptions({ dictionary, graphs: adjacencyGraphs })

/** The least of the estimator's scores 0 … 4 that is taken: 10⁶ guesses and more. */
const SCORE_MIN = 2
const ESTIMATED_CHARS = 64 // its time grows with the length; what is longer is not guessed by words

/** Whether a password would be among the first that somebody tries, also because it is made of what is known of a person. */
export const isEasyToGuess = (password: string, known: readonly string[]): boolean =>
  zxcvbn(password.slice(0, ESTIMATED_CHARS), [...known]).score < SCORE_MIN

/** Passwords that others have lost, from the list that the estimator's package keeps. */
const LEAKED: ReadonlySet<string> = new Set(dictionary.passwords)

/** Whether a password stands on a list of leaked ones, whatever the case of its letters: it is tried whatever its guess says. */
export const isLeaked = (password: string): boolean => LEAKED.has(password.trim().toLowerCase())

/** @throws {Refusal} Where a password is among the first that are tried. @param known What is known of its person. */
export function refuseEasy(password: string, known: readonly string[]): void {
  if (!isLeaked(password) && !isEasyToGuess(password, known)) return
  throw new Refusal(
    'unfit',
    'This password is among the first that are tried. Take several words that do not belong together.',
  )
}
