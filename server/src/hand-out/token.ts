import { createHash, randomBytes } from 'node:crypto'

const TOKEN_BYTES = 24 // 192 bits cannot be guessed

/** A new secret for a link. It is shown once; only its hash is kept. */
export const createToken = (): string => randomBytes(TOKEN_BYTES).toString('base64url')

export const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex')
