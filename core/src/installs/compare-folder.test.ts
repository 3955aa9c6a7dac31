import { expect, it } from 'vitest'
import { findConflicts, findDrift } from './compare-folder.ts'

const file = (path: string, sha256 = path) => ({ path, sha256 })

/** Two installs have put something at one path; the second one's lies there. */
const whose = {
  install: 'A',
  places: new Map([
    [
      'shore/RUSH.png',
      {
        theirs: [],
        claims: [
          { install: 'A', sha256: 'c' },
          { install: 'B', sha256: 'b' },
        ],
      },
    ],
  ]),
}

it('names that are taken are told by what they hold, whatever their case', () => {
  const there = [file('Shore/Reed.png', 'a'), file('shore/RUSH.png', 'b'), file('Else.png')]
  expect(
    findConflicts([file('Shore/Reed.png', 'a'), file('Shore/Rush.png', 'c'), file('Shore/New.png')], there, whose),
  ).toEqual({ same: ['Shore/Reed.png'], other: ['Shore/Rush.png'], by: [{ path: 'Shore/Rush.png', install: 'B' }] })
})

it('what has drifted is told file by file', () => {
  const there = [file('a', '1'), file('b', '9'), file('shore/RUSH.png', 'b')]
  const files = [file('a', '1'), file('b', '2'), file('c', '3'), file('shore/RUSH.png', 'c')]
  expect(findDrift(files, there, whose)).toEqual([
    { path: 'b', state: 'changed' },
    { path: 'c', state: 'gone' },
    { path: 'shore/RUSH.png', state: 'changed', by: 'B' },
  ])
})
