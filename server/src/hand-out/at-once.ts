/** Lets those who ask for the same while it is made wait for one making; whoever comes later has it made anew. */
export class AtOnce<Value> {
  readonly #making = new Map<string, Promise<Value>>()

  async make(key: string, make: () => Promise<Value>): Promise<Value> {
    const known = this.#making.get(key)
    if (known) return known
    const made = make()
    this.#making.set(key, made)
    try {
      return await made
    } finally {
      this.#making.delete(key)
    }
  }
}
