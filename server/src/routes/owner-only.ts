import { createMiddleware } from 'hono/factory'
import { Problem } from '../errors.ts'
import type { SignedIn } from './context.ts'

/** Lets only the owner of the workspace through. */
export const ownerOnly = createMiddleware<SignedIn>(async (c, next) => {
  if (c.get('role') !== 'owner') throw new Problem(403, 'Only the owner of the workspace may do this; ask them.')
  await next()
})
