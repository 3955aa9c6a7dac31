import { execFileSync } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { encodePng } from '../../node/src/png.ts'
import { openZipFile } from '../../server/src/hand-out/zip-file.ts'
import { compare } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'
import { tipPixels } from './tip-pixels.ts'

export async function zipRows(folder: string): Promise<Row[]> {
  const tips = join(folder, 'tips')
  mkdirSync(tips)
  const png = encodePng(tipPixels(1400, 5))
  const count = Math.ceil((300 * 1024 * 1024) / png.length)
  for (let n = 0; n < count; n++) writeFileSync(join(tips, `${n}.png`), png)
  const ours = async () => {
    const zip = await openZipFile(join(folder, 'ours.zip'))
    for (let n = 0; n < count; n++)
      await zip.add({
        path: `tips/${n}.png`,
        bytes: new Uint8Array(readFileSync(join(tips, `${n}.png`))),
        packing: 'store',
      })
    await zip.sums()
    await zip.finish()
  }
  const reference = () => {
    rmSync(join(folder, 'theirs.zip'), { force: true })
    execFileSync('zip', ['-0', '-q', '-r', join(folder, 'theirs.zip'), 'tips'], { cwd: folder })
  }
  const result = await compare(ours, reference, 5)
  rmSync(tips, { recursive: true })
  return [
    atMost(
      `a zip of 300 MB of tips (${count} files), with checksums, against zip -0`,
      ms(result.ours),
      ms(result.reference),
      result.ratio,
      1.5,
    ),
  ]
}
