import { shownName, withSource } from './files.ts'
import { openAnyPack } from './pack-brush.ts'
import { EXIT } from './problems.ts'
import { say, sayJson } from './say.ts'

/** Prints the brushes of a pack with their numbers. @returns The exit code. */
export async function list(file: string, { json }: { json: boolean }): Promise<number> {
  const { manifest } = await withSource(file, openAnyPack)
  const setsOf = (id: string) => manifest.sets.filter(({ brushes }) => brushes.includes(id)).map(({ name }) => name)
  const rows = manifest.brushes.map(({ id, name, recipe, frames }, i) => ({
    number: i + 1,
    name,
    sizePx: recipe.mark.sizePx,
    frames: frames.length,
    reading: recipe.colour.reading,
    behaviour: recipe.colour.behaviour,
    sets: setsOf(id),
  }))
  if (json) {
    sayJson(rows)
    return EXIT.done
  }
  say(`${shownName(file)}: "${manifest.title}" ${manifest.release}, ${rows.length} brushes`)
  for (const { number, name, sizePx, frames, reading, sets } of rows) {
    const facts = [
      `${sizePx} px`,
      reading,
      ...(frames > 1 ? [`${frames} frames`] : []),
      ...(sets.length > 0 ? [`in ${sets.join(', ')}`] : []),
    ]
    say(`${String(number).padStart(5)}  ${name} (${facts.join(', ')})`)
  }
  return EXIT.done
}
