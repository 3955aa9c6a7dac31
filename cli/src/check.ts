import { readPng } from '@satchel/core/formats/png/read'
import { type CheckStep, checkDownload, type SignedBy } from '@satchel/core/pack/check'
import { hashSource, nodeHashBytes, nodeZipCodecs } from '@satchel/node/hash'
import { checkSignature } from '@satchel/node/signature'
import { shownName, withSource } from './files.ts'
import { EXIT, UsageError } from './problems.ts'
import { say } from './say.ts'

export const CHECK_SECONDS = 10

/** Verifies a download: archive, checksums, every picture and brush file, the pack inside. @returns The exit code. */
export async function check(file: string, { seconds, signer }: { seconds: string; signer?: string }): Promise<number> {
  const limitS = Number(seconds)
  if (!(limitS >= 1 && limitS <= 86_400))
    throw new UsageError(`--seconds takes a number from 1 to 86400, not "${seconds}".`)
  const name = shownName(file)
  return withSource(file, async (source) => {
    const end = performance.now() + limitS * 1000
    const tools = { codecs: nodeZipCodecs, decoders: { png: readPng }, hash: nodeHashBytes, hashSource, checkSignature }
    let problems = 0
    let checked = 0
    let signedBy: SignedBy | undefined
    let last: CheckStep | undefined
    const inside = new Set<string>()
    for await (const step of checkDownload(source, tools)) {
      for (const problem of step.problems) say(`${name}: ${problem}`)
      problems += step.problems.length
      if (step.path === '') [signedBy, last] = [step.signedBy, step]
      else if (step.signedBy) inside.add(step.signedBy.fingerprint)
      checked++
      if (performance.now() > end) {
        const sofar = problems === 0 ? 'nothing wrong was found so far' : `${problems} problems so far`
        say(`${name}: not done within ${limitS} s, at ${step.path}; ${sofar}. Give it longer with --seconds.`)
        return EXIT.bad
      }
    }
    if (signedBy?.isValid) say(`${name}: signed by ${signedBy.fingerprint}.`)
    else if (!signedBy) say(`${name}: nobody has signed it.`)
    if (last?.issued) say(`${name}: issued to ${last.issued.to}, of ${last.issued.of}.`)
    if (last?.releasedBy?.isValid && last.releasedBy.fingerprint !== signedBy?.fingerprint)
      say(`${name}: what was released is signed by ${last.releasedBy.fingerprint}.`)
    const other = [...inside].find((fingerprint) => signedBy && fingerprint !== signedBy.fingerprint)
    if (other !== undefined) {
      say(`${name}: what is inside is signed by another one: ${other}.`)
      problems++
    }
    // a copy that another one issued may hold less than that one gave, be it as it was released
    if (signer !== undefined && problems === 0 && !isOf(signedBy, signer)) {
      say(`${name}: the signer you asked for is another one.`)
      problems++
    }
    say(problems === 0 ? `${name}: ${checked} files, all sound.` : `${name}: ${problems} problems.`)
    return problems === 0 ? EXIT.done : EXIT.bad
  })
}

/** Whether a signature is of the key that somebody was told of, however its fingerprint is grouped. */
const isOf = (signedBy: SignedBy | undefined, wanted: string): boolean =>
  signedBy?.isValid === true &&
  signedBy.fingerprint.replaceAll(' ', '') === wanted.replace(/[^0-9a-f]/gi, '').toLowerCase()
