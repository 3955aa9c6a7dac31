import { afterEach, expect, it, vi } from 'vitest'
import { type Answers, answerAll, moved, Port, type WorkerEnd } from './port.ts'

type Asked = {
  double(wish: { n: number }): number
  slowly(wish: { n: number }): Promise<number>
  fail(wish: { sentence: string }): never
  bytes(wish: { bytes: Uint8Array<ArrayBuffer> }): Uint8Array<ArrayBuffer>
  show(wish: { n: number }): number | undefined
  ends(wish: undefined): void
}

const opened: Port<Asked, string>[] = []
afterEach(() => {
  for (const port of opened.splice(0)) port.close()
})

/** A worker of this very thread: both ends of a channel, whose messages are copied as those of a worker are. */
function open(answers: Partial<Answers<Asked>> = {}) {
  const { port1, port2 } = new MessageChannel()
  const ofWorker = { error: new Set<() => void>() }
  const worker: WorkerEnd = {
    postMessage: (message, options) => port1.postMessage(message, options?.transfer ?? []),
    addEventListener(type, take) {
      if (type === 'message') port1.onmessage = take
      else if (type === 'error') ofWorker.error.add(take as unknown as () => void)
    },
    terminate: () => port1.close(),
  }
  const told: string[] = []
  const port = new Port<Asked, string>(worker, (text) => told.push(text))
  opened.push(port)
  const tell = answerAll<Asked, string>(
    {
      postMessage: (message, options) => port2.postMessage(message, options?.transfer ?? []),
      addEventListener: (_type, take) => {
        port2.onmessage = take
      },
    },
    {
      double: ({ n }) => 2 * n,
      slowly: async ({ n }) => {
        await new Promise((go) => setTimeout(go, n))
        return n
      },
      fail({ sentence }) {
        throw new Error(sentence)
      },
      bytes: ({ bytes }) => moved(bytes, [bytes.buffer, bytes.buffer]),
      show: ({ n }) => n,
      ends: () => undefined,
      ...answers,
    },
    { latest: ['show'] },
  )
  const end = () => {
    for (const take of ofWorker.error) take()
  }
  return { port, tell, told, end }
}

it('gives each question its own answer, in the order they were asked', async () => {
  const { port } = open()
  const order: string[] = []
  const note = (name: string) => (value: unknown) => order.push(`${name} ${value}`)
  await Promise.all([
    port.ask('slowly', { n: 30 }).then(note('slowly')),
    port.ask('double', { n: 4 }).then(note('double')),
    port.ask('slowly', { n: 1 }).then(note('slowly')),
    port.ask('ends', undefined).then(note('ends')),
  ])
  expect(order).toEqual(['slowly 30', 'double 8', 'slowly 1', 'ends undefined'])
})

it('answers with what went wrong, to whoever asked, and goes on', async () => {
  const { port } = open()
  const failed = port.ask('fail', { sentence: 'This picture holds nothing.' })
  const next = port.ask('double', { n: 1 })
  await expect(failed).rejects.toThrow('This picture holds nothing.')
  await expect(next).resolves.toBe(2)
})

it('shows only the newest of what changes many times in one go, and leaves nobody waiting', async () => {
  const show = vi.fn(({ n }: { n: number }) => n)
  const { port } = open({ show })
  const wanted = [1, 2, 3, 4].map((n) => port.ask('show', { n }))
  const other = port.ask('double', { n: 5 })
  expect(await Promise.all(wanted)).toEqual([undefined, undefined, undefined, 4])
  expect(show.mock.calls).toEqual([[{ n: 4 }]])
  await expect(other).resolves.toBe(10)
  await expect(port.ask('show', { n: 5 })).resolves.toBe(5)
})

it('gives buffers away on both ways instead of copying them', async () => {
  const seen: Uint8Array[] = []
  const { port } = open({
    bytes: ({ bytes }) => {
      seen.push(bytes)
      return moved(bytes, [bytes.buffer])
    },
  })
  const bytes = Uint8Array.of(3, 1, 4)
  const answer = port.ask('bytes', { bytes }, [bytes.buffer])
  expect(bytes.byteLength).toBe(0)
  expect([...(await answer)]).toEqual([3, 1, 4])
  expect(seen[0]?.byteLength).toBe(0)
})

it('hears what it did not ask for', async () => {
  const { port, tell, told } = open()
  tell('painted')
  tell('found')
  await port.ask('double', { n: 1 })
  expect(told).toEqual(['painted', 'found'])
})

it('leaves nobody waiting where the worker fails outside of any question, and goes on afterwards', async () => {
  const { port, end } = open()
  await port.ask('double', { n: 1 })
  const asked = port.ask('slowly', { n: 1 })
  end()
  await expect(asked).rejects.toThrow('reload the page')
  await expect(port.ask('double', { n: 3 })).resolves.toBe(6)
})

it('says so at once where the worker never began', async () => {
  const { port, end } = open({ double: () => new Promise(() => undefined) })
  const asked = port.ask('double', { n: 1 })
  end()
  await expect(asked).rejects.toThrow('reload the page')
  await expect(port.ask('double', { n: 1 })).rejects.toThrow('reload the page')
})
