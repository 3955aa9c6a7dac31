import { readFile } from 'node:fs/promises'
import { FormatError, LimitError } from '@satchel/core/errors'
import { type Inspection, inspectBytes } from './file-brush.ts'

type Told = { file: string } & (Inspection | { error: string })

/** Prints what each file is. @returns The exit code: 1 when any could not be read. */
export async function inspect(files: string[], { json }: { json: boolean }): Promise<number> {
  const told: Told[] = []
  for (const file of files) told.push({ file, ...(await tell(file)) })
  if (json) console.log(JSON.stringify(told.length === 1 ? told[0] : told, null, 2))
  else for (const each of told) console.log(sentence(each))
  return told.some((each) => 'error' in each) ? 1 : 0
}

async function tell(file: string): Promise<Inspection | { error: string }> {
  try {
    return await inspectBytes(new Uint8Array(await readFile(file)))
  } catch (error) {
    if (error instanceof FormatError || error instanceof LimitError) return { error: error.message }
    if (error instanceof Error && 'code' in error) return { error: `It could not be opened: ${error.message}` }
    throw error
  }
}

function sentence(each: Told): string {
  if ('error' in each) return `${each.file}: ${each.error}`
  const { kind, name, width, height, spacing, frames = [], rules = [], warnings } = each
  const parts = [
    kind,
    name && `"${name}"`,
    width && `${width} x ${height} px`,
    frames.length > 1 && `${frames.length} frames`,
    rules.length > 0 && `next frame ${rules.join(', ')}`,
    spacing && `spacing ${spacing} %`,
  ]
  return [`${each.file}: ${parts.filter(Boolean).join(', ')}`, ...warnings.map((warning) => `  ${warning}`)].join('\n')
}
