import { parseArgs } from 'node:util'
import { FormatError, LimitError } from '@satchel/core/errors'
import { check } from './check.ts'
import { convert, UsageError } from './convert.ts'
import { inspect } from './inspect.ts'
import { paintStrokeFile } from './stroke.ts'

const USAGE = `./satchel inspect [--json] FILE...
    what each file is: kind, name, size, frames, rules
./satchel convert IN OUT [--spacing PCT] [--name TEXT] [--rule RULE] [--reading READING]
    between PNG, APNG, GBR and GIH, by extension
    RULE     inOrder random direction pressure speed tiltX tiltY
    READING  dark light alpha own tone
./satchel stroke FILE --out OUT.png [--brush NAME] [--seed N] [--path PATH.json] [--colour #RRGGBB] [--ground #RRGGBB] [--size WxH]
    paints the gauge strokes, or a path, with a brush of a Satchel pack, GBR, GIH or PNG
    PATH.json  [{"x": px, "y": px, "pressure": 0…1, "tiltX": deg, "tiltY": deg, "ms": ms}, …]
./satchel check PACK.zip
    verifies a download: archive, checksums, pictures, the pack inside`

async function run(args: string[]): Promise<number> {
  const { positionals, values } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: 'boolean', default: false },
      spacing: { type: 'string' },
      name: { type: 'string' },
      rule: { type: 'string' },
      reading: { type: 'string' },
      brush: { type: 'string' },
      out: { type: 'string' },
      seed: { type: 'string' },
      path: { type: 'string' },
      colour: { type: 'string' },
      ground: { type: 'string' },
      size: { type: 'string' },
      help: { type: 'boolean', short: 'h', default: false },
    },
  })
  const [command, ...files] = positionals
  if (values.help || command === undefined || command === 'help') {
    console.log(USAGE)
    return command === undefined && !values.help ? 2 : 0
  }
  const [first, second] = files
  switch (command) {
    case 'inspect':
      if (first === undefined) throw new UsageError('inspect needs at least one file.')
      return inspect(files, { json: values.json })
    case 'convert':
      if (first === undefined || second === undefined || files.length > 2)
        throw new UsageError('convert needs two files: what to read and what to write.')
      await convert(first, second, values)
      return 0
    case 'stroke':
      if (first === undefined || files.length > 1) throw new UsageError('stroke needs one file to take the brush from.')
      await paintStrokeFile(first, values)
      return 0
    case 'check':
      if (first === undefined || files.length > 1) throw new UsageError('check needs one file.')
      return check(first)
    default:
      throw new UsageError(`There is no command "${command}".`)
  }
}

run(process.argv.slice(2)).then(
  (code) => {
    process.exitCode = code
  },
  (error: unknown) => {
    const usage =
      error instanceof UsageError ||
      (error instanceof Error && 'code' in error && String(error.code).startsWith('ERR_PARSE_ARGS'))
    if (usage && error instanceof Error) console.error(`${error.message}\n\n${USAGE}`)
    else if (error instanceof FormatError || error instanceof LimitError) console.error(`${error.message}.`)
    else if (error instanceof Error && 'code' in error) console.error(`It could not be opened: ${error.message}`)
    else console.error(error)
    process.exitCode = usage ? 2 : 1
  },
)
