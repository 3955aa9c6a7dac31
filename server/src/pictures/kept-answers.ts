import type { RenderCache } from './render-cache.ts'

/**
 * Answers that take long to find and follow from what they are asked of, kept beside the rendered pictures: to look at one
 * that is known costs nothing, to have one made is something that is asked for.
 */
export async function peekAnswer<Answer>(renders: RenderCache, input: unknown): Promise<Answer | undefined> {
  const kept = await renders.peek(renders.key({ answer: input }))
  return kept && (JSON.parse(Buffer.from(kept).toString('utf8')) as Answer)
}

/** The answer, found once. @param find What finds it; its answer is plain data. */
export async function findAnswer<Answer>(
  renders: RenderCache,
  input: unknown,
  find: () => Promise<Answer>,
): Promise<Answer> {
  const bytes = await renders.get(renders.key({ answer: input }), async () =>
    new TextEncoder().encode(JSON.stringify(await find())),
  )
  return JSON.parse(Buffer.from(bytes).toString('utf8')) as Answer
}
