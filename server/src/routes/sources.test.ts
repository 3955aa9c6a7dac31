import { execFileSync } from 'node:child_process'
import type { Recipe } from '@satchel/core/brush/recipe'
import { joinBytes } from '@satchel/core/formats/bytes'
import { writeGih } from '@satchel/core/formats/gih/write'
import { toUtf8 } from '@satchel/core/formats/text'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { settingsOf, withSettings } from '@satchel/core/make/step-kinds'
import { anyOf, disc, leaf, takePhoto } from '@satchel/core/make/testing'
import type { Plan } from '@satchel/core/make/ways'
import { sphere, toBinaryStl } from '@satchel/core/mesh/testing'
import { encodePng } from '@satchel/node/png'
import sharp from 'sharp'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { gatherFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Made = { part: string; revision: number; brushId: string; name: string; frames: number }
type Source = {
  id: string
  name: string
  plan: Plan
  revision: number
  file: { kind: string; width: number; height: number; blobSha: string }
  made: Made[]
}
type Brush = {
  id: string
  name: string
  version: number
  recipe: Recipe
  tags: string[]
  source: { id: string } | null
  pictures: { width: number; height: number; pixelSha: string }[]
}

const paper = { paint: [50, 46, 44], ground: [226, 221, 210], noise: 4 } as const
const jpeg = ({ picture }: ReturnType<typeof takePhoto>) =>
  sharp(picture.data, { raw: { width: picture.width, height: picture.height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality: 85 })
    .toBuffer()
const leafPhoto = () => jpeg(takePhoto({ width: 413, height: 301, shape: leaf(200, 150, 220, 20), ...paper }))
const sheetPhoto = () =>
  jpeg(
    takePhoto({
      width: 503,
      height: 301,
      shape: anyOf(disc(100, 150, 60), disc(250, 150, 40), disc(400, 150, 50)),
      ...paper,
    }),
  )

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(() => server.close())

const put = (path: string, bytes: Uint8Array, method = 'POST') =>
  person.request(path, { method, body: new Uint8Array(bytes) })
const addSource = async (name: string, bytes: Uint8Array, way = 'picture') => {
  const { id } = (await (await put(`/api/sources?name=${name}&way=${way}`, bytes)).json()) as { id: string }
  return person.json<Source>(`/api/sources/${id}`)
}
const make = async (id: string) => {
  const { jobId } = await person.post<{ jobId: string }>(`/api/sources/${id}/make`)
  await until(async () => {
    const { jobs } = await person.json<{ jobs: { id: string; state: string }[] }>('/api/jobs')
    return !jobs.some((job) => job.id === jobId && ['queued', 'running'].includes(job.state))
  })
  return person.json<Source>(`/api/sources/${id}`)
}
const changePlan = (source: Source, plan: Plan) =>
  person.request(`/api/sources/${source.id}/plan`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ plan, from: source.revision }),
  })
const brushOf = ({ made }: Source, i = 0) => person.json<Brush>(`/api/brushes/${made[i]?.brushId}`)

describe('a source', () => {
  it('is opened with a first guess, and becomes a brush at full size', async () => {
    const source = await addSource('sea_leaf-02.JPG', await leafPhoto())
    expect(source).toMatchObject({
      name: 'sea leaf 02',
      revision: 1,
      made: [],
      file: { kind: 'jpeg', width: 413, height: 301 },
    })
    expect(settingsOf(source.plan.steps, 'tones').white).toBeLessThan(255)
    const made = await make(source.id)
    expect(made.made).toMatchObject([{ part: 'whole', revision: 1, name: 'sea leaf 02' }])
    const brush = await brushOf(made)
    expect(brush.recipe.colour.reading).toBe('dark')
    const [tip] = brush.pictures
    // trimmed to the leaf: 220 px long, turned by 20 degrees
    expect(tip?.width).toBeGreaterThan(200)
    expect(tip?.width).toBeLessThan(215)
    expect(brush.recipe.mark.sizePx).toBe(tip?.width)
    expect(brush.source).toMatchObject({ id: source.id })
  })

  it('makes again under the same brush: the recipe, name and tags stay, and undo brings the old tip back', async () => {
    const first = await make((await addSource('leaf.jpg', await leafPhoto())).id)
    const brush = await brushOf(first)
    const recipe = { ...brush.recipe, path: { ...brush.recipe.path, spacingPct: 61 } }
    await person.post(
      `/api/brushes/${brush.id}`,
      { name: 'Samphire', maker: 'Wren', licence: '', tags: ['marsh'], recipe, from: 1 },
      'PUT',
    )
    const other = await jpeg(takePhoto({ width: 413, height: 301, shape: disc(200, 150, 90), ...paper }))
    const replaced = await put(`/api/sources/${first.id}/file?name=disc.jpg&from=1`, other, 'PUT')
    expect(await replaced.json()).toMatchObject({ revision: 2 })
    const before = await person.json<Source>(`/api/sources/${first.id}`)
    expect(before.made[0]?.revision).toBe(1)
    expect(before.plan).toEqual(first.plan)
    const again = await make(first.id)
    expect(again.made).toMatchObject([{ revision: 2, brushId: brush.id, name: 'Samphire' }])
    const after = await brushOf(again)
    expect(after).toMatchObject({ name: 'Samphire', version: 3, recipe, tags: ['marsh'] })
    expect(Math.abs((after.pictures[0]?.width ?? 0) - 180)).toBeLessThan(4)
    await person.post(`/api/brushes/${brush.id}/version`, { ordinal: 2 })
    expect((await brushOf(again)).pictures).toEqual(brush.pictures)
  })

  it('strokes at first as its mark proposes, or as was chosen', async () => {
    const bar = (x: number, y: number) => (Math.abs(x - 200) < 150 && Math.abs(y - 150) < 22 ? 1 : 0)
    const blade = await jpeg(takePhoto({ width: 413, height: 301, shape: bar, ...paper }))
    const proposed = await make((await addSource('blade.jpg', blade)).id)
    const follows = await person.json<Brush>(`/api/brushes/${proposed.made[0]?.brushId}`)
    expect(follows.recipe.mark.angle.mode).toBe('following')
    const chosen = await addSource('leaf again.jpg', await leafPhoto())
    expect((await changePlan(chosen, { ...chosen.plan, stroke: 'apart' })).status).toBe(200)
    const apart = await person.json<Brush>(`/api/brushes/${(await make(chosen.id)).made[0]?.brushId}`)
    expect([apart.recipe.mark.angle.mode, apart.recipe.path.spacingPct]).toEqual(['fixed', 112])
    expect((await changePlan(chosen, { ...chosen.plan, stroke: 'glitter' as 'apart' })).status).toBe(422)
  })

  it('that gives the same again adds no version', async () => {
    const source = await make((await addSource('leaf.jpg', await leafPhoto())).id)
    await make(source.id)
    expect((await brushOf(source)).version).toBe(1)
  })

  it('changes a reading only where its own changed', async () => {
    const source = await make((await addSource('leaf.jpg', await leafPhoto())).id)
    const light = withSettings(source.plan.steps, 'reading', { reading: 'light' })
    await changePlan(source, { ...source.plan, steps: light })
    const again = await make(source.id)
    const brush = await brushOf(again)
    expect(brush.recipe.colour.reading).toBe('light')
    const recipe = { ...brush.recipe, colour: { ...brush.recipe.colour, reading: 'dark' } }
    await person.post(
      `/api/brushes/${brush.id}`,
      { name: 'x', maker: '', licence: '', tags: [], recipe, from: brush.version },
      'PUT',
    )
    await changePlan(again, { ...again.plan, steps: withSettings(light, 'edge', { softPx: 4 }) })
    expect((await brushOf(await make(source.id))).recipe.colour.reading).toBe('dark')
  })

  it('whose brush lies in the bin makes a new one', async () => {
    const source = await make((await addSource('leaf.jpg', await leafPhoto())).id)
    const brush = await brushOf(source)
    await person.post('/api/brushes/bin', { ids: [brush.id] })
    const again = await make(source.id)
    expect(again.made).toHaveLength(1)
    expect(again.made[0]?.brushId).not.toBe(brush.id)
  })

  it('saves a plan only over the one it was made from', async () => {
    const source = await addSource('leaf.jpg', await leafPhoto())
    const plan = { ...source.plan, steps: withSettings(source.plan.steps, 'edge', { softPx: 3 }) }
    expect((await changePlan(source, plan)).status).toBe(200)
    const late = await changePlan(source, source.plan)
    expect(late.status).toBe(409)
    expect(await sentenceOf(late)).toContain('changed somewhere else')
    const now = await person.json<Source>(`/api/sources/${source.id}`)
    expect(now.plan).toEqual(plan)
    expect((await changePlan(now, { way: 'picture', steps: [] })).status).toBe(422)
  })

  it('shows its picture small, by the file that is meant', async () => {
    const source = await addSource('leaf.jpg', await leafPhoto())
    const shown = await person.request(`/api/sources/${source.id}/preview.png?side=320&sha=${source.file.blobSha}`)
    const { width, height } = await sharp(Buffer.from(await shown.arrayBuffer())).metadata()
    expect([width, height]).toEqual([320, 233])
    expect((await person.request(`/api/sources/${source.id}/preview.png?sha=${'0'.repeat(64)}`)).status).toBe(404)
    expect((await person.request(`/api/sources/${source.id}/preview.png?side=321`)).status).toBe(422)
  })

  it('goes to the bin and comes back; what was made of it stays', async () => {
    const source = await make((await addSource('leaf.jpg', await leafPhoto())).id)
    await person.post(`/api/sources/${source.id}/bin`)
    expect((await person.json<{ sources: Source[] }>('/api/sources')).sources).toEqual([])
    expect((await brushOf(source)).source).toBeNull()
    expect((await person.request(`/api/sources/${source.id}/make`, { method: 'POST' })).status).toBe(409)
    await person.post(`/api/sources/${source.id}/bring-back`)
    expect((await person.json<{ sources: Source[] }>('/api/sources')).sources[0]?.made).toHaveLength(1)
  })

  it('is made of a picture of the library too', async () => {
    const source = await make((await addSource('leaf.jpg', await leafPhoto())).id)
    const { pictures } = await person.json<{ pictures: { blobSha: string }[] }>(
      `/api/brushes/${source.made[0]?.brushId}`,
    )
    const wish = { blobSha: pictures[0]?.blobSha, name: 'Leaf anew' }
    const { id } = await person.post<{ id: string }>('/api/sources/from-picture', wish)
    expect((await make(id)).made).toMatchObject([{ name: 'Leaf anew' }])
  })
})

describe('a sheet', () => {
  it('becomes a brush for each thing on it, and each keeps its own when made again', async () => {
    const source = await make((await addSource('shells.jpg', await sheetPhoto(), 'sheet')).id)
    expect(source.made.map(({ name }) => name)).toEqual(['shells 1', 'shells 2', 'shells 3'])
    const steps = withSettings(source.plan.steps, 'trim', { paddingPx: 3, square: true })
    await changePlan(source, { ...source.plan, steps })
    const again = await make(source.id)
    expect(again.made.map(({ brushId }) => brushId)).toEqual(source.made.map(({ brushId }) => brushId))
    expect((await brushOf(again)).version).toBe(2)
  })

  it('becomes the frames of one brush when asked', async () => {
    const source = await addSource('shells.jpg', await sheetPhoto(), 'sheet')
    if (source.plan.way !== 'sheet') throw new Error('no sheet')
    await changePlan(source, { ...source.plan, objects: { ...source.plan.objects, become: 'frames' } })
    const made = await make(source.id)
    expect(made.made).toMatchObject([{ name: 'shells', frames: 3 }])
    expect((await brushOf(made)).recipe.path.nextFrame).toEqual([{ rule: 'inOrder', frames: 3 }])
  })
})

it('is made of a line of the ledger: of one with several frames, their layers', async () => {
  const gih = writeGih({
    name: 'Dots',
    spacingPct: 100,
    dimensions: [{ rank: 3, rule: 'random' }],
    extra: [],
    frames: [10, 14, 18].map((side, i) => ({
      version: 2 as const,
      name: `dot ${i}`,
      spacingPct: 100,
      width: side,
      height: side,
      channels: 1 as const,
      data: new Uint8Array(side * side).fill(200),
    })),
  })
  const { id } = await gatherFiles(person, { 'dots.gih': gih, 'blot.png': blotPng(4) })
  const { lines } = await person.json<{ lines: { id: string; name: string }[] }>(`/api/gathers/${id}/lines`)
  const plans: Record<string, unknown> = {}
  for (const line of lines) {
    const made = await person.post<{ id: string }>('/api/sources/from-line', { lineId: line.id })
    const { plan, file } = await person.json<Source>(`/api/sources/${made.id}`)
    plans[line.name] = [plan.way, file.kind, file.width]
  }
  expect(plans).toEqual({ Dots: ['layers', 'openraster', 18], blot: ['picture', 'png', expect.any(Number)] })
  const stranger = await server.owner()
  const refused = await stranger.request('/api/sources/from-line', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ lineId: lines[0]?.id }),
  })
  expect(refused.status).toBe(404)
})

it('that would give more tips than can be made at once says so, and gives none', async () => {
  const dots = takePhoto({
    width: 1500,
    height: 1200,
    ...paper,
    noise: 0,
    shape: (x, y) => (x % 25 < 8 && y % 25 < 8 ? 1 : 0),
  })
  const source = await addSource('dots.png', encodePng(dots.picture), 'sheet')
  const { jobId } = await person.post<{ jobId: string }>(`/api/sources/${source.id}/make`)
  const job = await until(async () => {
    const { jobs } = await person.json<{ jobs: { id: string; state: string; error: string | null }[] }>('/api/jobs')
    return jobs.find(({ id, state }) => id === jobId && state === 'failed')
  })
  expect(job.error).toMatch(/^"dots" cannot be made so: Too large: the number of tips .* Choose less of it\.$/)
  expect((await person.json<{ count: number }>('/api/brushes/count')).count).toBe(0)
})

describe('a file with more than a picture in it', () => {
  it('a drawing of layers becomes frames of one brush, hidden ones left out; its file comes back as it was', async () => {
    const bytes = drawing()
    const source = await addSource('crab.ora', bytes, 'layers')
    expect(source.plan).toMatchObject({ way: 'layers', layers: { chosen: [0, 2], become: 'frames' } })
    const made = await make(source.id)
    expect(made.made).toMatchObject([{ name: 'crab', frames: 2 }])
    const file = await person.request(`/api/sources/${source.id}/file?sha=${source.file.blobSha}`)
    expect(new Uint8Array(await file.arrayBuffer())).toEqual(bytes)
    expect((await person.request(`/api/sources/${source.id}/file?sha=${'0'.repeat(64)}`)).status).toBe(404)
  })

  it('several pictures of any kinds become the layers of one drawing, the first one topmost', async () => {
    const zip = new ZipWriter()
    const files: [string, Uint8Array][] = [
      ['1/claw.png', blotPng(1)],
      ['2/leaf.jpg', await leafPhoto()],
      ['3/claw.png', blotPng(2)],
    ]
    const bytes = joinBytes([...files.flatMap(([path, file]) => zip.add(path, file, 'store')), ...zip.finish()])
    const source = await addSource('3 pictures.ora', bytes, 'layers')
    expect(source).toMatchObject({ name: '3 pictures', file: { kind: 'openraster', width: 413, height: 301 } })
    if (source.plan.way !== 'layers') throw new Error('no layers')
    expect(source.plan.layers.chosen).toEqual([0, 1, 2])
    await changePlan(source, { ...source.plan, layers: { chosen: [0, 2], become: 'tips' } })
    const made = await make(source.id)
    expect(made.made.map(({ name }) => name)).toEqual(['3 pictures claw', '3 pictures claw'])
    const second = new ZipWriter()
    const bad = joinBytes([
      ...[...files, ['4/notes.txt', toUtf8('no picture')] as const].flatMap(([path, file], i) =>
        i === 0 ? [] : second.add(path, file, 'store'),
      ),
      ...second.finish(),
    ])
    const refused = await put('/api/sources?name=4 pictures.ora&way=layers', bad)
    expect([refused.status, await sentenceOf(refused)]).toEqual([422, expect.stringContaining('4/notes.txt')])
  })

  it('layers become strips, each laid along the path by a brush of its own; made again, what was tuned stays', async () => {
    const source = await addSource('crab.ora', drawing(), 'layers')
    if (source.plan.way !== 'layers') throw new Error('no layers')
    await changePlan(source, { ...source.plan, layers: { chosen: [0, 2], become: 'strips' } })
    const made = await make(source.id)
    expect(made.made).toHaveLength(2)
    const { recipe, version } = await brushOf(made)
    expect(recipe.path.ribbon).toEqual({ lay: 'repeated', leadInPx: 0, leadOutPx: 0 })
    const { materials } = await person.json<{ materials: unknown[] }>('/api/materials')
    // both layers hold the same pixels: one strip, which both brushes use
    expect(materials).toMatchObject([{ kind: 'strip', uses: 2 }])
    expect((await brushOf(await make(source.id))).version).toBe(version)
  })

  it('a drawing of lines becomes a tip of its own shape, drawn large enough', async () => {
    const svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 12"><circle cx="12" cy="6" r="5"/></svg>'
    const source = await addSource('dot.svg', new TextEncoder().encode(svg))
    expect(source.file).toMatchObject({ kind: 'svg', width: 1024, height: 512 })
    const [tip] = (await brushOf(await make(source.id))).pictures
    expect(Math.abs((tip?.width ?? 0) - 427)).toBeLessThan(4)
    const bad = await put(
      '/api/sources?name=bad.svg',
      new TextEncoder().encode(svg.replace('<circle', '<script/><circle')),
    )
    expect(bad.status).toBe(422)
    expect(await sentenceOf(bad)).toContain('"bad.svg": Not a readable SVG')
  })

  it('a model becomes a tip for each view', async () => {
    const source = await addSource('ball.stl', toBinaryStl(sphere(40, 20)), 'model')
    if (source.plan.way !== 'model') throw new Error('no model')
    const [view] = source.plan.model.views
    if (!view) throw new Error('no view')
    await changePlan(source, {
      ...source.plan,
      model: { ...source.plan.model, sidePx: 200, views: [view, { ...view, far: 0.4 }] },
    })
    const made = await make(source.id)
    expect(made.made.map(({ name }) => name)).toEqual(['ball 1', 'ball 2'])
    expect((await brushOf(made)).recipe.colour.reading).toBe('light')
    expect((await brushOf(made)).pictures[0]?.width).toBe(192)
  })

  it.each([
    ['a photograph as a model', 'leaf.jpg', 'model', 'a model, as OBJ or STL'],
    ['a model as a picture', 'ball.stl', 'picture', 'begin with Model'],
  ])('is refused where the way wants another: %s', async (_what, name, way, sentence) => {
    const bytes = name === 'ball.stl' ? toBinaryStl(sphere(8, 4)) : await leafPhoto()
    const refused = await put(`/api/sources?name=${name}&way=${way}`, bytes)
    expect(refused.status).toBe(422)
    expect(await sentenceOf(refused)).toContain(sentence)
  })
})

/** Two layers that are seen, and one between them that is not. */
function drawing(): Uint8Array {
  const layer = (name: string, more = '') =>
    `<layer name="${name}" src="data/${name}.png" x="${name.length}" y="2"${more}/>`
  const stack = `<image w="90" h="70"><stack>${layer('claw')}${layer('note', ' visibility="hidden"')}${layer('shell')}</stack></image>`
  const zip = new ZipWriter()
  return joinBytes([
    ...zip.add('mimetype', toUtf8('image/openraster'), 'store'),
    ...zip.add('stack.xml', toUtf8(stack), 'deflate'),
    ...['claw', 'note', 'shell'].flatMap((name, i) => zip.add(`data/${name}.png`, blotPng(i + 1), 'store')),
    ...zip.finish(),
  ])
}

describe('a picture of an unusual kind', () => {
  const stripes = (width: number, height: number) =>
    sharp({ create: { width, height, channels: 3, background: '#e0ddd5' } }).composite([
      { input: { create: { width: 20, height: 10, channels: 3, background: '#202020' } }, left: 45, top: 65 },
    ])
  it.each([
    ['CMYK as JPEG', 'cmyk.jpg', () => stripes(120, 180).toColourspace('cmyk').jpeg().toBuffer(), [120, 180]],
    [
      'a turned JPEG',
      'turned.jpg',
      () => stripes(120, 180).jpeg().withMetadata({ orientation: 6 }).toBuffer(),
      [180, 120],
    ],
    ['PNG of 16 bits', 'deep.png', () => stripes(120, 180).toColourspace('rgb16').png().toBuffer(), [120, 180]],
    ['TIFF', 'scan.tif', () => stripes(120, 180).tiff({ compression: 'lzw' }).toBuffer(), [120, 180]],
    ['TIFF of a hundred pages', 'pages.tif', () => pagesOf(100), [120, 180]],
  ])(
    'is opened as one sees it, and becomes the mark that is on it: %s',
    async (_what, name, draw, [width = 0, height = 0]) => {
      const source = await addSource(name, await draw())
      expect(source.file).toMatchObject({ width, height })
      const [tip] = (await brushOf(await make(source.id))).pictures
      // a stripe of 20 to 10, or turned; JPEG softens its edge
      expect(Math.abs(Math.max(tip?.width ?? 0, tip?.height ?? 0) - 20)).toBeLessThanOrEqual(2)
      expect(Math.abs(Math.min(tip?.width ?? 0, tip?.height ?? 0) - 10)).toBeLessThanOrEqual(2)
      expect((tip?.width ?? 0) > (tip?.height ?? 0)).toBe(width < height)
    },
  )

  /** One page after another, each with the same stripe, by python3-pil. */
  async function pagesOf(count: number): Promise<Buffer> {
    const script = `
import sys, io
from PIL import Image
page = Image.open(io.BytesIO(sys.stdin.buffer.read())).convert('RGB')
out = io.BytesIO()
page.save(out, 'TIFF', save_all=True, append_images=[page] * (int(sys.argv[1]) - 1))
sys.stdout.buffer.write(out.getvalue())`
    return execFileSync('/usr/bin/python3', ['-c', script, String(count)], {
      input: await stripes(120, 180).png().toBuffer(),
      maxBuffer: 64 * 1024 * 1024,
    })
  }

  it.each([
    ['huge.png', () => stripes(10_000, 10_000).png({ compressionLevel: 1 }).toBuffer(), 'pixel count'],
    ['cut.jpg', async () => (await leafPhoto()).subarray(0, 900), 'JPEG'],
    [
      'long.png',
      () =>
        sharp({ create: { width: 20_000, height: 4, channels: 3, background: '#fff' } })
          .png()
          .toBuffer(),
      'longer side',
    ],
  ])('is refused by name where it is too large or broken: %s', async (name, draw, sentence) => {
    const refused = await put(`/api/sources?name=${name}`, await draw())
    expect(refused.status).toBe(422)
    expect(await sentenceOf(refused)).toMatch(new RegExp(`^"${name}": .*${sentence}`))
    expect((await person.json<{ sources: Source[] }>('/api/sources')).sources).toEqual([])
  })
})

describe('what is no picture', () => {
  it.each([
    ['notes.txt', new TextEncoder().encode('no picture at all')],
    ['cut.png', blotPng(1).subarray(0, 90)],
  ])('is refused with a sentence, and nothing is kept: %s', async (name, bytes) => {
    const refused = await put(`/api/sources?name=${name}`, bytes)
    expect(refused.status).toBe(422)
    expect(await sentenceOf(refused)).toContain(`"${name}"`)
    expect((await person.json<{ sources: Source[] }>('/api/sources')).sources).toEqual([])
    const { rows } = await server.parts.deps.pool.query('select 1 from blob where workspace_id = $1', [
      person.workspaceId,
    ])
    expect(rows).toEqual([])
  })

  it('does not take the place of one that is', async () => {
    const source = await addSource('leaf.jpg', await leafPhoto())
    expect(
      (await put(`/api/sources/${source.id}/file?name=bad.jpg&from=1`, new Uint8Array([1, 2, 3]), 'PUT')).status,
    ).toBe(422)
    expect(await person.json<Source>(`/api/sources/${source.id}`)).toEqual(source)
  })
})
