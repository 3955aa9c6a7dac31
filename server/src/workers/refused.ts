import { FormatError, LimitError } from '@satchel/core/errors'

/** What a file says about itself is told as a refusal; a fault of ours is thrown on. */
export async function orRefused<Result>(work: () => Promise<Result>): Promise<Result | { refused: string }> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof FormatError || error instanceof LimitError) return { refused: `${error.message}.` }
    throw error
  }
}
