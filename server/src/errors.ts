/** A failure with a status and one plain sentence for the person: what happened, to what, and what to do. */
export class Problem extends Error {
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 410 | 413 | 422 | 429,
    message: string,
  ) {
    super(message)
  }
}

export const notFound = (what: string) =>
  new Problem(404, `This ${what} is not here any more; go back and choose another.`)
