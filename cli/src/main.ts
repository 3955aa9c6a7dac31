import { FRAME_RULES, PAINT_READINGS } from '@satchel/core/brush/recipe'
import { TARGETS } from '@satchel/core/brush-file/write'
import { STAND_INS } from '@satchel/core/destinations/destination'
import { FormatError, LimitError } from '@satchel/core/errors'
import { MENDS } from '@satchel/core/grain/mend'
import { GRAIN_RULES } from '@satchel/core/grain/rules'
import { USUAL_TRACE } from '@satchel/core/trace/trace'
import { Command, CommanderError } from 'commander'
import { CHECK_SECONDS, check } from './check.ts'
import { convert } from './convert.ts'
import { drawDepthFile } from './depth.ts'
import { diff } from './diff.ts'
import { askStandIn, fit, listDestinations } from './fit.ts'
import { measureFramesOf } from './frames.ts'
import { drawGrainFile, makeTile, measureSeamOf } from './grain.ts'
import { inspect } from './inspect.ts'
import { list } from './list.ts'
import { makeOrnament, makeTipFile, splitSheet, writeLayers } from './make.ts'
import { EXIT, FileProblem, toFileProblem, UsageError } from './problems.ts'
import { warn } from './say.ts'
import { DEFAULT_SIZE, paintStrokeFile } from './stroke.ts'
import { traceFile } from './trace.ts'
import { gather } from './workspace/gather.ts'
import { handOut, release } from './workspace/hand-out.ts'
import { listBrushes, measureAll } from './workspace/library.ts'
import { watch } from './workspace/watch.ts'

/** Set when the command line is built. */
declare const SATCHEL_VERSION: string

const PAPER_WORDS = 'what it is printed on, a4 or letter'
const CODES = `
Exit codes: ${EXIT.done} done, ${EXIT.bad} a file is bad or could not be opened, ${EXIT.misuse} the command was not understood.
A file named - is standard input, or standard output where one is written.
./satchel backup FILE and ./satchel restore FILE keep all of a server, and bring it back.`

function createProgram(done: (code: number) => void): Command {
  const program = new Command('satchel')
    .description('Looks into brush files and Satchel packs, converts, paints and checks them. Needs no database.')
    .version(SATCHEL_VERSION)
    .configureHelp({ showGlobalOptions: false })
    .addHelpText('after', CODES)
    .configureOutput({ writeErr: (text) => text.trimEnd().split('\n').forEach(warn) })
    .hook('preAction', (_program, action) => {
      const options = action.opts<Record<string, unknown>>()
      const empty = PLACES.find((place) => options[place] === '')
      if (empty) throw new UsageError(`--${empty} takes a name, and got none.`)
    })
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
  command('check', 'Verifies a download: archive, checksums, every picture and brush, the pack inside, and who has signed it.')
    .argument('<pack>')
    .option('--seconds <number>', 'how long it may take', String(CHECK_SECONDS))
    .option('--signer <fingerprint>', 'by whom it must be signed (default: it is told who has signed it)')
    .action(async (file: string, options) => done(await check(file, options)))
  command('diff', 'Tells what is new, gone, renamed, moved and changed in one download or Satchel pack since another.')
    .argument('<before>')
    .argument('<after>')
    .option('--json', 'the difference in JSON', false)
    .action(async (before: string, after: string, options) => done(await diff(before, after, options)))
  command('sheet', 'Prints every stroke of a pack as a PDF, or one of its sets as a PNG.')
    .argument('<pack>', 'a Satchel pack, or a download')
    .requiredOption('--out <file>', 'the PDF, or PNG, to write')
    .option('--paper <paper>', PAPER_WORDS, 'a4')
    .option('--set <name>', 'only this set (default: all)')
    .option('--force', 'write even over the input', false)
    .action(async (file: string, options) => done(await (await import('./sheet.ts')).printSheet(file, options)))
  command('tip', 'Makes a tip of a photograph, scan or drawing, by the first guess of every step, and tells the steps.')
    .argument('<photo>')
    .requiredOption('--out <png>', 'the PNG to write')
    .option('--steps <json>', 'a file with steps, as --json prints them (default: the first guess)')
    .option('--json', 'the steps and the tip in JSON', false)
    .option('--force', 'write even over the input', false)
    .action(async (file: string, options) => done(await makeTipFile(file, options)))
  command('split', 'Cuts every thing on a sheet out as a tip of its own.')
    .argument('<sheet>')
    .requiredOption('--out <folder>', 'the folder to write into; it is made where there is none')
    .option('--gap <px>', 'marks no farther apart than this belong together (default: only what touches)')
    .option('--order <order>', 'rows or size', 'rows')
    .option('--json', 'the objects in JSON', false)
    .action(async (file: string, options) => done(await splitSheet(file, options)))
  command('layers', 'Writes every layer of an OpenRaster drawing, or every frame of a picture that plays, as a PNG.')
    .argument('<file>')
    .requiredOption('--out <folder>', 'the folder to write into; it is made where there is none')
    .option('--hidden', 'hidden layers, too', false)
    .option('--json', 'the layers in JSON', false)
    .action(async (file: string, options) => done(await writeLayers(file, options)))
  command('ornament', 'Mirrors half a shape, and repeats it around a middle.')
    .argument('<shape>')
    .requiredOption('--out <file>', 'the PNG, or the outline as SVG, to write')
    .option('--count <number>', 'how many', '8')
    .option('--radius <share>', 'how far from the middle, in heights of the shape', '0.15')
    .option('--stretch <factor>', 'how wide, beside its own width', '1')
    .option('--start <degrees>', 'where the first one points, clockwise from up', '0')
    .option('--size <px>', 'side of the ornament', '1024')
    .option('--whole', 'the picture is the whole shape, and not its left half', false)
    .option('--force', 'write even over the input', false)
    .action(async (file: string, options) => done(await makeOrnament(file, options)))
  command('depth', 'Draws the depth of an OBJ or STL: near is light, far is dark.')
    .argument('<mesh>')
    .requiredOption('--out <png>', 'the PNG to write')
    .option('--yaw <degrees>', 'turn about the upright axis', '0')
    .option('--pitch <degrees>', 'turn about the level axis', '0')
    .option('--roll <degrees>', 'turn about the line of sight', '0')
    .option('--zoom <factor>', '1 fits the whole model', '1')
    .option('--near <share>', 'where the depth that is shown begins, 0 to 1', '0')
    .option('--far <share>', 'where it ends, 0 to 1', '1')
    .option('--size <px>', 'side of the picture', '1024')
    .option('--bits <bits>', '8 or 16', '8')
    .option('--json', 'what a circle would cut off, in JSON', false)
    .option('--force', 'write even over the input', false)
    .action(async (file: string, options) => done(await drawDepthFile(file, options)))
  command('grain', 'Draws a grain by a rule; where the pitch does not close on the canvas, the ones that do are told.')
    .argument('<rule>', GRAIN_RULES.join(', '))
    .requiredOption('--pitch <px>', 'from one mark to the next')
    .requiredOption('--canvas <WxH>', 'the tile; one number for a square')
    .option('--mark <share>', 'how large a mark is, of the pitch', '0.5')
    .option('--angle <degrees>', 'turn of the pattern', '0')
    .option('--seed <number>', 'where random draws begin', '1')
    .option('--out <png>', 'the PNG to write (default: only tell whether it closes)')
    .option('--json', 'the answer in JSON', false)
    .action(async (rule: string, options) => done(await drawGrainFile(rule, options)))
  command('tile', 'Makes a grain of a photograph: the part that goes on most as it begins, evenly lit, its seams mended.')
    .argument('<photo>')
    .requiredOption('--out <png>', 'the PNG to write')
    .option('--side <px>', 'about how large, px of the photograph', '512')
    .option('--evenness <share>', 'how far slow changes of light are taken away, 0 to 1', '1')
    .option('--blend', 'its end fades into its beginning; by default it is cut where both differ least', false)
    .option('--json', 'what was taken, and its seams, in JSON', false)
    .option('--force', 'write even over the input', false)
    .action(async (file: string, options) => done(await makeTile(file, options)))
  command('seam', 'Measures how a tile meets itself: its steps over both wraps, and its pitch.')
    .argument('<tile>')
    .option('--json', 'the measures in JSON', false)
    .option('--mend <way>', `mend the seams: ${MENDS.join(', ')}; needs --out`)
    .option('--out <png>', 'the PNG of the mended tile')
    .option('--force', 'write even over the input', false)
    .action(async (file: string, options) => done(await measureSeamOf(file, options)))
  command('frames', 'Measures the frames of an animated tip against each other, and names those that stand out.')
    .argument('<file>')
    .option('--json', 'the measures in JSON', false)
    .action(async (file: string, options) => done(await measureFramesOf(file, options)))
  command('fit', 'Converts brushes for a painting app, and says how like the original what arrives is, and what is left behind.')
    .argument('<pack>', 'a Satchel pack, a download, an open brush or a picture')
    .requiredOption('--to <destination>', `${STAND_INS.join(', ')}, or a file that describes one`)
    .requiredOption('--out <folder>', 'the folder to write into; it is made where there is none')
    .option('--brush <name>', 'one brush, by its name or its number (default: all)')
    .option('--library <name>', 'what the library is called there', 'Satchel')
    .option('--way <question=answer...>', 'answers a question yourself, for example variation=leave (default: what is most alike)')
    .option('--json', 'what becomes of each brush, in JSON', false)
    .action(async (file: string, options) => done(await fit(file, options)))
  command('stand-in', 'Looks into a folder as the simulated app would, and tells which brushes it finds there.')
    .argument('<app>', STAND_INS.join(', '))
    .argument('<folder>')
    .option('--brush <name>', 'which of them paints (default: the first)')
    .option('--stroke <png>', 'the PNG of the gauge strokes that it paints')
    .option('--json', 'what it finds and passes over, in JSON', false)
    .action(async (app: string, folder: string, options) => done(await askStandIn(app, folder, options)))
  command('trace', 'Draws the outlines of a tip or strip as curves, as few as stay close enough, and tells what that costs.')
    .argument('<picture>')
    .requiredOption('--out <svg>', 'the SVG to write')
    .option('--tolerance <px>', 'how far an outline may lie from the pixels', String(USUAL_TRACE.tolerancePx))
    .option('--specks <px2>', 'marks and holes of less than this area are dropped', String(USUAL_TRACE.speckPx))
    .option('--tones <n>', 'layers over one another, so that half coverage stays half', String(USUAL_TRACE.tones))
    .option('--corners <degrees>', 'where the outline turns by more, it keeps a corner', String(USUAL_TRACE.cornerDeg))
    .option('--json', 'anchors, bytes and overlap, and the same for other tolerances, in JSON', false)
    .option('--force', 'write even over the input', false)
    .action(async (file: string, options) => done(await traceFile(file, options)))
  command('destinations', 'Lists what comes with the product, or checks a description of a painting app.')
    .argument('[destination]', 'a name, or a file')
    .option('--json', 'the whole description in JSON', false)
    .option('--schema', 'the JSON Schema of a description', false)
    .action(async (wanted: string | undefined, options) => done(await listDestinations(wanted, options)))

  const there = command('workspace', 'Works in a running workspace, by a token: SATCHEL_AT is where it is, SATCHEL_TOKEN the token.')
  const inWorkspace = (usage: string, description: string) =>
    atWorkspace(there.command(usage).description(description).addHelpText('after', CODES).exitOverride())
  const atWorkspace = (each: Command) =>
    each
      .option('--at <address>', 'where the workspace is, like https://satchel.example (default: SATCHEL_AT)')
      .option('--json', 'the answer in JSON', false)
  inWorkspace('gather', 'Sends files, or all that lies in folders, to the ledger, and waits until they are read.')
    .argument('<path...>')
    .option('--take', 'takes in what is to be taken', false)
    .action(async (paths: string[], options) => done(await gather(paths, options)))
  inWorkspace('list', 'Names its brushes.')
    .option('--find <words>', 'only those that are found by words', '')
    .action(async (options) => done(await listBrushes(options)))
  inWorkspace('fit', 'Measures how like itself each brush arrives at each destination, where that is not known yet.')
    .action(async (options) => done(await measureAll(options)))
  inWorkspace('release', 'Releases a pack, and waits until it is built.')
    .argument('<pack>', 'its title, or its id')
    .argument('<version>', 'like 1.2.0')
    .option('--notes <text>', 'what is new', '')
    .action(async (pack: string, version: string, options) => done(await release(pack, version, options)))
  inWorkspace('hand-out', 'Gives a release to somebody, and prints the link that is theirs.')
    .argument('<pack>', 'its title, or its id')
    .argument('<name>', 'whom it is for')
    .option('--release <version>', 'which one (default: the newest)')
    .action(async (pack: string, name: string, options) => done(await handOut(pack, name, options)))
  const watching = (watcher: Command) =>
    watcher
      .argument('<folder>')
      .option('--name <name>', 'what it is called in the workspace (default: the folder\'s own name)')
      .option('--once', 'ends when all that lies there is settled', false)
      .action(async (folder: string, options) => done(await watch(folder, options)))
  const FOLLOWS = 'Follows a folder: changed files give their brushes new pixels, new ones wait in the ledger.'
  watching(inWorkspace('watch', FOLLOWS))
  watching(atWorkspace(command('watch', `${FOLLOWS} The same as "workspace watch".`)))
  return program
} // biome-ignore format: one option a line

const REPORT = 'Nothing was half written. Tell its makers what was done; SATCHEL_DEBUG=1 shows where it failed.'

/** Options that name a place to write to. */
const PLACES = ['out', 'stroke'] as const

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
    if (error instanceof FormatError || error instanceof LimitError) {
      warn(toFileProblem(args[1] ?? args[0] ?? '', error).message)
      return EXIT.bad
    }
    if (!(error instanceof UsageError || error instanceof FileProblem)) {
      warn(`A fault of this program: ${error instanceof Error ? error.message : String(error)}. ${REPORT}`)
      if (process.env.SATCHEL_DEBUG) throw error
      return EXIT.bad
    }
    warn(error.message)
    if (error instanceof FileProblem) return EXIT.bad
    warn(`./satchel ${args[0]} --help tells all options.`)
    return EXIT.misuse
  }
}

// Whoever reads a pipe may stop at any time; there is nobody left then to tell.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(EXIT.done)
  throw error
})

process.exitCode = await run(process.argv.slice(2))
