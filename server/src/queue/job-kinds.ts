import * as v from 'valibot'
import type { SatchelEvent } from '../events.ts'

const Uuid = v.pipe(v.string(), v.uuid())

/** Every kind of long task, with what it is told besides its subject. */
export const JOB_KINDS = {
  /** Subject: a ledger. Reads its waiting files. */
  'gather-read': v.strictObject({}),
  /** Subject: the first of the lines. Puts smaller copies in the place of heavy tips. */
  'gather-shrink': v.strictObject({ gatherId: Uuid, lineIds: v.pipe(v.array(Uuid), v.minLength(1)) }),
  /** Subject: a release. Builds its download. */
  'build-release': v.strictObject({}),
  /** Subject: a build of an edition. Builds its download. */
  'build-edition': v.strictObject({}),
  /** Subject: a workspace. Sends its mails that are due. */
  'send-mails': v.strictObject({}),
  /** Subject: a parcel. Makes its file. */
  'make-parcel': v.strictObject({}),
  /** Subject: a workspace. Puts everything of a library file in, which came as a parcel. */
  'give-back': v.strictObject({ parcelId: Uuid }),
  /** Subject: a pack. Measures what its check list wants to know. */
  'check-pack': v.strictObject({}),
  /** Subject: a source. Makes its tips at full size. */
  'make-source': v.strictObject({}),
  /** Subject: a workspace. Measures all of its brushes for all destinations. */
  'fit-all': v.strictObject({}),
  /** Subject: an install. Writes its files, and puts nothing into the folder. */
  'fit-install': v.strictObject({}),
  /** Subject: a workspace. Compares marks of its library that were not compared yet. */
  'compare-marks': v.strictObject({}),
  /** Subject: a workspace. Measures how strokes look that were not measured yet. */
  'measure-looks': v.strictObject({}),
  /** Subject: a release. Sends it to an exchange. */
  'publish-release': v.strictObject({
    ...{ host: v.string(), about: v.string(), notes: v.string() },
    tags: v.array(v.string()),
  }),
} as const

export type JobKind = keyof typeof JOB_KINDS

/** Of what a job that ends has changed how that stands, whether it was done or not. */
export const JOB_TOPICS: { [Kind in JobKind]: SatchelEvent['topic'] } = {
  'gather-read': 'gather',
  'gather-shrink': 'gather',
  'build-release': 'packs',
  'build-edition': 'packs',
  'send-mails': 'packs',
  'make-parcel': 'parcels',
  'give-back': 'library',
  'check-pack': 'packs',
  'make-source': 'sources',
  'fit-all': 'fit',
  'fit-install': 'fit',
  'compare-marks': 'marks',
  'measure-looks': 'looks',
  'publish-release': 'packs',
}

export type JobPayload<Kind extends JobKind> = v.InferOutput<(typeof JOB_KINDS)[Kind]>

/** The payload of a stored job. @throws {v.ValiError} If it is not what its kind is told. */
export const parsePayload = <Kind extends JobKind>(kind: Kind, payload: unknown): JobPayload<Kind> =>
  v.parse(JOB_KINDS[kind], payload) as JobPayload<Kind>
