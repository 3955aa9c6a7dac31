// Reads one file as the ledger does, in a process of its own, and tells how much memory that took at most.
import { readFileSync } from 'node:fs'
import { readTip } from '../../server/src/workers/read-tip.ts'

const path = process.argv[2]
const result = path ? await readTip({ bytes: new Uint8Array(readFileSync(path)) }) : undefined
console.log(JSON.stringify({ outcome: result?.outcome ?? 'nothing', peakKib: process.resourceUsage().maxRSS }))
