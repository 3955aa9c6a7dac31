import { defaultRecipe, type Recipe } from '@satchel/core/brush/recipe'
import { THUMBNAIL_SIZE, type Thumbnail } from '@satchel/core/brush/thumbnail'
import { writeBrushFile } from '@satchel/core/brush-file/write'
import { createPixels, type Pixels } from '@satchel/core/raster/pixels'
import { decodePng, encodePng } from '@satchel/node/png'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { releaseAndDownload } from '../testing/release.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blot, blotPng } from '../testing/tips.ts'

type Brush = {
  id: string
  version: number
  frames: number
  recipe: Recipe
  thumbnail: Thumbnail & { blobSha?: string }
  pictures: { pixelSha: string }[]
  versions: { ordinal: number }[]
}

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, { 'Shore/blot.png': blotPng(1), 'Shore/tuft.png': blotPng(2, 40) })
})
afterAll(() => server.close())

const brushNamed = async (name: string, who = person) => {
  const { brushes } = await who.json<{ brushes: { id: string }[] }>(`/api/brushes?q=${name}`)
  return who.json<Brush>(`/api/brushes/${brushes[0]?.id}`)
}
const pixelsAt = async (path: string, who = person): Promise<Pixels> => {
  const bytes = new Uint8Array(await (await who.request(path)).arrayBuffer())
  return (await decodePng(bytes)).frames[0]?.pixels as Pixels
}
const thumbnailOf = ({ id }: Brush, who = person) => pixelsAt(`/api/brushes/${id}/thumbnail.png`, who)

/** A picture of a thumbnail's size with a grey bar; `grey` 255 makes it blank. */
function barred(grey: number, { width, height } = THUMBNAIL_SIZE): Pixels {
  const pixels = createPixels(width, height, 4)
  pixels.data.fill(255)
  for (let i = 0; i < width * 20; i++) pixels.data.fill(grey, i * 4, i * 4 + 3)
  return pixels
}

const put = ({ id, version }: Brush, thumbnail: Thumbnail, picture?: Uint8Array, who = person) => {
  const body = new FormData()
  body.set('from', String(version))
  body.set('thumbnail', JSON.stringify(thumbnail))
  if (picture) body.set('picture', new Blob([new Uint8Array(picture)], { type: 'image/png' }))
  return who.request(`/api/brushes/${id}/thumbnail`, { method: 'PUT', body })
}

describe('a thumbnail', () => {
  it('is the stroke at first; a region is kept as it was made, and undo brings the stroke back', async () => {
    const brush = await brushNamed('blot')
    expect(brush.thumbnail).toEqual({ from: 'stroke' })
    const stroke = await thumbnailOf(brush)
    expect([stroke.width, stroke.height]).toEqual([THUMBNAIL_SIZE.width, THUMBNAIL_SIZE.height])
    expect((await put(brush, { from: 'region' }, encodePng(barred(90)))).status).toBe(200)
    const after = await brushNamed('blot')
    expect(after).toMatchObject({ version: 2, thumbnail: { from: 'region' } })
    expect(await thumbnailOf(after)).toEqual(barred(90))
    await person.post(`/api/brushes/${brush.id}/version`, { ordinal: 1 })
    expect(await thumbnailOf(brush)).toEqual(stroke)
  })

  it('cannot be blank, damaged, of another size, missing, or a frame that is not there', async () => {
    const brush = await brushNamed('blot')
    const clear = barred(0)
    for (let i = 3; i < clear.data.length; i += 4) clear.data[i] = 0
    const refusals: [Thumbnail, Uint8Array | undefined, RegExp][] = [
      [{ from: 'region' }, encodePng(barred(255)), /It is blank: nothing of it stands out\. Choose another region/],
      [{ from: 'text', text: 'Reed' }, new Uint8Array([1, 2, 3]), /The thumbnail stays as it was/],
      [{ from: 'region' }, encodePng(barred(0, { width: 50, height: 50 })), /360 × 180 px, but is 50 × 50/],
      [{ from: 'region' }, encodePng(clear), /It has to be opaque/],
      [{ from: 'region' }, undefined, /The picture of the thumbnail is missing/],
      [{ from: 'frame', frame: 1 }, undefined, /The tip has no frame 2/],
    ]
    for (const [thumbnail, picture, sentence] of refusals) {
      const response = await put(brush, thumbnail, picture)
      expect(response.status).toBe(422)
      expect(await sentenceOf(response)).toMatch(sentence)
    }
    expect(await brushNamed('blot')).toMatchObject({ version: 1, thumbnail: { from: 'stroke' } })
  })

  it('of a frame shows that frame, also where lists show the tip, and follows the tip', async () => {
    const brush = await brushNamed('blot')
    const stroke = await thumbnailOf(brush)
    await put(brush, { from: 'frame', frame: 0 })
    const framed = await thumbnailOf(brush)
    expect(framed).not.toEqual(stroke)
    await person.post(`/api/brushes/${brush.id}/tip`, { tipFrom: (await brushNamed('tuft')).id, from: 2 })
    expect(await thumbnailOf(brush)).not.toEqual(framed)
  })

  it('goes when the version that had it is written over, and not while another uses it', async () => {
    const stored = async (sha: string) => (await person.request(`/api/pictures/${sha}`)).status
    const brush = await brushNamed('blot')
    await put(brush, { from: 'text', text: 'Reed' }, encodePng(barred(60)))
    await put(await brushNamed('tuft'), { from: 'region' }, encodePng(barred(60)))
    const sha = (await brushNamed('blot')).thumbnail.blobSha ?? ''
    await person.post(`/api/brushes/${brush.id}/version`, { ordinal: 1 })
    await put(brush, { from: 'region' }, encodePng(barred(30)))
    expect((await brushNamed('blot')).versions.map(({ ordinal }) => ordinal)).toEqual([2, 1])
    expect(await stored(sha)).toBe(200)
    const tuft = await brushNamed('tuft')
    await person.post('/api/brushes/bin', { ids: [tuft.id] })
    await person.post('/api/brushes/empty-bin')
    expect(await stored(sha)).toBe(404)
    expect(await thumbnailOf(brush)).toEqual(barred(30))
  })

  it('is refused when the brush has moved on, and then nothing is kept', async () => {
    const brush = await brushNamed('blot')
    await put(brush, { from: 'region' }, encodePng(barred(90)))
    expect((await put(brush, { from: 'region' }, encodePng(barred(91)))).status).toBe(409)
    expect(await thumbnailOf(brush)).toEqual(barred(90))
  })

  it('belongs to one workspace: nobody else sees or changes it', async () => {
    const brush = await brushNamed('blot')
    await put(brush, { from: 'region' }, encodePng(barred(90)))
    const other = await server.owner()
    expect((await other.request(`/api/brushes/${brush.id}/thumbnail.png`)).status).toBe(404)
    expect((await put({ ...brush, version: 2 }, { from: 'stroke' }, undefined, other)).status).toBe(409)
    expect((await brushNamed('blot')).thumbnail.from).toBe('region')
  })

  it('travels in a pack, whatever it is made from, and in copies', async () => {
    await put(await brushNamed('blot'), { from: 'text', text: 'Reed' }, encodePng(barred(60)))
    await put(await brushNamed('tuft'), { from: 'frame', frame: 0 })
    const { id } = await brushNamed('blot')
    await person.post(`/api/brushes/${id}/copy`, { name: 'twin' })
    expect(await thumbnailOf(await brushNamed('twin'))).toEqual(barred(60))
    const download = await releaseAndDownload(server, person)
    const colleague = await server.owner()
    await takeInFiles(colleague, { 'download.zip': download })
    const [theirs, framed] = [await brushNamed('blot', colleague), await brushNamed('tuft', colleague)]
    expect(theirs.thumbnail).toMatchObject({ from: 'text', text: 'Reed' })
    expect(await thumbnailOf(theirs, colleague)).toEqual(barred(60))
    expect(framed.thumbnail).toEqual({ from: 'frame', frame: 0 })
    expect(await thumbnailOf(framed, colleague)).toEqual(await thumbnailOf(await brushNamed('tuft')))
  })
})

describe('a tip of another brush', () => {
  it('takes the place of a brush’s own, as a version that can be undone; the rest stays', async () => {
    const [brush, tuft] = [await brushNamed('blot'), await brushNamed('tuft')]
    const own = brush.pictures
    expect(await person.post(`/api/brushes/${brush.id}/tip`, { tipFrom: tuft.id, from: 1 })).toEqual({ version: 2 })
    expect((await brushNamed('blot')).pictures).toEqual(tuft.pictures)
    const stroke = (version: number) => pixelsAt(`/api/brushes/${brush.id}/stroke.png?version=${version}`)
    expect(await stroke(1)).not.toEqual(await stroke(2))
    await person.post(`/api/brushes/${brush.id}/version`, { ordinal: 1 })
    expect((await brushNamed('blot')).pictures).toEqual(own)
    await person.post(`/api/brushes/${brush.id}/version`, { ordinal: 2 })
    // the tip is the brush's own now: it stays when the other brush goes for good
    await person.post('/api/brushes/bin', { ids: [tuft.id] })
    await person.post('/api/brushes/empty-bin')
    expect((await brushNamed('blot')).pictures).toEqual(tuft.pictures)
    expect(await pixelsAt(`/api/brushes/${brush.id}/stroke.png?version=1`)).toEqual(await stroke(1))
  })

  it('has another number of frames: rules over frames and a thumbnail of one that is gone follow', async () => {
    const frames = [blot(5), blot(6), blot(7)]
    const gih = writeBrushFile('gih', { name: 'flock', recipe: defaultRecipe({ frames: 3 }), frames }).bytes
    await takeInFiles(person, { 'Shore/flock.gih': gih })
    const [flock, tuft] = [await brushNamed('flock'), await brushNamed('tuft')]
    await put(flock, { from: 'frame', frame: 2 })
    await person.post(`/api/brushes/${flock.id}/tip`, { tipFrom: tuft.id, from: 2 })
    const single = await brushNamed('flock')
    expect(single).toMatchObject({ frames: 1, thumbnail: { from: 'stroke' } })
    expect(single.recipe.path.nextFrame.map((rule) => rule.frames)).toEqual([1])
    await person.post(`/api/brushes/${flock.id}/version`, { ordinal: 2 })
    expect(await brushNamed('flock')).toMatchObject({ frames: 3, thumbnail: { from: 'frame', frame: 2 } })
  })

  it('cannot be taken from another workspace', async () => {
    const [brush, other] = [await brushNamed('blot'), await server.owner()]
    await takeInFiles(other, { 'x/one.png': blotPng(5) })
    const swap = { method: 'POST', headers: { 'content-type': 'application/json' } }
    const body = (tipFrom: string) => JSON.stringify({ tipFrom, from: 1 })
    const theirs = await brushNamed('one', other)
    const taken = await person.request(`/api/brushes/${brush.id}/tip`, { ...swap, body: body(theirs.id) })
    const given = await other.request(`/api/brushes/${brush.id}/tip`, { ...swap, body: body(theirs.id) })
    expect([taken.status, given.status]).toEqual([409, 409])
    expect(await brushNamed('blot')).toMatchObject({ version: 1, pictures: brush.pictures })
  })
})
