import { describe, expect, it } from 'vitest'
import { LedgerRows } from './ledger-rows.ts'

const folder = (name: string, lines: number) => ({ folder: name, lines, taken: 0, pictures: 0 })

describe('the rows of a ledger', () => {
  it('are a head for each folder, then its lines, counted through', () => {
    const rows = new LedgerRows([folder('', 2), folder('Reeds', 1), folder('Dunes', 3)])
    expect(rows.count).toBe(9)
    const told = Array.from({ length: 9 }, (_, row) => {
      const at = rows.at(row)
      return at && ('head' in at ? `(${at.head.folder})` : at.line)
    })
    expect(told).toEqual(['()', 0, 1, '(Reeds)', 2, '(Dunes)', 3, 4, 5])
  })

  it('are none outside, nor of an empty ledger', () => {
    expect(new LedgerRows([]).at(0)).toBeUndefined()
    const rows = new LedgerRows([folder('a', 1)])
    expect([rows.at(-1), rows.at(2)]).toEqual([undefined, undefined])
  })
})
