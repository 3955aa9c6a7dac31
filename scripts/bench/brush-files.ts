import { readGbr } from '../../core/src/formats/gbr/read.ts'
import { writeGbr } from '../../core/src/formats/gbr/write.ts'
import { readGih } from '../../core/src/formats/gih/read.ts'
import { writeGih } from '../../core/src/formats/gih/write.ts'
import { compare } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'
import { tipPixels } from './tip-pixels.ts'

export async function brushFileRows(): Promise<Row[]> {
  const frame = { version: 2 as const, name: 'b', spacingPct: 20, ...tipPixels(1024) }
  const gbr = writeGbr(frame)
  const gih = writeGih({
    name: 'a',
    spacingPct: 20,
    dimensions: [{ rank: 8, rule: 'random' }],
    frames: Array.from({ length: 8 }, () => frame),
    extra: [],
  })
  const many = (work: () => unknown) => () => {
    for (let n = 0; n < 20; n++) work()
  }
  const one = await compare(
    many(() => readGbr(gbr)),
    many(() => gbr.slice()),
  )
  const eight = await compare(
    many(() => readGih(gih)),
    many(() => gih.slice()),
  )
  return [
    atMost('GBR read, 1024², against a copy of its bytes', ms(one.ours / 20), ms(one.reference / 20), one.ratio, 2),
    atMost(
      'GIH read, 8 frames of 1024², against a copy',
      ms(eight.ours / 20),
      ms(eight.reference / 20),
      eight.ratio,
      2,
    ),
  ]
}
