import { createMiddleware } from 'hono/factory'
import { Problem } from '../errors.ts'
import type { SignedIn } from './context.ts'

export const ONLY_OWNER = 'Only the owner of the workspace may do this; ask them.'

/** Lets only the owner of the workspace through. */
export const ownerOnly = createMiddleware<SignedIn>(async (c, next) => {
  if (c.get('role') !== 'owner') throw new Problem(403, ONLY_OWNER)
  await next()
})
