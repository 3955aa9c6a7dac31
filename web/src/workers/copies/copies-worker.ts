import type { ByteSource } from '@satchel/core/formats/zip/layout'
import { findMarks } from '@satchel/core/pack/issued/find-marks'
import { answerAll } from '../port.ts'
import type { CopyQuestions } from './protocol.ts'

/** A file is read where it is looked into: it may be larger than memory. */
const toSource = (file: File): ByteSource => ({
  size: file.size,
  read: async (offset, length) => new Uint8Array(await file.slice(offset, offset + length).arrayBuffer()),
})

answerAll<CopyQuestions>(self, { find: ({ file }) => findMarks(file.name, toSource(file)) })
