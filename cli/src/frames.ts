import { toOpenBrush } from '@satchel/core/brush-file/open-brush'
import { describeAlike, findAlikeFrames } from '@satchel/core/frames/alike-frames'
import { compareFrames, describeFrames, FRAMES_ENOUGH, measureFrame } from '@satchel/core/frames/measure-frames'
import { plainGuess } from './convert.ts'
import { bareName, shownName } from './files.ts'
import { readAnyPicture } from './photos.ts'
import { EXIT } from './problems.ts'
import { say, sayJson } from './say.ts'

/** Tells how the frames of a file stand beside each other. @returns The exit code: bad where one stands out. */
export async function measureFramesOf(file: string, { json }: { json: boolean }): Promise<number> {
  const read = await readAnyPicture(file)
  const { brush } = toOpenBrush(read, { name: bareName(file), guess: plainGuess })
  const facts = brush.frames.map((frame) => measureFrame(frame, brush.recipe.colour.reading))
  const standings = compareFrames(facts)
  const sentences = describeFrames(standings)
  const alike = describeAlike(findAlikeFrames(brush.frames, brush.recipe.colour.reading))
  if (json) {
    const frames = standings.map((standing, i) => ({ frame: i + 1, ...standing, hueDeg: facts[i]?.hueDeg ?? null }))
    sayJson({ file, frames, standOut: sentences, alike })
  } else {
    say(`${shownName(file)}: ${brush.frames.length} frames`)
    for (const sentence of sentences) say(`  ${sentence}`)
    if (sentences.length === 0) say('  They belong together.')
    for (const sentence of alike) say(`  ${sentence}`)
    if (brush.frames.length > 1 && brush.frames.length < FRAMES_ENOUGH)
      say(`  With fewer than ${FRAMES_ENOUGH} a stroke looks repeated.`)
  }
  return sentences.length === 0 ? EXIT.done : EXIT.bad
}
