/**
 * Looks now and then, and never twice at once: a look that takes longer is not joined by the next.
 * @param onError Told of a look that failed; the next one comes all the same.
 * @returns How to stop looking.
 */
export function lookAgain(
  everyMs: number,
  look: () => Promise<unknown>,
  onError: (error: unknown) => void,
): () => void {
  let isLooking = false
  const once = async () => {
    if (isLooking) return
    isLooking = true
    try {
      await look()
    } catch (error) {
      onError(error)
    } finally {
      isLooking = false
    }
  }
  const timer = setInterval(() => void once(), everyMs)
  return () => clearInterval(timer)
}
