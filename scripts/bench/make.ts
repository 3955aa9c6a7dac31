import { readObj } from '../../core/src/formats/obj/read.ts'
import { mendSeams } from '../../core/src/grain/mend.ts'
import { drawGrain } from '../../core/src/grain/rules.ts'
import { finish } from '../../core/src/make/finish.ts'
import { guessSteps } from '../../core/src/make/guess.ts'
import { findObjects, USUAL_OBJECTS } from '../../core/src/make/sheet/find-objects.ts'
import { settingsOf } from '../../core/src/make/step-kinds.ts'
import { evenGround } from '../../core/src/make/steps/even.ts'
import { toGrey } from '../../core/src/make/steps/grey.ts'
import { trimWork } from '../../core/src/make/steps/trim.ts'
import { StepRunner } from '../../core/src/make/steps.ts'
import { anyOf, disc, takePhoto } from '../../core/src/make/testing.ts'
import { startWork } from '../../core/src/make/work.ts'
import { drawDepth, FRONT_VIEW } from '../../core/src/mesh/depth.ts'
import { sphere, toObj } from '../../core/src/mesh/testing.ts'
import { compare } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'

const SIDE = 2048
const ROUNDS = 5

/** Steps of making beside one plain pass over the same pixels: each read once, and a byte written. */
export async function makeRows(): Promise<Row[]> {
  const shapes = Array.from({ length: 30 }, (_, i) =>
    disc(200 + (i % 6) * 330, 220 + Math.floor(i / 6) * 390, 90 + (i % 4) * 20),
  )
  const { picture } = takePhoto({
    width: SIDE,
    height: SIDE,
    shape: anyOf(...shapes),
    paint: [50, 46, 44],
    ground: [226, 221, 210],
    noise: 4,
    light: (x) => 0.75 + (0.25 * x) / SIDE,
  })
  const steps = guessSteps(picture)
  const start = startWork(picture)
  const { works } = new StepRunner(start).run(steps)
  const [cropped, grey] = works
  const cleared = works[6]
  if (!cropped || !grey || !cleared) throw new Error('steps are missing')
  const plain = () => plainPass(picture.data)
  const row = async (what: string, work: () => unknown, limit: number) => {
    const { ours, reference, ratio } = await compare(work, plain, ROUNDS)
    return atMost(`${what}, ${SIDE}², against a plain pass`, ms(ours), ms(reference), ratio, limit)
  }
  const tile = drawGrain('fibre', { width: SIDE, height: SIDE, pitchPx: 64, size: 0.4, angleDeg: 0 })
  const mesh = sphere(1000, 500)
  const obj = toObj(mesh)
  const depth = await compare(
    () => finish(drawDepth(mesh, FRONT_VIEW, SIDE)),
    () => readObj(obj),
    3,
  )
  return [
    await row('colours to grey', () => toGrey(cropped, settingsOf(steps, 'grey')), 2),
    await row('evening the ground', () => evenGround(grey, settingsOf(steps, 'even')), 12),
    await row('trimming', () => trimWork(cleared, { paddingPx: 0, square: false }), 1.5),
    await row('finding objects', () => findObjects(cleared, USUAL_OBJECTS), 8),
    await row('cutting a seam', () => mendSeams(tile, 'cut'), 6),
    atMost(
      `depth of ${(mesh.triangles.length / 3).toLocaleString('en')} triangles at ${SIDE} px against reading their OBJ`,
      ms(depth.ours),
      ms(depth.reference),
      depth.ratio,
      1,
    ),
  ]
}

function plainPass(data: Uint8Array): Uint8Array {
  const out = new Uint8Array(data.length / 4)
  for (let i = 0, o = 0; o < out.length; i += 4, o++)
    out[o] = (54 * (data[i] ?? 0) + 183 * (data[i + 1] ?? 0) + 19 * (data[i + 2] ?? 0)) >> 8
  return out
}
