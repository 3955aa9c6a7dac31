import type { CopyMark } from '@satchel/core/pack/issued/mark'
import { api, read } from '../api/client.ts'

/** What is known here of marks that were found in files, in their order. */
export const whoseCopies = async (marks: CopyMark[]) =>
  (await read(api.packs['hand-outs'].copies.$post({ json: { marks } }))).copies

export type KnownCopy = Awaited<ReturnType<typeof whoseCopies>>[number]
