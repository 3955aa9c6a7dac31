import type { FoundCopies } from '@satchel/core/pack/issued/find-marks'

/** What is asked of the worker that looks into files for whom they were issued to. */
export type CopyQuestions = { find(wish: { file: File }): FoundCopies }
