import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'

const script = fileURLToPath(new URL('./arrows.mjs', import.meta.url))
let folder
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'arrows-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

/** Runs the check over a small checkout of these files. */
function check(files) {
  for (const [path, content] of Object.entries(files)) {
    mkdirSync(dirname(join(folder, path)), { recursive: true })
    writeFileSync(join(folder, path), content)
  }
  const { status, stdout, stderr } = spawnSync('node', [script, folder], { encoding: 'utf8' })
  return { status, said: stderr.trim().split('\n').filter(Boolean), stdout }
}

describe('the check of imports', () => {
  it('lets through what points the right way: to core, within a feature, types of the server', () => {
    const { status, said } = check({
      'core/src/stroke/stamps.ts': "import { x } from '../brush/recipe.ts'\nimport * as v from 'valibot'\n",
      'web/src/features/tune/ground.tsx':
        "import { y } from './zoom.ts'\nimport { z } from '../../components/button.tsx'\n",
      'web/src/api/client.ts': "import type { Api } from '@satchel/server/api'\n",
      'server/src/db/sets.ts': "import { r } from '@satchel/core/brush/recipe'\n",
    })
    expect({ status, said }).toEqual({ status: 0, said: [] })
  })

  it.each([
    ['core must not know the server', 'core/src/brush/a.ts', "import { x } from '@satchel/server/api'"],
    ['raster knows nothing of strokes', 'core/src/raster/a.ts', "import { x } from '../stroke/stamps.ts'"],
    ['the page takes no value from the server', 'web/src/api/a.ts', "import { app } from '@satchel/server/api'"],
    [
      'only the client’s folder takes its types',
      'web/src/routes/a.tsx',
      "import type { Api } from '@satchel/server/api'",
    ],
    ['a feature knows no other', 'web/src/features/tune/a.ts', "import { x } from '../sort/choice.ts'"],
    ['a worker knows no feature', 'web/src/workers/a.ts', "import { x } from '../features/tune/zoom.ts'"],
    ['components know no domain', 'web/src/components/a.tsx', "import { x } from '@satchel/core/limits'"],
    [
      'nor of a recipe more than its words and numbers',
      'web/src/components/b.tsx',
      "import { x } from '@satchel/core/brush/tone'",
    ],
    ['data knows no feature', 'web/src/data/a.ts', "import { x } from '../features/tune/zoom.ts'"],
    ['what saves ahead knows no feature', 'web/src/ahead/a.ts', "import { x } from '../features/tune/zoom.ts'"],
    [
      'a folder of this computer knows no feature',
      'web/src/real-folder/a.ts',
      "import { x } from '../features/sort/choice.ts'",
    ],
    ['the database knows no route', 'server/src/db/a.ts', "import { x } from '../routes/sets.ts'"],
    ['only the start reads the demo', 'server/src/routes/a.ts', "import { x } from '../demo/seed.ts'"],
    ['the shell knows no server', 'cli/src/a.ts', "import { x } from '../../server/src/app.ts'"],
    ['an import over several lines is one too', 'core/src/brush/b.ts', "import {\n  x,\n} from '../stroke/stamps.ts'"],
    ['what is passed on is imported too', 'core/src/raster/c.ts', "export { x } from '../brush/recipe.ts'"],
  ])('%s', (_, path, line) => {
    const { status, said } = check({ [path]: `${line}\n` })
    expect(status).toBe(1)
    expect(said).toHaveLength(1)
    expect(said[0]).toMatch(`${path} must not import `)
  })

  it('names a circle, of types too, once', () => {
    const { status, said } = check({
      'core/src/brush/a.ts': "import { b } from './b.ts'\n",
      'core/src/brush/b.ts': "import { c } from './c.ts'\n",
      'core/src/brush/c.ts': "import type { A } from './a.ts'\n",
      'core/src/brush/d.ts': "import { a } from './a.ts'\n",
    })
    expect({ status, said }).toEqual({
      status: 1,
      said: ['a circle: core/src/brush/a.ts > core/src/brush/b.ts > core/src/brush/c.ts > core/src/brush/a.ts'],
    })
  })

  it('names a file that no rule covers', () => {
    expect(check({ 'core/src/elsewhere/a.ts': '' }).said).toEqual(['core/src/elsewhere/a.ts: no rule covers it'])
  })
})
