const nameOf = (id: string) => `satchel-folder ${id}`
/** The locks of this browser, over all of its tabs; none where tests run. */
const locks = () => (typeof navigator === 'undefined' ? undefined : navigator.locks)

/** Does something with a folder while nobody else does, in whatever tab. */
export const alone = <Answer>(id: string, work: () => Promise<Answer>): Promise<Answer> => {
  const all = locks()
  return all ? (all.request(nameOf(id), work) as Promise<Answer>) : work()
}

/** Does something to a folder alone, or nothing at all where somebody is at it. */
export const aloneOrNot = async (id: string, work: () => Promise<void>): Promise<void> => {
  const all = locks()
  await (all ? all.request(nameOf(id), { ifAvailable: true }, (lock) => (lock ? work() : undefined)) : work())
}
