import { expect, it } from 'vitest'
import type { Deps } from '../deps.ts'
import { TaskGivenUp } from '../errors.ts'
import { helpOf, layOutNotes, layOutText } from './help-texts.ts'

/** Processes that give up whatever they are asked. */
const tired = {
  workers: { run: () => Promise.reject(new TaskGivenUp('It was given up.')) },
} as unknown as Deps

it('a text that takes for ever is shown, and handed out, as it was written', async () => {
  expect(await layOutText(tired, '*a*')).toEqual([{ tag: 'pre', children: ['*a*'] }])
  const brushes = [{ id: 'reed', name: 'Reed', note: '**b**\n<c>' }] as never
  expect(await layOutNotes(tired, brushes)).toEqual(new Map([['reed', [{ tag: 'pre', children: ['**b**\n<c>'] }]]]))
  const page = await helpOf(tired, { title: 'Marsh', help: '*a*', brushes } as never)
  expect(page).toContain('<pre>*a*</pre>')
  expect(page).toContain('<dt>Reed</dt><dd><pre>**b**\n&lt;c&gt;</pre></dd>')
})

it('a pack that says nothing has no page of it', async () => {
  expect(await helpOf(tired, { title: 'Marsh', help: ' ', brushes: [{ note: '' }] } as never)).toBeUndefined()
})
