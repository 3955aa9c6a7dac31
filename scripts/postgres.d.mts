export class SetupError extends Error {}
export function findPostgres(): string | undefined
export function startPostgres(
  folder: string,
  options?: { port?: number; keepUp?: boolean; durable?: boolean },
): Promise<{ url: string; stop: () => Promise<unknown>; isUp: () => boolean }>
export function freePort(): Promise<number>
