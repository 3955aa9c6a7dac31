import { defaultRecipe } from '@satchel/core/brush/recipe'
import { PACK_VERSION, type PackManifest } from '@satchel/core/pack/manifest'
import { describe, expect, it } from 'vitest'
import { pixelName } from '../testing/tips.ts'
import { licenceText, packReadme } from './pack-texts.ts'

const brush = (id: string): PackManifest['brushes'][number] => ({
  id,
  name: id,
  maker: '',
  licence: '',
  tags: [],
  recipe: defaultRecipe(),
  frames: [pixelName('a')],
  frameNames: [],
  keys: [],
  thumbnail: { from: 'stroke' },
  note: '',
})
const manifest: PackManifest = {
  format: 'satchel-pack',
  version: PACK_VERSION,
  title: 'Marsh',
  maker: 'Ida',
  licence: 'CC0-1.0',
  help: 'Press lightly.',
  release: '1.2.0',
  brushes: [brush('one'), brush('two')],
  grains: [],
  strips: [],
  pockets: [],
  single: [],
  destinations: [],
  sets: [{ name: 'Reeds', brushes: ['one', 'two'] }],
}

describe('the texts of a download', () => {
  it('say what it is, whose, how many, and the maker’s own help', () => {
    const text = packReadme(manifest, { signedBy: '0a1b 2c3d', hasHelp: true, hasSheet: true, apps: ['Apps/Dunlin 3'] })
    expect(text).toMatch(/^Marsh, release 1\.2\.0\nMade by Ida\nLicence: CC0-1\.0\n/)
    expect(text).toContain('2 brushes in 1 sets:\n  Reeds (2)')
    expect(text).toContain('Press lightly.')
    expect(text).toContain('  0a1b 2c3d\n  openssl pkeyutl -verify')
    expect(text).toContain('SHEET.pdf has every stroke')
    expect(text).toContain('what to press:\n  Apps/Dunlin 3\n')
    expect(text.endsWith('\n')).toBe(true)
  })

  it('name single brushes, what it is meant for, and what is said of brushes', () => {
    const [one, ...others] = manifest.brushes
    const text = packReadme(
      {
        ...manifest,
        brushes: [{ ...(one as (typeof manifest.brushes)[number]), note: 'Hold the pen\nflat.' }, ...others],
        single: ['two'],
        destinations: ['Dunlin', 'Plover'],
      },
      { signedBy: '', hasHelp: false, hasSheet: false, apps: [] },
    )
    expect(text).toContain('2 brushes in 1 sets and 1 by themselves:\n  two\n  Reeds (2)')
    expect(text).toContain('Meant for Dunlin, Plover\n')
    expect(text).toContain('Notes\n  one: Hold the pen flat.\n')
  })

  it('leave out what is not there', () => {
    const text = packReadme(
      { ...manifest, maker: '', licence: '', help: ' ' },
      { signedBy: '', hasHelp: false, hasSheet: false, apps: [] },
    )
    expect(text).not.toContain('Made by')
    expect(text).toContain('Licence: see LICENSE.txt')
  })

  it('give the whole licence of the SPDX list, the curator’s own words, or say that there is none', async () => {
    expect(await licenceText('CC0-1.0', '', 'Ida')).toMatch(
      /^Licence: CC0-1\.0\nMaker: Ida\n\n[\s\S]*No Copyright|Creative Commons/,
    )
    expect(await licenceText('own', 'Do as you like.', '')).toBe('Licence: own\n\nDo as you like.\n')
    expect(await licenceText('', '', '')).toContain('No licence text was given')
    // a name that is on no list must not reach the file system
    expect(await licenceText('../../package', '', '')).toContain('No licence text was given')
    expect(await licenceText('constructor', '', '')).toContain('No licence text was given')
  })
})
