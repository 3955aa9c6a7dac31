import { FRAME_RULES, PAINT_READINGS } from '@satchel/core/brush/recipe'
import { TARGETS } from '@satchel/core/brush-file/write'
import { Command, CommanderError } from 'commander'
import { CHECK_SECONDS, check } from './check.ts'
import { convert } from './convert.ts'
import { inspect } from './inspect.ts'
import { list } from './list.ts'
import { EXIT, FileProblem, UsageError } from './problems.ts'
import { DEFAULT_SIZE, paintStrokeFile } from './stroke.ts'

/** Set when the command line is built. */
declare const SATCHEL_VERSION: string

const CODES = `
Exit codes: ${EXIT.done} done, ${EXIT.bad} a file is bad or could not be opened, ${EXIT.misuse} the command was not understood.
A file named - is standard input, or standard output where one is written.`

function createProgram(done: (code: number) => void): Command {
  const program = new Command('satchel')
    .description('Looks into brush files and Satchel packs, converts, paints and checks them. Needs no database.')
    .version(SATCHEL_VERSION)
    .configureHelp({ showGlobalOptions: false })
    .addHelpText('after', CODES)
    .exitOverride()
  const command = (usage: string, description: string) =>
    program.command(usage).description(description).addHelpText('after', CODES).exitOverride()

  command('inspect', 'Tells what each file is: kind, name, size, frames, rules, and what is odd about it.')
    .argument('<file...>')
    .option('--json', 'a list in JSON, one entry a file', false)
    .action(async (files: string[], options) => done(await inspect(files, options)))
  command('list', 'Names the brushes of a pack, with the numbers that --brush takes.')
    .argument('<pack>')
    .option('--json', 'a list in JSON, one entry a brush', false)
    .action(async (file: string, options) => done(await list(file, options)))
  command('convert', 'Converts between PNG, animated PNG, GBR and GIH, and says what is left behind.')
    .argument('<in>')
    .argument('<out>')
    .option('--to <kind>', `what to write, one of ${Object.keys(TARGETS).join(', ')} (default: as the extension says)`)
    .option('--spacing <percent>', 'distance between stamps in percent of their width (default: as the file says, or 25)')
    .option('--name <text>', 'what the brush is called (default: as the file says, or the name of the file)')
    .option('--rule <rule>', `how the next frame is picked: ${FRAME_RULES.join(', ')} (default: as the file says)`)
    .option('--reading <reading>', `how pixels become paint: ${PAINT_READINGS.join(', ')} (default: dark for grey, own for colour)`)
    .option('--frame <number>', 'only this frame, counted from 1 (default: all that the kind holds)')
    .option('--force', 'write even over the input', false)
    .action(async (input: string, output: string, options) => done(await convert(input, output, options)))
  command('stroke', 'Paints the gauge strokes, or a path, with a brush of a pack, GBR, GIH or PNG.')
    .argument('<file>')
    .requiredOption('--out <png>', 'the PNG to write')
    .option('--brush <name>', 'which brush of a pack, by its name or its number (default: the only one)')
    .option('--size <WxH>', 'size of the picture in px', DEFAULT_SIZE)
    .option('--path <json>', 'a file with a path of your own: [{"x": px, "y": px, "pressure": 0 to 1, "tiltX": deg, "tiltY": deg, "ms": ms}, ...] (default: the gauge strokes)')
    .option('--recipe <json>', 'a file with the recipe to paint with (default: the one of the brush)')
    .option('--set <field=value...>', 'sets fields of the recipe, for example mark.sizePx=90; may be given several times')
    .option('--colour <rgb>', 'the colour to paint with, like #26415c (default: ink)')
    .option('--ground <rgb>', 'the colour painted on (default: clear)')
    .option('--seed <number>', 'where random draws begin (default: as everywhere)')
    .option('--force', 'write even over the input', false)
    .action(async (file: string, options) => done(await paintStrokeFile(file, options)))
  command('check', 'Verifies a download: archive, checksums, every picture and brush, the pack inside.')
    .argument('<pack>')
    .option('--seconds <number>', 'how long it may take', String(CHECK_SECONDS))
    .action(async (file: string, options) => done(await check(file, options)))
  return program
} // biome-ignore format: one option a line

async function run(args: readonly string[]): Promise<number> {
  let code: number = EXIT.done
  const program = createProgram((result) => {
    code = result
  })
  try {
    if (args.length === 0) {
      program.outputHelp({ error: true })
      return EXIT.misuse
    }
    await program.parseAsync([...args], { from: 'user' })
    return code
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.done : EXIT.misuse
    if (!(error instanceof UsageError || error instanceof FileProblem)) throw error
    console.error(error.message)
    if (error instanceof FileProblem) return EXIT.bad
    console.error(`./satchel ${args[0]} --help tells all options.`)
    return EXIT.misuse
  }
}

// Whoever reads a pipe may stop at any time; there is nobody left then to tell.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(EXIT.done)
  throw error
})

process.exitCode = await run(process.argv.slice(2))
