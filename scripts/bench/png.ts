import sharp from 'sharp'
import { decodePng, encodePng } from '../../node/src/png.ts'
import { compare } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'
import { tipPixels } from './tip-pixels.ts'

export async function pngRows(): Promise<Row[]> {
  const pixels = tipPixels(4096)
  const raw = { width: 4096, height: 4096, channels: 1 as const }
  const byOurs = encodePng(pixels)
  const bySharp = () =>
    sharp(pixels.data, { raw }).toColourspace('b-w').png({ compressionLevel: 6, adaptiveFiltering: true }).toBuffer()
  const theirs = await bySharp()
  const decode = await compare(
    () => decodePng(byOurs),
    () => sharp(byOurs).toColourspace('b-w').raw().toBuffer(),
  )
  const encode = await compare(() => encodePng(pixels), bySharp, 5)
  const kib = (bytes: number) => `${Math.round(bytes / 1024).toLocaleString('en')} KiB`
  return [
    atMost('PNG decode, 4096² grey, against sharp', ms(decode.ours), ms(decode.reference), decode.ratio, 1.1),
    atMost(
      'PNG encode, 4096² grey, against sharp level 6 adaptive',
      ms(encode.ours),
      ms(encode.reference),
      encode.ratio,
      0.6,
    ),
    atMost('its file size', kib(byOurs.length), kib(theirs.length), byOurs.length / theirs.length, 1.1),
  ]
}
