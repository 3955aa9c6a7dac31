import { readFileSync, writeFileSync } from 'node:fs'
import { toJsonSchema } from '@valibot/to-json-schema'
import { expect, it } from 'vitest'
import { NAME_MAX_CHARS } from '../limits.ts'
import { hasNameLength } from '../names.ts'
import { PackManifest } from './manifest.ts'

const file = new URL('../../../docs/satchel-pack.schema.json', import.meta.url)

it('the published JSON Schema of pack.json is the one that reads it (UPDATE_SCHEMA=1 writes it)', () => {
  const schema = {
    title: 'Satchel pack, pack.json',
    ...toJsonSchema(PackManifest, {
      errorMode: 'ignore',
      // JSON Schema counts characters as we do; only Valibot's own bound counts otherwise.
      overrideAction: ({ valibotAction, jsonSchema }) =>
        'requirement' in valibotAction && valibotAction.requirement === hasNameLength
          ? { ...jsonSchema, maxLength: NAME_MAX_CHARS }
          : undefined,
    }),
  }
  const text = `${JSON.stringify(schema, null, 2)}\n`
  if (process.env.UPDATE_SCHEMA) writeFileSync(file, text)
  expect(readFileSync(file, 'utf8')).toBe(text)
})
