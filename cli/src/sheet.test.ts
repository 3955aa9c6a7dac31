import { execFileSync, spawnSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { describe, expect, it } from 'vitest'
import { brush, folder, write } from './testing.ts'

const satchel = fileURLToPath(new URL('../../satchel', import.meta.url))
const run = (...args: string[]) => spawnSync(satchel, args, { encoding: 'utf8' })
const out = (name: string) => join(folder, name)

describe('satchel sheet', () => {
  it('prints a pack, or a download, as a PDF that a reader of PDFs finds sound; twice the same', async () => {
    const pack = await write('shore.zip', [brush('one', { note: '*flat*' }), brush('two')], '1.0.0', true)
    for (const name of ['one.pdf', 'two.pdf'])
      expect(run('sheet', pack, '--out', out(name))).toMatchObject({ status: 0, stderr: '' })
    expect(execFileSync('qpdf', ['--check', out('one.pdf')], { encoding: 'utf8' })).toContain('No syntax')
    const text = execFileSync('pdftotext', [out('one.pdf'), '-'], { encoding: 'utf8' })
    for (const word of ['Shore', 'Reeds', 'Brush one', 'flat', 'Brush two', 'Release 1.0.0'])
      expect(text).toContain(word)
    expect(readFileSync(out('two.pdf')).equals(readFileSync(out('one.pdf')))).toBe(true)
    expect(run('sheet', pack, '--paper', 'letter', '--out', out('letter.pdf')).status).toBe(0)
    expect(execFileSync('pdfinfo', [out('letter.pdf')], { encoding: 'utf8' })).toContain('(letter)')
  })

  it('prints one set as a picture', async () => {
    const pack = await write('one-set.zip', [brush('one')], '1.0.0')
    expect(run('sheet', pack, '--set', 'Reeds', '--out', out('reeds.png'))).toMatchObject({ status: 0, stderr: '' })
    expect(readFileSync(out('reeds.png')).toString('latin1', 1, 4)).toBe('PNG')
  })

  it('says what it cannot do, and writes nothing', async () => {
    const pack = await write('wrong.zip', [brush('one')], '1.0.0')
    const tries = [
      {
        args: [pack, '--out', out('x.pdf'), '--paper', 'foolscap'],
        status: 2,
        says: '--paper takes a4 or letter, not "foolscap".',
      },
      {
        args: [pack, '--out', out('x.pdf'), '--set', 'Sedge'],
        status: 2,
        says: 'No set is called "Sedge". There are "Reeds".',
      },
      { args: [pack, '--out', join(folder, 'none', 'x.pdf')], status: 1, says: 'x.pdf' },
      { args: [pack, '--out', pack], status: 1, says: 'it is the input itself' },
    ]
    for (const { args, status, says } of tries) {
      const { status: code, stderr } = run('sheet', ...args)
      expect([code, stderr]).toEqual([status, expect.stringContaining(says)])
    }
    expect(existsSync(out('x.pdf'))).toBe(false)
    expect(readdirSync(folder).filter((name) => name.includes('partial'))).toEqual([])
  })
})
