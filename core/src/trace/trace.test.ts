import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { areaOf, findContours } from './contours.ts'
import { coverPaths, overlapOf } from './cover-paths.ts'
import { measureDeviation } from './deviation.ts'
import { removeAnchor } from './edit-trace.ts'
import { fitCurves } from './fit-curves.ts'
import { readRibbonBounds } from './ribbon-drawing.ts'
import { type Bitmap, raggedBlob as blob, drawBitmap as draw, dryStroke, toPbm } from './testing.ts'
import {
  coverTraced,
  findOutlines,
  fitOutlines,
  measureOutlines,
  overlapWith,
  sweepDetail,
  toTraceSvg,
  traceCover,
  USUAL_TRACE,
} from './trace.ts'

/** What librsvg's own program paints of a drawing. */
async function paintedBy(svg: string, { width, height }: Bitmap): Promise<Uint8Array> {
  const size = ['-w', `${width}`, '-h', `${height}`, '-b', 'white']
  const png = execFileSync('/usr/bin/rsvg-convert', size, { input: svg, maxBuffer: 64 * 1024 ** 2 })
  const { data } = await sharp(png).greyscale().raw().toBuffer({ resolveWithObject: true })
  return Uint8Array.from(data, (grey) => 255 - grey)
}

describe('contours', () => {
  it('go round a disc with its area, and round a hole the other way', () => {
    const ring = draw(121, 117, (x, y) => {
      const away = Math.hypot(x - 60, y - 58)
      return away < 40 && away > 17
    })
    const [one, other, ...more] = findContours(ring.cover, ring.width, ring.height).sort(
      (a, b) => areaOf(b) - areaOf(a),
    )
    expect(more).toEqual([])
    expect(areaOf(one) / (Math.PI * 40 ** 2)).toBeCloseTo(1, 2)
    expect(areaOf(other) / (Math.PI * 17 ** 2)).toBeCloseTo(-1, 1)
  })

  it('lie between pixels where their values say, and close at the border', () => {
    // a slope of cover: between the middles of two px, 191 and 0, its half lies a third of the way
    const cover = Uint8Array.from({ length: 60 }, (_, i) => Math.max(0, Math.min(255, 255 * (4.75 - (i % 10)))))
    const [ring, ...more] = findContours(cover, 10, 6)
    expect(more).toEqual([])
    const xs = ring.filter((_, i) => i % 2 === 0)
    expect(Math.max(...xs)).toBeCloseTo(4.5 + (191 - 127.5) / 191, 3)
    expect(Math.min(...xs)).toBeGreaterThanOrEqual(0)
  })

  it('enclose just the pixels that are inside, whatever the picture: their signed areas add up', () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 63, maxLength: 63 }), (set) => {
        const cover = Uint8Array.from(set, (each) => (each ? 255 : 0))
        const rings = findContours(cover, 9, 7)
        const sum = rings.reduce((all, ring) => all + areaOf(ring), 0)
        const pixels = set.filter(Boolean).length
        // corners are cut by an eighth of a px each, and filled where pixels meet
        expect(Math.abs(sum - pixels)).toBeLessThanOrEqual(pixels / 2)
        const back = coverPaths(
          rings.map((ring) => fitCurves(ring, 0.01)),
          9,
          7,
        )
        // a px that stands alone is a diamond of half its area
        for (const [i, value] of cover.entries())
          expect(value > 127 ? back[i] : 255 - back[i]).toBeGreaterThanOrEqual(120)
      }),
    )
  })
})

describe('curves', () => {
  it('stay within the tolerance, and a circle needs few of them', () => {
    const disc = draw(331, 329, (x, y) => Math.hypot(x - 165, y - 164) < 150)
    const [ring] = findContours(disc.cover, disc.width, disc.height)
    for (const tolerance of [0.8, 1.2, 2]) {
      const { x, y, curves } = fitCurves(ring, tolerance)
      expect(curves.length / 6).toBeLessThanOrEqual(12)
      let [px, py] = [x, y]
      for (let c = 0; c < curves.length; c += 6) {
        const [x1, y1, x2, y2, x3, y3] = curves.subarray(c, c + 6)
        for (let i = 0; i <= 20; i++) {
          const [u, v] = [i / 20, 1 - i / 20]
          const qx = v ** 3 * px + 3 * u * v * v * x1 + 3 * u * u * v * x2 + u ** 3 * x3
          const qy = v ** 3 * py + 3 * u * v * v * y1 + 3 * u * u * v * y2 + u ** 3 * y3
          // the line itself lies within 0.71 px of the circle
          expect(Math.abs(Math.hypot(qx - 165, qy - 164) - 150)).toBeLessThan(1.4 * tolerance + 0.75)
        }
        ;[px, py] = [x3, y3]
      }
    }
  })

  it('keep a corner a corner', () => {
    const square = draw(93, 97, (x, y) => x > 20 && x < 70 && y > 25 && y < 80)
    const traced = traceCover(square.cover, square.width, square.height, USUAL_TRACE)
    expect(traced.anchors).toBeLessThanOrEqual(8)
    expect(overlapWith(traced, square.cover, 127.5)).toBeGreaterThan(0.99)
  })

  it('drop specks and fill pinholes below an area', () => {
    const dirty = draw(160, 90, (x, y) => {
      if (Math.hypot(x - 140, y - 20) < 2) return true
      return Math.hypot(x - 60, y - 45) < 40 && Math.hypot(x - 60, y - 45) > 1.5
    })
    const count = (speckPx: number) =>
      traceCover(dirty.cover, 160, 90, { ...USUAL_TRACE, speckPx }).tones[0]?.paths.length
    expect([count(1), count(10), count(40)]).toEqual([3, 2, 1])
  })
})

describe('a traced picture', () => {
  it('covers for librsvg what our own filling says, and what the bitmap holds', async () => {
    const picture = blob(500)
    const traced = traceCover(picture.cover, 500, 500, USUAL_TRACE)
    const painted = await paintedBy(toTraceSvg(traced), picture)
    expect(overlapOf(painted, coverTraced(traced))).toBeGreaterThan(0.997)
    expect(overlapOf(painted, picture.cover)).toBeGreaterThan(0.98)
  })

  it('has fewer anchors the more it may deviate, and then less of the picture', () => {
    const { cover, width, height } = blob(400)
    const details = sweepDetail(findOutlines(cover, width, height, USUAL_TRACE), cover, USUAL_TRACE)
    for (const [i, { anchors, bytes, overlap }] of details.entries()) {
      const next = details[i + 1]
      if (!next) break
      expect(anchors).toBeGreaterThan(next.anchors)
      expect(bytes).toBeGreaterThan(next.bytes)
      expect(overlap).toBeGreaterThan(next.overlap - 0.0005)
    }
    expect(details[0]?.overlap).toBeGreaterThan(0.985)
  })

  it('keeps half coverage half in several tones, as librsvg paints it', async () => {
    const [width, height] = [220, 90]
    const cover = Uint8Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)]
      const away = Math.hypot(x - 110, y - 45)
      return away > 42 ? 0 : Math.round(255 * Math.max(0.2, 1 - away / 42))
    })
    const overlaps: number[] = []
    for (const tones of [1, 2, 4, 6]) {
      const traced = traceCover(cover, width, height, { ...USUAL_TRACE, tones })
      const painted = await paintedBy(toTraceSvg(traced), { cover, width, height })
      expect(overlapOf(painted, coverTraced(traced)), `${tones} tones`).toBeGreaterThan(0.985)
      overlaps.push(overlapOf(cover, painted))
    }
    for (const [i, overlap] of overlaps.entries()) if (i > 0) expect(overlap).toBeGreaterThan(overlaps[i - 1] ?? 1)
    // six steps are off by a twenty-fourth on average, of about a third that is covered
    expect(overlaps[3]).toBeGreaterThan(0.88)
  })

  it('has far fewer anchors and bytes than the outline of the pixels', () => {
    const { cover, width, height } = blob(400)
    const outlines = findOutlines(cover, width, height, USUAL_TRACE)
    const before = measureOutlines(outlines)
    const after = fitOutlines(outlines, USUAL_TRACE)
    expect(before.anchors).toBeGreaterThan(3 * after.anchors)
    expect(before.bytes).toBeGreaterThan(1.2 * toTraceSvg(after).length)
  })

  it('keeps more corners the less a joint may turn without one', () => {
    const { cover, width, height } = blob(300)
    const outlines = findOutlines(cover, width, height, USUAL_TRACE)
    const [sharp, soft] = [0, 120].map((cornerDeg) => toTraceSvg(fitOutlines(outlines, { tolerancePx: 2, cornerDeg })))
    expect(sharp).not.toBe(soft)
    const turns = (cornerDeg: number) => {
      let count = 0
      for (const { paths } of fitOutlines(outlines, { tolerancePx: 2, cornerDeg }).tones)
        for (const { curves } of paths)
          for (let c = 0; c + 12 <= curves.length; c += 6) {
            const [ax, ay] = [curves[c + 4] - curves[c + 2], curves[c + 5] - curves[c + 3]]
            const [bx, by] = [curves[c + 6] - curves[c + 4], curves[c + 7] - curves[c + 5]]
            const cosine = (ax * bx + ay * by) / (Math.hypot(ax, ay) * Math.hypot(bx, by))
            if (cosine < Math.cos((10 * Math.PI) / 180)) count++
          }
      return count
    }
    expect(turns(120)).toBeLessThan(turns(0))
  })

  it('loses one anchor at a time, each of them, and a shape of two goes', () => {
    const { cover, width, height } = draw(140, 90, (x, y) => Math.hypot((x - 70) / 1.4, y - 45) < 40)
    const outlines = findOutlines(cover, width, height, USUAL_TRACE)
    const traced = fitOutlines(outlines, { tolerancePx: 0.5 })
    const count = traced.anchors
    for (let curve = 0; curve < count; curve++) {
      const fewer = removeAnchor(traced, { tone: 0, path: 0, curve })
      expect(fewer.anchors).toBe(count - 1)
      // it stays closed, and keeps nearly all of the shape: a curve goes round a quarter of an ellipse well
      const [{ x, y, curves } = { x: 0, y: 0, curves: new Float64Array() }] = fewer.tones[0]?.paths ?? []
      expect([curves[curves.length - 2], curves[curves.length - 1]]).toEqual([x, y])
      expect(overlapWith(fewer, cover, 127.5), `without ${curve}`).toBeGreaterThan(0.93)
    }
    let rest = traced
    while (rest.anchors > 2) rest = removeAnchor(rest, { tone: 0, path: 0, curve: rest.anchors - 1 })
    expect(removeAnchor(rest, { tone: 0, path: 0, curve: 0 })).toMatchObject({ anchors: 0, tones: [{ paths: [] }] })
    expect(() => removeAnchor(traced, { tone: 0, path: 0, curve: count })).toThrow(RangeError)
  })

  it('says how far it deviates: as far as it may, and farther once anchors are taken away', () => {
    const { cover, width, height } = blob(260)
    const outlines = findOutlines(cover, width, height, USUAL_TRACE)
    const deviations = [0.35, 1, 2.8].map((tolerancePx) =>
      measureDeviation(outlines, fitOutlines(outlines, { tolerancePx })),
    )
    // joints that were made smooth may lie 1.4 tolerances off; curves are measured as straight pieces
    for (const [i, tolerance] of [0.35, 1, 2.8].entries())
      expect(deviations[i]).toBeLessThanOrEqual(1.4 * tolerance + 0.2)
    expect(deviations[2]).toBeGreaterThan(deviations[0] ?? 9)
    // by hand: a square's corner that goes is as far off as the curve that cuts it
    const square = draw(60, 60, (x, y) => x >= 10 && x < 50 && y >= 10 && y < 50)
    const lines = findOutlines(square.cover, 60, 60, USUAL_TRACE)
    const whole = fitOutlines(lines, { tolerancePx: 0.75, cornerDeg: 0 })
    expect(measureDeviation(lines, whole)).toBeLessThan(1)
    let cut = whole
    while (cut.anchors > 2) cut = removeAnchor(cut, { tone: 0, path: 0, curve: 0 })
    expect(measureDeviation(lines, cut)).toBeGreaterThan(5)
    // nothing is left: the distance has no end
    expect(measureDeviation(lines, removeAnchor(cut, { tone: 0, path: 0, curve: 0 }))).toBe(Number.POSITIVE_INFINITY)
  })

  it('as a ribbon tells its bounds, which come back scaled to what was drawn of it', () => {
    const traced = traceCover(blob(100).cover, 100, 100, USUAL_TRACE)
    const svg = toTraceSvg(traced, { lay: 'repeated', leadInPx: 20, leadOutPx: 12 })
    const attributes = Object.fromEntries(
      [...svg.matchAll(/ ([\w-]+)="([^"]*)"/g)].slice(0, 7).map(([, key, value]) => [key, value]),
    )
    expect(readRibbonBounds(attributes, 200)).toEqual({ lay: 'repeated', leadInPx: 40, leadOutPx: 24 })
    expect(readRibbonBounds({ ...attributes, 'data-lead-in': '95' }, 200)).toBeUndefined()
    expect(readRibbonBounds({ ...attributes, 'data-lead-in': 'x' }, 200)).toBeUndefined()
    expect(readRibbonBounds({ viewBox: '0 0 100 100' }, 200)).toBeUndefined()
  })

  it('is empty where nothing is', () => {
    const traced = traceCover(new Uint8Array(400), 20, 20, USUAL_TRACE)
    expect([traced.anchors, toTraceSvg(traced)]).toEqual([0, expect.not.stringContaining('<path')])
  })

  it.each([
    ['a blob of 1024 x 1024', blob],
    ['a dry stroke of 2400 x 400', dryStroke],
  ])('has no more anchors than potrace gives at the same overlap: %s', async (_, make) => {
    const picture = make()
    const { width, height, cover } = picture
    const folder = mkdtempSync(join(tmpdir(), 'trace-'))
    writeFileSync(join(folder, 'in.pbm'), toPbm(picture))
    execFileSync('/usr/bin/potrace', ['-s', '-t', '4', '-o', join(folder, 'out.svg'), join(folder, 'in.pbm')])
    const theirs = readFileSync(join(folder, 'out.svg'), 'utf8')
    const overlap = overlapOf(cover, await paintedBy(theirs, picture))
    const anchors = countAnchors(theirs)
    const outlines = findOutlines(cover, width, height, USUAL_TRACE)
    // as coarse as may be, and still of no less overlap, by the same painter
    let ours = Number.POSITIVE_INFINITY
    for (const tolerance of [0.4, 0.5, 0.6, 0.7, 0.8]) {
      const traced = fitOutlines(outlines, { tolerancePx: tolerance })
      if (overlapOf(cover, await paintedBy(toTraceSvg(traced), picture)) >= overlap)
        ours = Math.min(ours, traced.anchors)
    }
    expect(overlap).toBeGreaterThan(0.9)
    expect(ours).toBeLessThanOrEqual(anchors)
  })
})

/** Ends of lines and curves in the paths of a drawing. */
function countAnchors(svg: string): number {
  let count = 0
  for (const [, data = ''] of svg.matchAll(/ d="([^"]*)"/g))
    for (const [, kind = '', numbers = ''] of data.matchAll(/([a-zA-Z])([^a-zA-Z]*)/g)) {
      const values = numbers.match(/-?[\d.]+/g)?.length ?? 0
      if (/[cC]/.test(kind)) count += values / 6
      if (/[lL]/.test(kind)) count += values / 2
    }
  return count
}
