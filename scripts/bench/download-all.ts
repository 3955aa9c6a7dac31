// Downloads from links, so many at once, until its input ends; then tells how many bytes came. A process of its own: what
// it takes must not slow the one that measures.
import { createInterface } from 'node:readline'

const [count = '1', ...links] = process.argv.slice(2)
let bytes = 0
let running = true

async function download(link: string): Promise<void> {
  while (running) {
    const response = await fetch(link)
    if (!response.ok) throw new Error(`${link} answered ${response.status}`)
    if (response.body) for await (const chunk of response.body) bytes += chunk.length
  }
}

const all = Array.from({ length: Number(count) }, (_, n) => download(links[n % links.length]))
createInterface({ input: process.stdin }).once('close', () => {
  running = false
  console.log(bytes)
  process.exit(0)
})
await Promise.all(all)
