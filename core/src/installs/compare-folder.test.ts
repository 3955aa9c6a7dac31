import { expect, it } from 'vitest'
import { findConflicts, findDrift } from './compare-folder.ts'

const file = (path: string, sha256 = path) => ({ path, sha256 })

it('names that are taken are told by what they hold, whatever their case', () => {
  const there = [file('Shore/Reed.png', 'a'), file('shore/RUSH.png', 'b'), file('Else.png')]
  expect(
    findConflicts([file('Shore/Reed.png', 'a'), file('Shore/Rush.png', 'c'), file('Shore/New.png')], there),
  ).toEqual({
    ...{ same: ['Shore/Reed.png'], other: ['Shore/Rush.png'] },
  })
})

it('what has drifted is told file by file', () => {
  const there = [file('a', '1'), file('b', '9')]
  expect(findDrift([file('a', '1'), file('b', '2'), file('c', '3')], there)).toEqual([
    { path: 'b', state: 'changed' },
    { path: 'c', state: 'gone' },
  ])
})
