import { spawnSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { describe, expect, it } from 'vitest'
import { brush, folder, large, small, tips, write } from './testing.ts'

const satchel = fileURLToPath(new URL('../../satchel', import.meta.url))
const diff = (...args: string[]) => spawnSync(satchel, ['diff', ...args], { encoding: 'utf8' })

describe('./satchel diff', () => {
  it('tells what changed between a download and a pack, with sizes of pictures and the step it makes', async () => {
    const before = await write('a.zip', [brush('a'), brush('b'), brush('c')], '1.0.0', true)
    const wider = { ...defaultRecipe({ sizePx: 20 }), path: { ...defaultRecipe().path, spacingPct: 60 } }
    const after = await write(
      'b.zip',
      [brush('b', { name: 'Feather' }), brush('a', { frames: [large!], recipe: wider }), brush('d')],
      '2.0.0',
    )
    const { stdout, status } = diff(before, after)
    expect(status).toBe(0)
    const [sizeA, sizeB] = [tips.get(small!)?.length, tips.get(large!)?.length]
    expect(stdout.split('\n')).toEqual([
      `From ${before} (1.0.0) to ${after} (2.0.0):`,
      '  new      Brush d',
      '  gone     Brush c',
      '  renamed  Brush b -> Feather',
      expect.stringMatching(/^ {2}moved {4}(Feather|Brush a): place \d of Reeds -> place \d$/),
      '  changed  Brush a',
      `             Frames: 1 frame, 8 × 8 px, ${sizeA} bytes -> 1 frame, 12 × 12 px, ${sizeB} bytes`,
      '             Spacing: 25 % -> 60 %',
      'A large step: something is gone or renamed.',
      '',
    ])
    const json = JSON.parse(diff(before, after, '--json').stdout)
    expect(json.brushes.new).toEqual([{ id: 'd', name: 'Brush d' }])
  })

  it('says that two hold the same, and what is none', async () => {
    const one = await write('c.zip', [brush('a')], '1.0.0')
    expect(diff(one, one).stdout).toContain('They hold the same.')
    writeFileSync(join(folder, 'none.zip'), 'no archive')
    const { status, stderr } = diff(one, join(folder, 'none.zip'))
    expect(status).toBe(1)
    expect(stderr).toContain('none.zip')
  })
})
