import { expect, it } from 'vitest'
import { defaultRecipe } from '../brush/recipe.ts'
import { type FoundBrush, readEach, Unusable } from './found.ts'

const decoders = { png: async () => [] }
const folder = new Map(
  ['b.ink', 'notes.txt', 'a 10.ink', 'a 2.ink', 'broken.ink'].map((path) => [path, new TextEncoder().encode(path)]),
)
const asked: string[] = []
const read = readEach(['ink'], async (path): Promise<FoundBrush> => {
  asked.push(path)
  if (path === 'broken.ink') throw new Unusable('it is broken')
  return { path, name: path, frames: [], grain: undefined, recipe: defaultRecipe(), files: [path] }
})

it('a folder is looked through in the order of its paths, and says what nothing asks for', async () => {
  const { brushes, ignored, isWhole } = await read(folder, decoders)
  expect(brushes.map(({ path }) => path)).toEqual(['a 2.ink', 'a 10.ink', 'b.ink'])
  expect(ignored.map(({ path, why }) => `${path}: ${why}`)).toEqual([
    'broken.ink: it is broken',
    'notes.txt: nothing asks for it',
  ])
  expect(isWhole).toBe(true)
})

it('or until so many are found: nothing behind them is read, and nothing is said of it', async () => {
  asked.length = 0
  const { brushes, ignored, isWhole } = await read(folder, decoders, 1)
  expect([brushes.length, ignored, isWhole, asked]).toEqual([1, [], false, ['a 2.ink']])
  expect((await read(folder, decoders, 3)).isWhole).toBe(false)
  expect((await read(folder, decoders, 4)).isWhole).toBe(true)
})
