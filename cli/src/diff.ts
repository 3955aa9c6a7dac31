import { fromUtf8 } from '@satchel/core/formats/text'
import type { ZipEntry } from '@satchel/core/formats/zip/layout'
import { openStoredEntry, readZipEntry } from '@satchel/core/formats/zip/read'
import type { PixelSha } from '@satchel/core/hashes'
import {
  type Contents,
  type Difference,
  differenceOf,
  isSame,
  type PictureFacts,
} from '@satchel/core/releases/difference'
import { stepOf, whyStep } from '@satchel/core/releases/version'
import { nodeZipCodecs } from '@satchel/node/hash'
import { shownName, withSource } from './files.ts'
import { openPackFiles } from './pack-brush.ts'
import { EXIT } from './problems.ts'
import { say, sayJson } from './say.ts'

type Side = { contents: Contents; release: string }

/** Tells what is another in one download, or Satchel pack, than in another. @returns The exit code. */
export async function diff(one: string, other: string, { json }: { json: boolean }): Promise<number> {
  const [before, after] = [await openSide(one), await openSide(other)]
  const difference = differenceOf(before.contents, after.contents)
  if (json) {
    sayJson(difference)
    return EXIT.done
  }
  const name = (file: string, { release }: Side) => `${shownName(file)}${release === '' ? '' : ` (${release})`}`
  say(`From ${name(one, before)} to ${name(other, after)}:`)
  if (isSame(difference)) {
    say('  They hold the same.')
    return EXIT.done
  }
  for (const line of toLines(difference)) say(`  ${line}`)
  say(`A ${stepOf(difference)} step: ${whyStep(difference)}.`)
  return EXIT.done
}

/** What of a difference is told, a line each. */
export function toLines({ facts, brushes, sets, pockets, materials }: Difference): string[] {
  const told = ({ label, from, to }: { label: string; from: string; to: string }) => `${label}: ${from} -> ${to}`
  return [
    ...brushes.new.map(({ name }) => `new      ${name}`),
    ...brushes.gone.map(({ name }) => `gone     ${name}`),
    ...brushes.renamed.map(({ name, from }) => `renamed  ${from} -> ${name}`),
    ...brushes.moved.map(({ name, from, to }) => `moved    ${name}: ${from} -> ${to}`),
    ...brushes.changed.flatMap(({ name, facts: said, parts, pictures }) => [
      `changed  ${name}`,
      ...[...pictures, ...parts, ...said].map((each) => `           ${told(each)}`),
    ]),
    ...sets.new.map((name) => `new      the set ${name}`),
    ...sets.gone.map((name) => `gone     the set ${name}`),
    ...(sets.reordered ? ['moved    the sets follow one another in another order'] : []),
    ...[...facts, ...materials, ...pockets].map((each) => `about    ${told(each)}`),
  ]
}

/** Bytes of a PNG up to its width and height. */
const PNG_HEAD_BYTES = 24

const openSide = (file: string): Promise<Side> =>
  withSource(file, async (source) => {
    const { pack, archive, entries } = await openPackFiles(source)
    const pictures = new Map<PixelSha, PictureFacts>()
    for (const entry of entries) {
      const sha = shaOf(entry)
      const png = sha && (await openStoredEntry(archive, entry))
      if (!sha || !png || png.size < PNG_HEAD_BYTES) continue
      const head = await png.read(0, PNG_HEAD_BYTES)
      const view = new DataView(head.buffer, head.byteOffset, head.byteLength)
      pictures.set(sha, { width: view.getUint32(16), height: view.getUint32(20), sizeBytes: entry.sizeBytes })
    }
    const licence = entries.find(({ path }) => path === 'LICENSE.txt')
    const licenceText = licence && fromUtf8(await readZipEntry(archive, licence, nodeZipCodecs), licence.path, 0)
    const { manifest } = pack
    return { contents: { manifest, pictures, ...(licenceText ? { licenceText } : {}) }, release: manifest.release }
  })

const shaOf = ({ path }: ZipEntry): PixelSha | undefined =>
  /^(?:tips|strips|grains)\/([0-9a-f]{64})\.png$/.exec(path)?.[1] as PixelSha | undefined
