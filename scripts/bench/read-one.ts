// Reads one file as the ledger does, in a process of its own, and tells how much memory that took at most.
import { readFileSync } from 'node:fs'
import { readTip } from '../../server/src/workers/read-tip.ts'

const path = process.argv[2]
const result = path ? await readTip({ bytes: new Uint8Array(readFileSync(path)) }) : undefined
// Of this program alone: what `getrusage` tells also counts what the parent had when it began this process.
const peakKib = Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))?.[1])
console.log(JSON.stringify({ outcome: result?.outcome ?? 'nothing', peakKib }))
