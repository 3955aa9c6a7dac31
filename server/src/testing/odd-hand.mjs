// A process of the pool that does as it is told, for the pool's own tests: it works, stands still, takes memory, or ends.
const DOES = {
  echo: (id, input) => process.send({ id, kind: 'done', result: input }),
  fail: (id) =>
    process.send({ id, kind: 'failed', error: { name: 'FormatError', format: 'X', offset: 3, expected: 'Y' } }),
  whoAmI: (id) => process.send({ id, kind: 'done', result: { pid: process.pid, env: Object.keys(process.env) } }),
  spin: () => {
    for (;;);
  },
  match: () => /^(a|a)*$/.test(`${'a'.repeat(40)}b`),
  grow: () => {
    const kept = []
    const more = () => {
      kept.push(Buffer.alloc(16 * 1024 * 1024, kept.length))
      setTimeout(more, 5)
    }
    more()
  },
  end: () => process.exit(1),
}

process.on('message', ({ id, input }) => DOES[input.does](id, input))
process.on('disconnect', () => process.exit())
